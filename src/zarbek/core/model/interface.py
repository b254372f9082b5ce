"""What an interface description says of an element: operations, messages, schemas, content models.

Schemas are in one normal form, whatever they were written in: JSON Schema 2020-12, in which a
``$ref`` is ``api:PATH`` for a symbol of the same project, ``api:PATH#POINTER`` for a part of one, or
the absolute URI of a schema elsewhere.
"""

from __future__ import annotations

from typing import Any

import msgspec

Schema = dict[str, Any]


class Example(msgspec.Struct, frozen=True, omit_defaults=True):
    """A written example. content: JSON or other text, as a reader would send or receive it."""

    content: str
    name: str = ""
    text: str = ""


class NamedValue(msgspec.Struct, frozen=True, omit_defaults=True):
    """A named value beside a body. place: ``path``, ``query``, ``header``, ``cookie`` or
    ``querystring``; ref: path of the shared parameter that it is, or empty."""

    name: str
    place: str
    schema: Schema = {}
    text: str = ""
    required: bool = False
    deprecated: bool = False
    style: str = ""
    explode: bool = True
    media_type: str = ""
    examples: list[Example] = []
    ref: str = ""


class Media(msgspec.Struct, frozen=True, omit_defaults=True):
    """One form of a body. type: media type (RFC 6838); name: of the message, where it has one."""

    type: str
    schema: Schema = {}
    examples: list[Example] = []
    name: str = ""


class Body(msgspec.Struct, frozen=True, omit_defaults=True):
    """The body of a request. media: by media type. ref: the shared body that it is, or empty."""

    media: list[Media]
    text: str = ""
    required: bool = False
    ref: str = ""


class OperationLink(msgspec.Struct, frozen=True, omit_defaults=True):
    """What can be done with an answer. target: path of the operation, or its id as written."""

    name: str
    target: str
    text: str = ""
    values: dict[str, str] = {}


class Answer(msgspec.Struct, frozen=True, omit_defaults=True):
    """status: a code, a range such as ``4XX``, or ``default`` (RFC 9110, section 15)."""

    status: str
    text: str = ""
    headers: list[NamedValue] = []
    media: list[Media] = []
    followups: list[OperationLink] = []
    ref: str = ""


class SecurityRequirement(msgspec.Struct, frozen=True, omit_defaults=True):
    """scheme: name of a security scheme of the same description."""

    scheme: str
    scopes: list[str] = []


class Server(msgspec.Struct, frozen=True, omit_defaults=True):
    """url: absolute, or relative to where the description is served; variables: name to default."""

    url: str
    text: str = ""
    variables: dict[str, str] = {}


class SecurityScheme(msgspec.Struct, frozen=True, omit_defaults=True):
    """words: how a caller proves who he is, as a sentence. place, field: where it goes."""

    name: str
    type: str
    words: str
    text: str = ""
    place: str = ""
    field: str = ""
    scopes: dict[str, str] = {}


class Operation(msgspec.Struct, frozen=True, omit_defaults=True):
    """One thing that can be asked for, or one message that is sent.

    method: of HTTP in capitals, ``webhook`` methods too, or ``SEND`` and ``RECEIVE`` for messages.
    path: template, or address of a channel. security: any one of the lists suffices, all needs of
    it together; None where nothing is said. callbacks: paths of operations that are called back.
    incoming: whether the service calls its user (webhooks, callbacks).
    """

    method: str
    path: str
    id: str = ""
    tags: list[str] = []
    parameters: list[NamedValue] = []
    body: Body | None = None
    answers: list[Answer] = []
    security: list[list[SecurityRequirement]] | None = None
    servers: list[Server] = []
    callbacks: list[str] = []
    incoming: bool = False


class Listed(msgspec.Struct, frozen=True, array_like=True):
    """One operation in its API's list. path: of its symbol; address: method and path as callers see them."""

    path: str
    address: str
    tag: str = ""
    incoming: bool = False


class Service(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a description says of itself. standard: name and version of its format. headers: those
    that all of its operations take."""

    standard: str
    version: str = ""
    terms: str = ""
    contact: dict[str, str] = {}
    licence: dict[str, str] = {}
    servers: list[Server] = []
    schemes: list[SecurityScheme] = []
    tags: dict[str, str] = {}
    headers: list[NamedValue] = []
    documents: dict[str, str] = {}
    operations: list[Listed] = []


class Particle(msgspec.Struct, frozen=True, omit_defaults=True):
    """A part of a content model (XML Schema 1.1 part 1, section 2.2.3).

    kind: ``sequence``, ``choice``, ``all``, ``element``, ``any`` or ``group``. target: path of the
    symbol that it names. most: -1 for any number.
    """

    kind: str
    name: str = ""
    target: str = ""
    type: str = ""
    least: int = 1
    most: int = 1
    parts: list[Particle] = []


class Interface(msgspec.Struct, frozen=True, omit_defaults=True):
    """evidence: what an inferred schema was inferred from, empty for a declared one.
    source: the declaration as it was written, where readers of the language expect to see it."""

    operation: Operation | None = None
    service: Service | None = None
    schema: Schema | None = None
    content: Particle | None = None
    slot: NamedValue | None = None
    answer: Answer | None = None
    examples: list[Example] = []
    evidence: str = ""
    source: str = ""
