"""What an API's page says besides: requests, answers, messages, schemas."""

from __future__ import annotations

import msgspec

from zarbek.client.values.pieces import Piece


class Followup(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """What a server may call back, or send later: an operation that the reader offers."""

    name: str
    html: str = ""
    target: str = ""
    href: str = ""
    values: dict[str, str] = {}


class Example(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """made: whether it was made from the schema, for none was written. faults: why it does not fit."""

    name: str = ""
    text: str = ""
    html: str
    raw: str
    made: bool = False
    faults: list[str] = []


class Row(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """One line of a schema's tree. label: words in place of a name. folds: closed until asked for."""

    depth: int
    name: str = ""
    label: str = ""
    type: list[Piece]
    required: bool = False
    deprecated: bool = False
    words: list[str] = []
    html: str = ""
    example: str = ""
    anchor: str = ""
    folds: bool = False


class Media(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """One form of a body, by its media type, with examples."""

    type: str
    name: str = ""
    rows: list[Row]
    examples: list[Example]


class Slot(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """value: the example that the form begins with."""

    name: str
    place: str
    type: list[Piece]
    required: bool = False
    deprecated: bool = False
    words: list[str] = []
    html: str = ""
    value: str = ""
    choices: list[str] = []
    href: str = ""


class Answer(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """words: what the status means by RFC 9110. href: of the shared answer that it is."""

    status: str
    words: str = ""
    html: str = ""
    headers: list[Slot] = []
    media: list[Media] = []
    followups: list[Followup] = []
    href: str = ""


class Body(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A request's or answer's body; required: whether it must be there."""

    html: str = ""
    required: bool = False
    media: list[Media] = []


class Need(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """words: a sentence. field, place: where a secret goes."""

    scheme: str
    words: str
    html: str = ""
    scopes: list[str] = []
    place: str = ""
    field: str = ""


class OperationLink(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """text: plain words; html: what is said of it."""

    name: str
    href: str
    kind: str = ""
    text: str = ""
    html: str = ""
    deprecated: bool = False


class Snippet(msgspec.Struct, frozen=True, kw_only=True):
    """language: of the highlighter. label: what readers choose by."""

    label: str
    language: str
    text: str


class Operation(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """security: any one of the lists suffices. servers: those that can be tried stand first;
    callable: which of them the project allows."""

    method: str
    path: str
    id: str = ""
    tags: list[str] = []
    incoming: bool = False
    parameters: list[Slot] = []
    body: Body | None = None
    answers: list[Answer] = []
    security: list[list[Need]] | None = None
    servers: list[str] = []
    callable: list[str] = []
    callbacks: list[OperationLink] = []
    snippets: list[Snippet] = []


class Particle(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A node of the content model's drawing. times: how often, in words."""

    kind: str
    name: str = ""
    href: str = ""
    type: str = ""
    times: str = ""
    optional: bool = False
    many: bool = False
    parts: list[Particle] = []


class OperationGroup(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """Operations of one tag; total counts those that are not listed here, too."""

    name: str
    html: str = ""
    total: int = 0
    operations: list[OperationLink] = []


class Service(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """An API as a whole: its servers, and its operations or messages by group."""

    standard: str
    version: str = ""
    terms: str = ""
    contact: dict[str, str] = {}
    licence: dict[str, str] = {}
    servers: list[OperationLink] = []
    schemes: list[Need] = []
    headers: list[Slot] = []
    groups: list[OperationGroup] = []
    documents: dict[str, str] = {}


class Interface(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """sides: in which directions callers meet a schema, in words."""

    operation: Operation | None = None
    service: Service | None = None
    rows: list[Row] = []
    examples: list[Example] = []
    content: Particle | None = None
    slot: Slot | None = None
    answer: Answer | None = None
    facets: dict[str, str] = {}
    sides: str = ""
    evidence: str = ""
    source: str = ""
    used_by: list[OperationLink] = []


class ListedOperation(msgspec.Struct, frozen=True, kw_only=True):
    """html: the summary as it is shown."""

    path: str
    method: str
    address: str
    summary: str
    html: str
    tags: list[str]
    deprecated: bool
