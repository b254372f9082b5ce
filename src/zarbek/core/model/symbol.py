"""Symbols: the addressable elements of an API."""

from __future__ import annotations

from typing import Literal

import msgspec

from zarbek.core.model.datamodel import DataModel
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.example import Example
from zarbek.core.model.interface import Interface
from zarbek.core.model.limits import File, Label, Number, Path
from zarbek.core.model.mention import Mention


class Parameter(msgspec.Struct, frozen=True, omit_defaults=True):
    """A declared parameter. kind is one of ``positional-only``, ``positional``,
    ``variadic``, ``keyword-only``, ``keywords``; default is source text, empty for none."""

    name: str
    kind: str = "positional"
    type: str = ""
    default: str = ""


class Signature(msgspec.Struct, frozen=True, omit_defaults=True):
    """text: the declaration in the language's own form on one line, without body and comments;
    empty where parameters and returns tell it all (Python)."""

    parameters: list[Parameter] = []
    returns: str = ""
    type_parameters: list[str] = []
    text: str = ""


#: Flag of what stands in a file that a tool has written.
GENERATED = "generated"
#: Flag of a member that readers do not see where it is declared, and have through types that derive from there.
LENT = "lent"


class Place(msgspec.Struct, frozen=True, array_like=True):
    """Where a page of a tree documents an element. file: of the page. anchor: empty for the page as a whole. certainty:
    ``declared`` where the page has its declaration, ``named`` where it says no more than its name and kind."""

    file: File
    anchor: str = ""
    certainty: Literal["declared", "named"] = "declared"


class Symbol(msgspec.Struct, frozen=True, omit_defaults=True):
    """One addressable API element.

    path: qualified name in the language's own spelling, unique in its release; overloads are told
    apart by their parameter types. module: path of the module, package or namespace.
    names: every other public name, sorted. parent: path of the enclosing symbol.
    line, end_line: 1-based, inclusive. mentions: in order of appearance. body: digest of what a
    function does, 16 hexadecimal digits, equal under any name; empty where it is too short to tell.
    interface: of elements of interface descriptions. through: types, as written, whose members can be
    named through it: of an accessor, of a class that hands on another's. holds: paths of the elements that
    a group of documentation brings together. place: in a tree of HTML that documents it.
    data: of what a data model holds. example: of a test that shows how something is used. variants: flags by which
    editions have it or not. makes: the class, as written, that a function makes one of and gives, where its declaration
    does not say so; ``Self`` for the object itself.
    """

    path: Path
    name: Path
    kind: Label
    language: Label
    module: Path
    parent: Path = ""
    visibility: str = "public"
    names: list[str] = []
    file: File = ""
    line: Number = 0
    end_line: Number = 0
    signatures: list[Signature] = []
    bases: list[str] = []
    type: str = ""
    value: str = ""
    flags: list[str] = []
    decorators: list[str] = []
    doc: Doc | None = None
    mentions: list[Mention] = []
    body: str = ""
    interface: Interface | None = None
    through: list[str] = []
    holds: list[str] = []
    place: Place | None = None
    data: DataModel | None = None
    example: Example | None = None
    variants: list[Label] = []
    makes: Path = ""
