"""What reading one source file gives, whatever its language."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import PurePosixPath

import msgspec

from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Symbol

#: Kind of what a file only tells of: the text of an element that another one declares.
TOLD = "told"
#: A qualified name with a part that is nothing; files may have three dots in theirs.
_NO_PART = re.compile(r"(?<!\.)\.\.(?!\.)|::::|[.:]$")


class SourceFile(msgspec.Struct, frozen=True, omit_defaults=True):
    """One file to read. module: qualified name of what it is or belongs to, where the place of
    the file says so. options: what the project says to the reader of its language."""

    file: str
    language: str
    module: str = ""
    is_package: bool = False
    is_stub: bool = False
    options: dict[str, list[str]] = {}
    included: dict[str, str] = {}


class ModulePart(msgspec.Struct, frozen=True, omit_defaults=True):
    """What one file adds to one module. Names are keys.

    aliases: names that may stand for another module's symbol, as (qualified name, target).
    reexports: those of them that others may use. spreads: modules all of whose public names are
    this module's too. exported: the only names that others may use, or None. handed: those that it
    imports for others, by its language's own word.
    """

    scope: Scope
    is_package: bool = False
    aliases: list[tuple[str, str]] = []
    reexports: list[tuple[str, str]] = []
    spreads: list[str] = []
    exported: list[str] | None = None
    defined: list[str] = []
    handed: list[str] = []


class Keywords(msgspec.Struct, frozen=True, array_like=True):
    """What a function does with the keywords that its signature leaves open. taken: those it looks at itself.
    passed: what it hands all of them to, as written. imports: names that only it imports."""

    taken: list[str]
    passed: list[str]
    imports: dict[str, str] = {}


class GroupNote(msgspec.Struct, frozen=True, array_like=True):
    """What a file tells of a group of documentation: a member of it, by its path, or what a reference calls it."""

    group: str
    member: str = ""
    label: str = ""
    line: int = 0


@dataclass(slots=True)
class SourceReading:
    """symbols: in source order. unsettled: indexes of symbols whose parent is a name that only
    the whole project can explain, as written in the scope of their module.

    extends: (path of a type, base) where a file tells of a type that stands elsewhere.
    templates: macro to the indexes of the symbols that it writes wherever it is called;
    expansions: (macro, path of what calls it). names: (other name, path), each dropped where two
    symbols of the project would have it. opened: (namespace, another as written in it) whose members
    are its own too. left_out: path to names that a declaration has beside its parameters: in
    a comment, of the receiver, of what carries its overloads out.
    keywords: of functions that take further ones, where all that becomes of these is known.
    groups: what the file tells of groups of documentation.
    """

    symbols: list[Symbol] = field(default_factory=list)
    parts: list[ModulePart] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    unsettled: list[int] = field(default_factory=list)
    extends: list[tuple[str, str]] = field(default_factory=list)
    templates: dict[str, list[int]] = field(default_factory=dict)
    expansions: list[tuple[str, str]] = field(default_factory=list)
    names: list[tuple[str, str]] = field(default_factory=list)
    opened: list[tuple[str, str]] = field(default_factory=list)
    left_out: dict[str, list[str]] = field(default_factory=dict)
    keywords: dict[str, Keywords] = field(default_factory=dict)
    groups: list[GroupNote] = field(default_factory=list)


def drop_nameless(reading: SourceReading) -> None:
    """Take away what has no name, or stands in what has none: a grammar goes on with one where a name is missing."""
    kept = [index for index, symbol in enumerate(reading.symbols) if not _is_nameless(symbol)]
    if len(kept) == len(reading.symbols):
        return
    place = {old: new for new, old in enumerate(kept)}
    reading.symbols[:] = [reading.symbols[index] for index in kept]
    reading.unsettled[:] = [place[index] for index in reading.unsettled if index in place]
    for macro, indexes in reading.templates.items():
        reading.templates[macro] = [place[index] for index in indexes if index in place]


def _is_nameless(symbol: Symbol) -> bool:
    head = symbol.path.partition("(")[0]
    return not symbol.name or head in (f".{symbol.name}", f"::{symbol.name}") or _NO_PART.search(head) is not None


def nearest_folder(folder: PurePosixPath, known: dict[str, str]) -> tuple[str, str]:
    """The nearest folder above (or at) a folder that is known, with what is known of it."""
    for candidate in (folder, *folder.parents):
        if str(candidate) in known:
            return str(candidate), known[str(candidate)]
    return "", ""
