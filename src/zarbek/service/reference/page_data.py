"""What a symbol's page and a guide's page hold. Texts are safe HTML."""

from __future__ import annotations

import msgspec
from msgspec import UNSET

from zarbek.core.model.finding import Finding
from zarbek.core.writing.html import SafeHtml
from zarbek.core.writing.type_text import Piece
from zarbek.service.common.html import HtmlHolder, OptionalHtml
from zarbek.service.reference.example_page_data import ExampleView, ExercisedView
from zarbek.service.reference.interface_page_data import InterfaceView
from zarbek.service.reference.supplement_data import SupplementView, WordsView
from zarbek.service.reference.table_page_data import DataView


class Crumb(msgspec.Struct, omit_defaults=True):
    """An element by name and address. depth: how far below the others it stands; current: whether it is the page
    itself; number: of a guide, empty for none."""

    path: str
    name: str
    href: str
    kind: str = ""
    depth: int = 0
    current: bool = False
    number: str = ""


class ParameterView(msgspec.Struct, omit_defaults=True):
    """kind: how it is passed. type: in pieces."""

    name: str
    kind: str
    type: list[Piece] = []
    default: str = ""


class SignatureView(msgspec.Struct, omit_defaults=True):
    """text: the declaration in its language's own form, with line ends; empty where parameters
    and returns tell it all."""

    parameters: list[ParameterView]
    returns: list[Piece]
    text: list[Piece] = []


class FieldView(HtmlHolder, omit_defaults=True):
    """What the text says of a parameter, an error or the like."""

    name: list[Piece] = []
    type: list[Piece] = []
    html: OptionalHtml = UNSET
    default: str = ""
    has_default: bool = False
    optional: bool = False


class SectionView(HtmlHolder):
    """A part of the text with a heading of its own."""

    kind: str
    title: str
    html: SafeHtml


class ChangeView(HtmlHolder):
    """What a version changed."""

    version: str
    html: SafeHtml


class DeprecationView(HtmlHolder):
    """since: a version, or empty."""

    since: str
    html: SafeHtml


class MemberView(HtmlHolder, omit_defaults=True):
    """A member in a list. origin: the type that it is inherited from, or empty. is_new: whether the release before had
    none such."""

    path: str
    name: str
    kind: str
    href: str
    summary: OptionalHtml = UNSET
    deprecated: bool = False
    origin: str = ""
    flags: list[str] = []
    line: int = 0
    is_new: bool = False


class MemberDetail(HtmlHolder, omit_defaults=True, kw_only=True):
    """A member in full, as it stands on its class's page."""

    path: str
    name: str
    kind: str
    href: str
    flags: list[str] = []
    signatures: list[SignatureView] = []
    type: list[Piece] = []
    summary: OptionalHtml = UNSET
    body: OptionalHtml = UNSET
    parameters: list[FieldView] = []
    returns: list[FieldView] = []
    raises: list[FieldView] = []
    deprecated: bool = False


class MemberDetails(msgspec.Struct):
    """Members in full, of a page's own, in source order. next: the address of those that follow, or null."""

    items: list[MemberDetail]
    next: str | None


class ReferrerCount(msgspec.Struct):
    """projects: slugs of those that refer to it."""

    total: int
    projects: list[str]


class EditionChoice(msgspec.Struct):
    """An edition that the reader may read; is_current: reads."""

    name: str
    title: str
    is_current: bool


class Navigation(msgspec.Struct, omit_defaults=True):
    """Where the reader is: the project, its release, and what stands around. more_modules, more_guides: how many there
    are besides those that are listed. editions: between which the reader has a choice."""

    project: str
    title: str
    version: str
    newest: str
    versions: list[str]
    modules: list[Crumb]
    guides: list[Crumb]
    more_modules: int
    more_guides: int
    editions: list[EditionChoice] = []


class PagePlace(msgspec.Struct):
    """Where a page of a tree documents an element. title: of the page. certainty: ``declared`` where it has the
    declaration, ``named`` where it says no more than name and kind."""

    title: str
    href: str
    certainty: str


class SymbolPage(HtmlHolder, kw_only=True):
    """All that the page of a symbol shows."""

    navigation: Navigation
    path: str
    name: str
    kind: str
    language: str
    parent: Crumb | None
    flags: list[str]
    decorators: list[str]
    signatures: list[SignatureView]
    bases: list[list[Piece]]
    type: list[Piece]
    value: str
    summary: SafeHtml
    body: SafeHtml
    parameters: list[FieldView]
    returns: list[FieldView]
    yields: list[FieldView]
    raises: list[FieldView]
    attributes: list[FieldView]
    see: list[FieldView]
    sections: list[SectionView]
    since: str
    changes: list[ChangeView]
    deprecated: DeprecationView | None
    members: list[MemberView]
    #: How many more there are than are listed.
    members_left: int = 0
    #: The first of the members in full; the address of the others, or null.
    details: list[MemberDetail]
    details_next: str | None = None
    inherited: list[MemberView]
    subclasses: list[Crumb]
    #: The element whose text stands here, where this one has none of its own.
    text_from: Crumb | None
    names: list[str]
    referrers: ReferrerCount
    findings: list[Finding]
    file: str
    line: int
    end_line: int
    source_url: str
    permanent: str
    #: The page of its file, at its line; empty where readers may not look into it.
    source_page: str = ""
    #: Whether the release before did not have it.
    is_new: bool = False
    interface: InterfaceView | None = None
    place: PagePlace | None = None
    data: DataView | None = None
    #: Of an example: itself, and what it calls.
    example: ExampleView | None = None
    exercises: list[ExercisedView] = []
    #: Examples that call the element.
    examples: list[ExampleView] = []
    #: Texts for it that stand elsewhere, all that is said of it with whose words they are, and the languages of
    #: translations; empty where there is no such text.
    supplements: list[SupplementView] = []
    words: list[WordsView] = []
    languages: list[str] = []


class HeadingView(msgspec.Struct, omit_defaults=True):
    """level: 1 to 6. anchor: the fragment that leads to it. number: in its guide's chapter, empty for none."""

    level: int
    title: str
    anchor: str
    number: str = ""


class DocumentedView(msgspec.Struct):
    """An element of the reference that a page tells of. anchor: its place, empty for the page as a whole."""

    path: str
    name: str
    kind: str
    href: str
    anchor: str


class GuidePage(HtmlHolder, kw_only=True):
    """All that the page of a guide shows. number: of the chapter, empty for none. previous, following: its neighbours
    in the contents. original: address of a page of a tree as it was gathered, empty for a guide; elements: what such a
    page tells of."""

    navigation: Navigation
    path: str
    title: str
    html: SafeHtml
    headings: list[HeadingView]
    previous: Crumb | None
    following: Crumb | None
    file: str
    findings: list[Finding]
    referrers: ReferrerCount
    permanent: str
    original: str
    elements: list[DocumentedView]
    number: str = ""
