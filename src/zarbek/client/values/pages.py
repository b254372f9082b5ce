"""Pages of symbols and guides."""

from __future__ import annotations

import msgspec

from zarbek.client.values.examples import ExercisedElement, TestExample
from zarbek.client.values.findings import Finding
from zarbek.client.values.interfaces import Interface
from zarbek.client.values.pieces import Piece
from zarbek.client.values.supplements import Supplement, Words
from zarbek.client.values.tables import Data


class Crumb(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """An element by name and address. depth: how far below the others it stands; current: whether it is
    the page itself; number: of a guide, empty for none."""

    path: str
    name: str
    href: str
    kind: str = ""
    depth: int = 0
    current: bool = False
    number: str = ""


class Parameter(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A parameter as a signature has it. kind: positional, named, variadic and the like."""

    name: str
    kind: str
    type: list[Piece] = []
    default: str = ""


class Signature(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """text: the declaration in its language's own form, with line ends; empty where parameters
    and returns tell it all."""

    parameters: list[Parameter]
    returns: list[Piece]
    text: list[Piece] = []


class Field(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """What a text says of a parameter, result, error or related name. html: sanitised. has_default: an empty
    default is one, too."""

    name: list[Piece] = []
    type: list[Piece] = []
    html: str = ""
    default: str = ""
    has_default: bool = False
    optional: bool = False


class Section(msgspec.Struct, frozen=True, kw_only=True):
    """A titled part of a text. kind: note, warning, example and the like. html: sanitised."""

    kind: str
    title: str
    html: str


class ChangeNote(msgspec.Struct, frozen=True, kw_only=True):
    """What a text says has changed in a version."""

    version: str
    html: str


class Deprecation(msgspec.Struct, frozen=True, kw_only=True):
    """That an element is deprecated, since which version, and what its author says of it."""

    since: str
    html: str


class Member(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A member as a list shows it. origin: the type from which it is inherited. is_new: whether the release before had
    none such."""

    path: str
    name: str
    kind: str
    href: str
    summary: str = ""
    deprecated: bool = False
    origin: str = ""
    flags: list[str] = []
    line: int = 0
    is_new: bool = False


class MemberDetail(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A member in full, as it stands on its class's page."""

    path: str
    name: str
    kind: str
    href: str
    flags: list[str] = []
    signatures: list[Signature] = []
    type: list[Piece] = []
    summary: str = ""
    body: str = ""
    parameters: list[Field] = []
    returns: list[Field] = []
    raises: list[Field] = []
    deprecated: bool = False


class MemberDetails(msgspec.Struct, frozen=True, kw_only=True):
    """Members in full, of a page's own, in source order. next: the address of those that follow, or null."""

    items: list[MemberDetail]
    next: str | None


class ReferrerCount(msgspec.Struct, frozen=True, kw_only=True):
    """How many texts of other releases refer to something, and of which projects."""

    total: int
    projects: list[str]


class EditionChoice(msgspec.Struct, frozen=True, kw_only=True):
    """An edition that the reader may read; is_current: reads."""

    name: str
    title: str
    is_current: bool


class Navigation(msgspec.Struct, frozen=True, kw_only=True):
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


class PagePlace(msgspec.Struct, frozen=True, kw_only=True):
    """Where a page of a tree documents an element. title: of the page. certainty: ``declared`` where it has the
    declaration, ``named`` where it says no more than name and kind."""

    title: str
    href: str
    certainty: str


class SymbolPage(msgspec.Struct, frozen=True, kw_only=True):
    """A symbol with all that is known of it. value: of a constant, as written. members_left: how many more there are
    than are listed. details: the first of the members in full; details_next: the address of the others. text_from: the
    element whose text stands here, where this one has none of its own. names: its other public names. summary, body
    and what is called html are sanitised HTML. example, exercises: of an example, itself and what it calls; examples:
    those that call the element. supplements: texts for it that stand elsewhere; words: all that is said of it with
    whose words they are; languages: into which something is translated."""

    navigation: Navigation
    path: str
    name: str
    kind: str
    language: str
    parent: Crumb | None
    flags: list[str]
    decorators: list[str]
    signatures: list[Signature]
    bases: list[list[Piece]]
    type: list[Piece]
    value: str
    summary: str
    body: str
    parameters: list[Field]
    returns: list[Field]
    yields: list[Field]
    raises: list[Field]
    attributes: list[Field]
    see: list[Field]
    sections: list[Section]
    since: str
    changes: list[ChangeNote]
    deprecated: Deprecation | None
    members: list[Member]
    members_left: int = 0
    details: list[MemberDetail]
    details_next: str | None = None
    inherited: list[Member]
    subclasses: list[Crumb]
    text_from: Crumb | None
    names: list[str]
    referrers: ReferrerCount
    findings: list[Finding]
    file: str
    line: int
    end_line: int
    source_url: str
    source_page: str = ""
    is_new: bool = False
    permanent: str
    interface: Interface | None = None
    place: PagePlace | None = None
    data: Data | None = None
    example: TestExample | None = None
    exercises: list[ExercisedElement] = []
    supplements: list[Supplement] = []
    words: list[Words] = []
    languages: list[str] = []
    examples: list[TestExample] = []


class Heading(msgspec.Struct, frozen=True, kw_only=True):
    """level: 1 to 6. anchor: the fragment that leads to it. number: in its guide's chapter, empty for none."""

    level: int
    title: str
    anchor: str
    number: str = ""


class DocumentedElement(msgspec.Struct, frozen=True, kw_only=True):
    """An element of the reference that a page tells of. anchor: its place, empty for the page as a whole."""

    path: str
    name: str
    kind: str
    href: str
    anchor: str


class GuidePage(msgspec.Struct, frozen=True, kw_only=True):
    """A guide as it is shown. number: of the chapter, empty for none. html: sanitised. previous, following: in the
    order of the contents. original: address of a page of a tree as it was gathered, empty for a guide; elements: what
    such a page tells of."""

    navigation: Navigation
    path: str
    title: str
    html: str
    headings: list[Heading]
    previous: Crumb | None
    following: Crumb | None
    file: str
    findings: list[Finding]
    referrers: ReferrerCount
    permanent: str
    original: str
    elements: list[DocumentedElement]
    number: str = ""


class ListedSymbol(msgspec.Struct, frozen=True, kw_only=True):
    """A symbol as a list of a release shows it."""

    path: str
    name: str
    kind: str
    summary: str
    deprecated: bool
