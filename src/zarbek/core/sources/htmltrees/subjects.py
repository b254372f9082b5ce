"""What a page as a whole is about, as its title says it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.declarations.form import NO_OWNER, Owner, separator_of
from zarbek.core.sources.htmltrees.declarations.reader import read_declaration
from zarbek.core.sources.htmltrees.lines import Lines
from zarbek.core.sources.htmltrees.page_reader import heading_of, is_around, said
from zarbek.core.sources.htmltrees.structured_data import NO_DATA, PageData

#: What a title says of a page, to the kind that the readers of languages have.
_KINDS = {
    "class": "class", "interface": "interface", "enum": "enum", "enumeration": "enum", "enum class": "enum",
    "record": "record", "record class": "record", "annotation interface": "annotation", "annotation type": "annotation",
    "struct": "struct", "union": "union", "trait": "trait", "exception": "class", "exception class": "class",
    "package": "package", "module": "module", "namespace": "namespace",
    "crate": "module", "function": "function", "macro": "macro", "constant": "constant", "static": "variable",
    "type definition": "type", "type alias": "type",
}  # fmt: skip
#: What holds nothing: what else a page says is not in it.
_SINGLE = frozenset({"function", "macro", "constant", "variable", "type"})
#: Kinds that only titles in some languages name.
_ONLY_IN = {
    "package": ("java", "kotlin", "go"), "module": ("java", "python", "rust", "typescript"),
    "namespace": ("cpp", "csharp", "typescript"), "constant": ("rust",), "variable": ("rust",),
    "type": ("rust", "typescript"),
}  # fmt: skip
#: What titles say of lists of all that there is, and of what has no name.
_ABOUT_ALL = frozenset(
    "anonymous description documentation hierarchy index list members overview reference summary unnamed".split()
)
_KIND = "|".join(sorted(_KINDS, key=len, reverse=True))
#: Arguments of a type, with three of them within one another; every sign can be read in one way only.
_ARGUMENTS = r"(?:\s*<(?:[^<>|]|<(?:[^<>|]|<[^<>|]*>)*>)*>)?"
_NAME = rf"[A-Za-z_$][\w$]*{_ARGUMENTS}(?:(?:::|\.)[A-Za-z_$][\w$]*{_ARGUMENTS})*"
_FIRST = re.compile(rf"(?P<kind>{_KIND})\s+(?P<name>{_NAME})", re.IGNORECASE)
_LAST = re.compile(rf"(?P<name>{_NAME})\s+(?P<kind>{_KIND})(?:\s+(?:template|reference|documentation))*", re.IGNORECASE)
_TYPE_WORD = re.compile(r"\b(?:class|struct|union|@?interface|enum|record|trait)\b")
_QUALIFIED = re.compile(r"[\w.]+")
#: A longer title says nothing.
_MOST_WORDS = 400
#: So many lines are looked at for the declaration; so many elements for a title; so much text for a package.
_AHEAD, _BEGINNING, _FIRST_WORDS, _HEADINGS = 400, 60, 6_000, 12


class Subject(NamedTuple):
    """owner: of what the page documents. symbol: itself. is_shown: whether the page has its declaration, too. heading:
    where it is named."""

    owner: Owner = NO_OWNER
    symbol: Symbol | None = None
    is_shown: bool = False
    heading: LexborNode | None = None


def subject_of(
    document: LexborHTMLParser, lines: Lines, file: str, language: str, title: str, kind_at: str = "",
    data: PageData = NO_DATA,
) -> Subject:  # fmt: skip
    """file: below the source's root. title: the page's own part of it. kind_at: selector of CSS for the word that says
    what the page is about, where the title does not. data: what the page says of itself for programs."""
    told = document.css_first(kind_at) if kind_at else None
    for heading, words in _titles(document, title, data):
        owner = _owner_in(f"{said(told)} {words}" if told is not None else words, language)
        if owner is not None:
            return _settle(document, lines, heading, file, language, owner)
    return _named_by_data(document, lines, file, language, data)


def _named_by_data(
    document: LexborHTMLParser, lines: Lines, file: str, language: str, data: PageData
) -> Subject:  # fmt: skip
    """The type that a page calls by its name alone, for programs, and declares."""
    for words in (data.name, data.headline) if data.is_reference and document.body is not None else ():
        owner = _owner_in(f"class {words}", language)
        if owner is not None and document.body is not None:
            found = _settle(document, lines, document.body, file, language, owner)
            if found.is_shown and found.symbol is not None:
                return found._replace(owner=found.owner._replace(kind=found.symbol.kind))
    return Subject()


def _owner_in(words: str, language: str) -> Owner | None:
    found = _FIRST.fullmatch(words) or _LAST.fullmatch(words) if len(words) <= _MOST_WORDS else None
    if found is None or found["name"].lower() in _ABOUT_ALL:
        return None
    kind, name = _KINDS[found["kind"].lower()], found["name"]
    if language not in _ONLY_IN.get(kind, (language,)):
        return None
    names = tuple(re.split(r"::|\.", re.sub(r"\s*<.*?>(?=$|::|\.)", "", name)))
    if language == "cpp" and name.endswith(">") and "template" not in words.lower():  # Of some types, not of all.
        names = (*names[:-1], names[-1] + "".join(name[name.index("<") :].split()))
    return Owner(kind, names)


def _titles(document: LexborHTMLParser, title: str, data: PageData) -> Iterator[tuple[LexborNode, str]]:
    """What may say what a page is about: its first headings, its title, what it says for programs, and what its first
    elements say themselves."""
    headings = ((node, heading_of(node)) for node in document.css("h1,h2")[:_HEADINGS] if not is_around(node))
    yield from islice(((node, words) for node, words in headings if words), 2)
    if document.body is not None:
        yield from ((document.body, words) for words in (title, data.name, data.headline) if words)
    for node in document.css("div,p,b,strong,font,td,center")[:_BEGINNING]:
        own = "".join(inner.text_content or "" for inner in node.iter(include_text=True) if inner.is_text_node)
        if words := " ".join(own.split()):
            yield node, words


def _settle(
    document: LexborHTMLParser, lines: Lines, heading: LexborNode, file: str, language: str, owner: Owner
) -> Subject:  # fmt: skip
    texts = map(lines.said, lines.of(heading, _AHEAD) if heading.tag == "body" else lines.after(heading, _AHEAD))
    if language == "java":
        owner = owner._replace(package=_package(document, file))
    if owner.kind in _SINGLE:
        return _single(texts, heading, language, owner)
    if not owner.is_type:
        is_shown = language == "rust" or owner.package == ".".join(owner.names)
        return Subject(owner, _space(owner, language), is_shown, heading)
    outer = Owner("class" if language == "java" and len(owner.names) > 1 else "", owner.names[:-1], owner.package)
    for text in texts:
        if owner.names[-1].partition("<")[0] in text and _TYPE_WORD.search(text):
            symbol = read_declaration(text, language, outer)
            if symbol is not None and symbol.name.partition("<")[0] == owner.names[-1].partition("<")[0]:
                owner = owner._replace(names=(*owner.names[:-1], symbol.name))
                return Subject(owner, symbol, True, heading)
    if _fold(owner.names[-1].partition("<")[0]) not in _fold(file):
        return Subject()
    template = "template<> " if "<" in owner.names[-1] else ""
    return Subject(
        owner, read_declaration(f"{template}{owner.kind} {owner.names[-1]}", language, outer), heading=heading
    )


def _single(texts: Iterable[str], heading: LexborNode, language: str, owner: Owner) -> Subject:
    """A function, a macro, or what else holds nothing, where the page declares it."""
    for text in texts:
        if owner.names[-1] in text:
            symbol = read_declaration(text, language, owner.outer)
            if symbol is not None and (symbol.name.rstrip("!"), symbol.kind) == (owner.names[-1], owner.kind):
                return Subject(owner.outer, symbol, True, heading)
    return Subject()


def _space(owner: Owner, language: str) -> Symbol:
    """A package, module or namespace: a name that holds others."""
    between = separator_of(language)
    path, parent = between.join(owner.names), between.join(owner.names[:-1])
    return Symbol(path, owner.names[-1], owner.kind, language, path, parent)


def _fold(name: str) -> str:
    return re.sub(r"[^a-z0-9]", "", name.lower())


def _package(document: LexborHTMLParser, file: str) -> str:
    parts = file.split("/")[:-1]
    begin = document.body.text(separator=" ")[:_FIRST_WORDS] if document.body else ""
    named = {word.strip(".") for word in _QUALIFIED.findall(begin)}
    return next((name for n in range(len(parts)) if (name := ".".join(parts[n:])) in named), "")
