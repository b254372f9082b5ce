"""The elements that a page documents: what stands at its places, and what it is about as a whole."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

import msgspec
from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Place, Symbol
from zarbek.core.sources.htmltrees.declarations.form import NO_MODULE, Owner, separator_of
from zarbek.core.sources.htmltrees.declarations.reader import MAX_DECLARATION, read_declaration
from zarbek.core.sources.htmltrees.descriptions import doc_after
from zarbek.core.sources.htmltrees.discovery import NO_HINTS, TreeHints
from zarbek.core.sources.htmltrees.lines import Lines
from zarbek.core.sources.htmltrees.page_reader import HEADINGS, heading_of, without_signs
from zarbek.core.sources.htmltrees.positions import Positions
from zarbek.core.sources.htmltrees.structured_data import NO_DATA, PageData
from zarbek.core.sources.htmltrees.subjects import Subject, subject_of
from zarbek.core.sources.markup.html import escape_text

#: A line that is a name, perhaps with what says that it is called, or which of several it is.
_LONE = re.compile(
    r"(?P<name>operator\s*(?:\(\s*\)|\[\s*\]|[^\w\s(]+|[\w:<>*& ]+?)|~?[A-Za-z_$][\w$]*)"
    r"\s*(?P<called>\(\s*\))?\s*(?:\[\d+/\d+\])?"
)
#: Lines that count where nothing says what a page is about.
_STRONG = frozenset("h1 h2 h3 h4 h5 h6 dt pre td".split())
_OF_TABLES = frozenset("td th tr tbody thead tfoot table div".split())
#: What a pair of words could declare.
_PLAIN = frozenset({"variable", "field", "constant"})
#: What stands beside a type, and not in it.
_BESIDE = re.compile(r"\b(?:friends?|related|non-members?)\b", re.IGNORECASE)
#: What a type has from others, whose pages tell it.
_INHERITED = re.compile(r"\b(?:inherited|(?:fields|functions|members|methods|properties) from)\b", re.IGNORECASE)
#: What declarations have and few words do.
_SIGNS = re.compile(r"[(;=]|::")
#: A type by its kind.
_NAMED_TYPE = re.compile(r"(?:class|struct|union|enum|interface|trait|record)\s+(?P<name>[A-Za-z_$][\w$]*)")
#: A heading of the values of an enumeration that has no name.
_UNNAMED = re.compile(r"(?:anonymous|unnamed) enum\b", re.IGNORECASE)
_NAMING = frozenset("dt h1 h2 h3 h4 h5 h6".split())
_ROWS = frozenset("td dt li p".split())
#: Places that count: lines of a listing, paragraphs.
_COUNTED = re.compile(r"[A-Za-z]{0,2}[-_.:]?\d+(?:[-_.]\d+)*")
_AHEAD = 4
#: Headings down to this one name parts of a page.
_LEVEL_OF_PARTS = 2
#: A longer text is no label; a line has so many signs beside its words.
_MOST_LABEL, _MOST_SIGNS = 80, 8
_WORDS, _QUALIFIED = re.compile(r"\w+"), re.compile(r"\w[\w.]*")


class _Documented(NamedTuple):
    """A symbol, and what the page has of it: the element that is its place, the line that names it."""

    symbol: Symbol
    place: LexborNode | None
    line: LexborNode
    is_shown: bool = True


def symbols_of(
    document: LexborHTMLParser, text: str, file: str, language: str, title: str = "", hints: TreeHints = NO_HINTS,
    data: PageData = NO_DATA, most: int | None = None,
) -> list[Symbol]:  # fmt: skip
    """What a page documents, in its order, each with its place.

    document: the page, parsed from text. file: below the source's root. language: of the code that the tree describes.
    title: the page's own part of it. hints: of these, where elements are named and where their kind stands. data: what
    the page says of itself for programs. most: so many of its places are looked at; None: all.
    """
    lines = Lines()
    subject = subject_of(document, lines, file, language, title, hints.kind, data)
    named = frozenset(node.mem_id for node in document.css(hints.symbol)) if hints.symbol else None
    found = list(_PlaceReader(subject, language, lines, named).read(document, most))
    told = _Told(text, file, lines)
    symbols = [told.complete(each) for each in found]
    if subject.symbol is None or not (subject.is_shown or found) or document.body is None:
        return symbols
    whole = _Documented(subject.symbol, None, subject.heading or document.body, subject.is_shown)
    about = told.complete(whole)
    if about.doc is None and data.is_reference and data.description:
        about = msgspec.structs.replace(about, doc=Doc(escape_text(data.description)))
    return [about, *symbols]


class _Told:
    """Completes symbols by what the page tells of them."""

    def __init__(self, text: str, file: str, lines: Lines) -> None:
        self._file, self._lines = file, lines
        positions = Positions(text)
        self._positions = {"id": positions.of("id"), "name": positions.of("name")}

    def complete(self, found: _Documented) -> Symbol:
        """The symbol with its place, its line and what is said of it."""
        attribute, place, line = "", "", 1
        if found.place is not None:
            attribute = "id" if found.place.attributes.get("id") else "name"
            place = found.place.attributes.get(attribute) or ""
            line, _ = self._positions[attribute].next(place)
        module, parent = found.symbol.module, found.symbol.parent
        if module == NO_MODULE:  # Of a language that has none: what a page holds belongs together.
            module = self._file.rpartition(".")[0]
            parent = module if parent in ("", NO_MODULE) else parent
        is_shown = found.is_shown and found.symbol.kind != "member"
        return msgspec.structs.replace(
            found.symbol, module=module, parent=parent, file=self._file, line=line, end_line=line, mentions=[],
            names=[], doc=doc_after(found.line, found.symbol, self._lines),
            place=Place(self._file, place, "declared" if is_shown else "named"),
        )  # fmt: skip


class _PlaceReader:
    """Reads the places of a page in their order. named: the elements that name symbols, None where nothing says that.
    latest: the symbol above; groups: the words of the headings above that are none, by level."""

    def __init__(self, subject: Subject, language: str, lines: Lines, named: frozenset[int] | None) -> None:
        self._lines, self._named = lines, named
        self._owner, self._subject, self._language = subject.owner, subject.symbol, language
        self._latest: Symbol | None = None
        self._latest_level, self._groups, self._read = 9, dict[int, str](), set[int]()
        self._types = set[str]()

    def read(self, document: LexborHTMLParser, most: int | None) -> Iterator[_Documented]:
        """What stands at the first places, or at all."""
        for node in document.css(":is([id],a[name],h1,h2,h3,h4,h5,h6)")[:most]:
            place = node.attributes.get("id") or (node.attributes.get("name") if node.tag == "a" else "") or ""
            line = self._lines.at(node)
            if line is None or line.mem_id in self._read:
                continue
            if _COUNTED.fullmatch(place) and not self._is_named(line, place):
                continue
            found = self._symbol_at(line, place) if place and self._may_name(line) else None
            if found is not None:
                self._read.add(line.mem_id)
                self._leave(level_of(line))
                if not self._is_subject(found):
                    yield _Documented(found, node, line)
            elif node.tag in HEADINGS:
                level, words = level_of(node), heading_of(node)
                self._leave(level)
                self._groups[level] = words
                if level <= self._latest_level:
                    self._latest, self._latest_level = self._unnamed(node, words), level

    def _is_named(self, line: LexborNode, place: str) -> bool:
        """Whether a line says no more than its place. Cost: none for a long one, which may have very many places."""
        words = self._lines.said(line)
        return len(words) <= len(place) + _MOST_SIGNS and without_signs(words) == place

    def _unnamed(self, heading: LexborNode, words: str) -> Symbol | None:
        """An enumeration without a name, whose values are members of what it stands in (ISO C++, [dcl.enum])."""
        if self._subject is None or not _UNNAMED.match(words):
            return None
        label = " ".join(map(self._lines.said, self._lines.after(heading, 2)))
        if len(label) < _MOST_LABEL and _INHERITED.search(label):
            return None
        return Symbol(self._subject.path, "", "enum", self._language, self._subject.module, self._subject.parent)

    def _may_name(self, line: LexborNode) -> bool:
        if self._named is None or line.mem_id in self._named:
            return True
        return any(inner.mem_id in self._named for inner in line.css("*"))

    def _symbol_at(self, line: LexborNode, place: str) -> Symbol | None:
        if self._language == "python":
            return self._named_by_place(line, place)
        if any(map(_INHERITED.search, self._groups.values())):
            return None
        if self._latest is not None and line.tag in _ROWS:
            part = _part_of(self._latest, self._lines.said(line))
            if part is not None:
                return part
        found = _declared_at(line, self._lines, self._language, self._owner_here())
        if found is None:
            found = self._value_at(line, place)
        if found is not None:
            self._latest, self._latest_level = found, level_of(line)
        return found

    def _value_at(self, line: LexborNode, place: str) -> Symbol | None:
        """A value of the enumeration that the page is about: a name alone, at a place that ends in it."""
        subject = self._subject
        if subject is None or subject.kind != "enum" or line.tag not in _NAMING or level_of(line) <= _LEVEL_OF_PARTS:
            return None
        lone = _LONE.fullmatch(without_signs(self._lines.said(line)))
        is_value = lone is not None and not lone["called"] and place.endswith(lone["name"])
        return _value(subject, lone["name"]) if lone is not None and is_value else None

    def _owner_here(self) -> Owner:
        """What stands below the group that was last, is of this."""
        is_apart = self._owner.is_type and any(map(_BESIDE.search, self._groups.values()))
        return self._owner.outer if is_apart else self._owner

    def _leave(self, level: int) -> None:
        """What follows a heading of a level stands in no group of that level, or below it."""
        self._groups = {of: words for of, words in self._groups.items() if of < level}

    def _named_by_place(self, line: LexborNode, place: str) -> Symbol | None:
        """What a place of a qualified name is of, where the line at it declares that name."""
        parent, _, name = place.rpartition(".")
        text = self._lines.said(line)
        if line.tag not in _NAMING or name not in _WORDS.findall(text):
            return None
        package, _, last = parent.rpartition(".")
        is_whole = not parent or place in (qualified.rstrip(".") for qualified in _QUALIFIED.findall(text))
        if not is_whole and self._is_mark(parent):
            return None
        owner = (
            Owner("module", (), parent) if is_whole and parent not in self._types else Owner("class", (last,), package)
        )
        found = read_declaration(text, self._language, owner)
        if found is None or found.name != name or (not parent and found.kind in _PLAIN):
            return None
        if found.kind in ("class", "exception", "enum"):
            self._types.add(found.path)
        return found

    def _is_mark(self, parent: str) -> bool:
        """Whether a place begins with what the page does not tell of: a mark for what is of another language."""
        is_about = self._subject is not None and self._subject.name == parent
        return "." not in parent and parent not in self._types and not is_about

    def _is_subject(self, found: Symbol) -> bool:
        subject = self._subject
        return subject is not None and (found.name, found.kind) == (subject.name, subject.kind)


def level_of(line: LexborNode) -> int:
    """Of a heading, from 1; below all of them for other lines."""
    return int((line.tag or "")[1]) if line.tag in HEADINGS else 9


def _part_of(latest: Symbol, words: str) -> Symbol | None:
    """A value of the enumeration, or a field of the structure, that stands above in the page."""
    if latest.kind == "enum":
        lone = _LONE.fullmatch(words)
        return _value(latest, lone["name"]) if lone is not None else None
    if latest.kind in ("struct", "union") and words.endswith(";"):
        names = tuple(latest.path.split(separator_of(latest.language)))
        return read_declaration(words, latest.language, Owner(latest.kind, names))
    return None


def _value(enumeration: Symbol, name: str) -> Symbol:
    between = separator_of(enumeration.language)
    outer = enumeration.path
    if (
        enumeration.name and enumeration.language == "cpp" and enumeration.parent == enumeration.module
    ):  # [dcl.enum] in ISO C++.
        outer = enumeration.parent if enumeration.module != NO_MODULE else ""
    path = f"{outer}{between}{name}" if outer else name
    return Symbol(path, name, "member", enumeration.language, enumeration.module, outer)


def _declared_at(line: LexborNode, lines: Lines, language: str, owner: Owner) -> Symbol | None:
    if line.tag not in _STRONG and not owner.names:
        return None
    words = lines.said(line)
    if len(words) > MAX_DECLARATION:
        return None
    words = without_signs(words)
    if line.tag not in ("td", "th") and (lone := _LONE.fullmatch(words) or _NAMED_TYPE.fullmatch(words)) is not None:
        is_called = bool(lone.groupdict().get("called"))
        found = _declared_after(line, lone["name"], is_called, lines, language, owner)
        if found is not None or _NAMED_TYPE.fullmatch(words) is None:
            return found
    return _declared_in(line, lines, language, owner)


def _declared_in(line: LexborNode, lines: Lines, language: str, owner: Owner) -> Symbol | None:
    for text in _texts_of(line, lines):
        if _SIGNS.search(text) or _NAMED_TYPE.fullmatch(text):
            found = read_declaration(text, language, owner)
            if found is not None:
                return None if _is_prose(found, owner, language) else found
    return None


def _declared_after(
    line: LexborNode, name: str, is_called: bool, lines: Lines, language: str, owner: Owner
) -> Symbol | None:  # fmt: skip
    """The declaration of a name that stands below a line which is that name alone."""
    for text in (text for following in lines.after(line, _AHEAD) for text in _texts_of(following, lines)):
        found = read_declaration(text, language, owner) if name in text and len(text) > len(name) else None
        if found is not None and found.kind in _PLAIN and is_called:
            found = read_declaration(f"{text}()", language, owner)  # As some programs leave out what is empty.
        if found is not None:
            return found if _same(found.name, name) else None
    return None


def _is_prose(found: Symbol, owner: Owner, language: str) -> bool:
    """Whether what is read as a declaration may be words: two of them, or one with another in brackets."""
    if found.kind in _PLAIN:
        return found.parent not in ("", _path(owner, language))
    return found.kind == "function" and not owner.names and not any(s.returns for s in found.signatures)


def _path(owner: Owner, language: str) -> str:
    return separator_of(language).join((*filter(None, [owner.package]), *owner.names))


def _same(name: str, other: str) -> bool:
    return "".join(name.split()) == "".join(other.split())


def _texts_of(line: LexborNode, lines: Lines) -> Iterator[str]:
    """What a line may declare, the longest first: a declaration may be set as a table."""
    texts = [lines.said(line)]
    outer = line.parent if line.tag in ("td", "th") else None
    while outer is not None and outer.tag in _OF_TABLES:
        if outer.tag in ("table", "tr") and len(text := lines.said(outer)) > len(texts[-1]):
            texts.append(text)
        outer = outer.parent
    return (text for text in reversed(texts) if len(text) <= MAX_DECLARATION)
