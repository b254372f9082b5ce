"""What the page of an operation, a schema or an API holds besides what all symbols have."""

from __future__ import annotations

import msgspec
from msgspec import UNSET

from zarbek.core.requests.code_snippets import Snippet
from zarbek.core.writing.html import SafeHtml
from zarbek.core.writing.type_text import Piece
from zarbek.service.common.html import HtmlHolder, OptionalHtml


class RowView(HtmlHolder, omit_defaults=True, kw_only=True):
    """One line of a schema's tree. label: words in place of a name. folds: closed until asked for."""

    depth: int
    name: str = ""
    label: str = ""
    type: list[Piece]
    required: bool = False
    deprecated: bool = False
    words: list[str] = []
    html: OptionalHtml = UNSET
    example: str = ""
    anchor: str = ""
    folds: bool = False


class ExampleView(HtmlHolder, omit_defaults=True, kw_only=True):
    """made: whether it was made from the schema, for none was written. faults: why it does not fit."""

    name: str = ""
    text: str = ""
    html: SafeHtml
    raw: str
    made: bool = False
    faults: list[str] = []


class MediaView(msgspec.Struct, omit_defaults=True, kw_only=True):
    """One form of a body. rows: the schema as a tree in one list."""

    type: str
    name: str = ""
    rows: list[RowView]
    examples: list[ExampleView]


class SlotView(HtmlHolder, omit_defaults=True, kw_only=True):
    """value: the example that the form begins with."""

    name: str
    place: str
    type: list[Piece]
    required: bool = False
    deprecated: bool = False
    words: list[str] = []
    html: OptionalHtml = UNSET
    value: str = ""
    choices: list[str] = []
    href: str = ""


class AnswerView(HtmlHolder, omit_defaults=True, kw_only=True):
    """words: what the status means by RFC 9110. href: of the shared answer that it is."""

    status: str
    words: str = ""
    html: OptionalHtml = UNSET
    headers: list[SlotView] = []
    media: list[MediaView] = []
    followups: list[FollowupView] = []
    href: str = ""


class FollowupView(HtmlHolder, omit_defaults=True, kw_only=True):
    """An operation that may be called with the answer. values: what it takes from there, by parameter."""

    name: str
    html: OptionalHtml = UNSET
    target: str = ""
    href: str = ""
    values: dict[str, str] = {}


class BodyView(HtmlHolder, omit_defaults=True, kw_only=True):
    """What a request takes in."""

    html: OptionalHtml = UNSET
    required: bool = False
    media: list[MediaView] = []


class NeedView(HtmlHolder, omit_defaults=True, kw_only=True):
    """words: a sentence. field, place: where a secret goes."""

    scheme: str
    words: str
    html: OptionalHtml = UNSET
    scopes: list[str] = []
    place: str = ""
    field: str = ""


class OperationView(msgspec.Struct, omit_defaults=True, kw_only=True):
    """security: any one of the lists suffices. servers: those that can be tried stand first;
    callable: which of them the project allows."""

    method: str
    path: str
    id: str = ""
    tags: list[str] = []
    incoming: bool = False
    parameters: list[SlotView] = []
    body: BodyView | None = None
    answers: list[AnswerView] = []
    security: list[list[NeedView]] | None = None
    servers: list[str] = []
    callable: list[str] = []
    callbacks: list[LinkView] = []
    snippets: list[Snippet] = []


class LinkView(HtmlHolder, omit_defaults=True):
    """text: plain words; html: what is said of it."""

    name: str
    href: str
    kind: str = ""
    text: str = ""
    html: OptionalHtml = UNSET
    deprecated: bool = False


class GroupView(HtmlHolder, omit_defaults=True, kw_only=True):
    """Operations of one tag; total counts those that are not listed here, too."""

    name: str
    html: OptionalHtml = UNSET
    total: int = 0
    operations: list[LinkView] = []


class ServiceView(msgspec.Struct, omit_defaults=True, kw_only=True):
    """A service as its description tells of it. schemes: how callers prove who they are."""

    standard: str
    version: str = ""
    terms: str = ""
    contact: dict[str, str] = {}
    licence: dict[str, str] = {}
    servers: list[LinkView] = []
    schemes: list[NeedView] = []
    headers: list[SlotView] = []
    groups: list[GroupView] = []
    documents: dict[str, str] = {}


class ParticleView(msgspec.Struct, omit_defaults=True, kw_only=True):
    """A node of the content model's drawing. times: how often, in words."""

    kind: str
    name: str = ""
    href: str = ""
    type: str = ""
    times: str = ""
    optional: bool = False
    many: bool = False
    parts: list[ParticleView] = []


class InterfaceView(HtmlHolder, omit_defaults=True, kw_only=True):
    """sides: in which directions callers meet a schema, in words."""

    operation: OperationView | None = None
    service: ServiceView | None = None
    rows: list[RowView] = []
    examples: list[ExampleView] = []
    content: ParticleView | None = None
    slot: SlotView | None = None
    answer: AnswerView | None = None
    facets: dict[str, str] = {}
    sides: str = ""
    evidence: str = ""
    source: OptionalHtml = UNSET
    used_by: list[LinkView] = []
