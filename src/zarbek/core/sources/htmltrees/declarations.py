"""Declarations as a page shows them to symbols, by the readers of the languages that they are in: what those know as
one declaration, and nothing else, is one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from typing import NamedTuple

import msgspec

from zarbek.core.errors import UnreadableText
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.python_declarations import python_source
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import read_source
from zarbek.core.sources.source_text import FALLS

#: Where the readers of C and C++ say that something stands that is in no namespace.
NO_MODULE = "x.hpp"
#: A longer text is none.
MAX_DECLARATION = 2_000
_TYPES = frozenset({"class", "struct", "union", "interface", "enum", "trait", "record", "annotation", "exception"})


class Owner(NamedTuple):
    """What a declaration stands in. kind: of it, as ``class``, or empty where it is not known. names: of what encloses
    it and its own, from outside inwards. package: what all of those stand in, in the language's spelling."""

    kind: str = ""
    names: tuple[str, ...] = ()
    package: str = ""

    @property
    def is_type(self) -> bool:
        """Whether what it holds are members."""
        return self.kind in _TYPES

    @property
    def outer(self) -> Owner:
        """What it stands in itself, as far as that is known."""
        return Owner("", self.names[:-1], self.package)


NO_OWNER = Owner()


def separator_of(language: str) -> str:
    """What stands between the parts of a qualified name."""
    return "::" if language in ("c", "cpp", "rust") else "."


def read_declaration(text: str, language: str, owner: Owner = NO_OWNER) -> Symbol | None:
    """The symbol that a text declares, within its owner; None where it is no declaration of the language."""
    if len(text) > MAX_DECLARATION or language not in _FORMS:
        return None
    form = _FORMS[language](_plain(text), owner)
    symbol = _read(form, language) if form is not None else None
    return as_member(symbol, owner) if symbol is not None else None


class _Form(NamedTuple):
    """A source with the declaration on a line of its own. before: lines that stand before it."""

    file: str
    before: str
    line: str
    after: str
    module: str = ""


def _read(form: _Form, language: str) -> Symbol | None:
    source = SourceFile(form.file, language, form.module)
    try:
        reading = read_source(f"{form.before}\n{form.line}\n{form.after}".encode(), source)
    except (UnreadableText, SyntaxError, *FALLS):
        return None
    if any(finding.rule.startswith("text/unread") for finding in reading.findings):
        return None
    first = form.before.count("\n") + 2
    lines = range(first, first + form.line.count("\n") + 1)
    found = [symbol for symbol in reading.symbols if symbol.line in lines]
    return min(found, key=lambda symbol: len(symbol.path), default=None)


def as_member(symbol: Symbol, owner: Owner) -> Symbol:
    """A constant of its enumeration's own type is one of its values."""
    if owner.kind == "enum" and symbol.kind == "constant" and symbol.type.rpartition(".")[2] == owner.names[-1]:
        return msgspec.structs.replace(symbol, kind="member", signatures=[])
    return symbol


def _plain(text: str) -> str:
    """On one line, up to a sign that no language has: programs set those to show more."""
    if not text.isascii():
        text = "".join(sign for sign in text if unicodedata.category(sign) != "Cf")
        cut = next((i for i, sign in enumerate(text) if unicodedata.category(sign) == "So"), None)
        text = text[:cut]
    return " ".join(text.split()).rstrip(" ;")


#: What programs put behind a declaration of C++ for what it would begin with.
_LABELS = re.compile(
    r"\s+\[?(?:inline|static|virtual|explicit|protected|private|public|constexpr|friend|mutable|package|slot|signal|"
    r"noexcept|override|pure|implicit|inherited|read|write|get|set|add|remove|final|related|default|delete)[\],]?$"
)
_KEPT_LABELS = ("static", "virtual", "explicit", "constexpr")
_CPP_KIND = re.compile(r"(?:typedef\s+)?(?:class|struct|union|enum)\b")
#: A type of functions, as some programs set it without its first word.
_POINTER = re.compile(r"(?!typedef\b)[\w\s*]+\(\s*\*\s*\w+\s*\)\s*\(")
#: What a class has beside it, not in it.
_APART = frozenset({"friend", "related"})
#: Arguments of a template, with three of them within one another.
_ANGLES = r"<(?:[^<>()]|<(?:[^<>()]|<[^<>()]*>)*>)*>"
_CPP_NAME = re.compile(
    rf"(?P<outer>(?:[A-Za-z_]\w*\s*(?:{_ANGLES}\s*)?::\s*)*)"
    r"(?P<name>operator\s*(?:\(\s*\)|\[\s*\]|[^\s\w(]+|[\w:<>*& ]+?)|~?\s*[A-Za-z_]\w*)\s*"
    rf"(?P<specialised>{_ANGLES})?\s*"
    r"(?P<end>\(|\[|=|$|\{|:(?!:))"
)
_CPP_TYPE = re.compile(rf"(?:^|>\s*)(?:typedef\s+)?(?:class|struct|union|enum(?:\s+class)?)\s+[\w:]+(?:\s*{_ANGLES})?$")


def _cpp(text: str, owner: Owner) -> _Form | None:
    if text.startswith("#define "):
        return _Form(NO_MODULE, "/** A macro counts where somebody documents it. */", text, "")
    if not owner.is_type and _POINTER.match(text):
        text = f"typedef {text}"
    labels: list[str] = []
    while (found := _LABELS.search(text)) and (
        "(" in text[: found.start()] or found[0].endswith("]") or _CPP_KIND.match(text)
    ):
        labels.insert(0, found[0].strip(" [],"))
        text = text[: found.start()]
    match = _CPP_NAME.search(text)
    while match is not None and match["name"].startswith("decltype"):
        match = _CPP_NAME.search(text, match.end())
    if match is None:
        return None
    if "friend" in (text.split()[0], *labels) and "(" not in text:
        return None  # It says who may use what, and declares nothing.
    if not _APART.isdisjoint(labels) and owner.is_type:
        owner = owner.outer
    outer = tuple(re.sub(r"\s*<.*", "", part).strip() for part in re.split(r"::", match["outer"])[:-1])
    begin = text[: match.start("outer")]
    template = re.match(rf"template\s*{_ANGLES}(?!\s*<)", begin)
    begin = begin[template.end() :] if template else begin
    kept = [label for label in labels if label in _KEPT_LABELS and label not in begin.split()]
    rest = text[match.start("name") :]
    if match["specialised"] and _CPP_KIND.match(begin.strip()):
        is_own = template is None or _own_parameters(template[0]) == _bare(match["specialised"][1:-1])
        arguments = "" if is_own else _bare(match["specialised"])
        rest = match["name"] + arguments + text[match.end("specialised") :]
    text = " ".join([*([template[0]] if template else []), *kept, begin.strip(), rest])
    names = (
        owner.names if not outer or tuple(n.partition("<")[0] for n in owner.names[-len(outer) :]) == outer else outer
    )
    body = " {}" if _CPP_TYPE.search(text) and "{" not in text else ""
    return _Form(NO_MODULE, *_cpp_around(names, owner.is_type, text + body + ";"))


def _own_parameters(template: str) -> str:
    """The names of a template's parameters, as what it makes repeats them."""
    inner = template[template.index("<") + 1 : -1]
    return (
        ",".join(re.split(r"[\s.]+", part.partition("=")[0].strip())[-1] for part in inner.split(","))
        if inner.strip()
        else ""
    )


def _bare(text: str) -> str:
    return "".join(text.split())


def _cpp_around(names: tuple[str, ...], is_type: bool, line: str) -> tuple[str, str, str]:
    spaces, types = (names[:-1], names[-1:]) if is_type else (names, ())
    before = "".join(f"namespace {name} {{ " for name in spaces) + "".join(
        f"{'template<> ' * ('<' in n)}class {n} {{ public: " for n in types
    )
    return before, line, "}; " * len(types) + "} " * len(spaces)


#: A type, with those that it stands in.
_JAVA_TYPE = re.compile(r"((?:^|\s)(?:class|@?interface|enum|record)\s+)(?:\w+\.)*(\w+)")


def _java(text: str, owner: Owner) -> _Form | None:
    package = f"package {owner.package}; " if owner.package else ""
    keyword = {"interface": "interface", "annotation": "@interface", "enum": "class"}.get(owner.kind, "class")
    before = package + "".join(f"public class {name} {{ " for name in owner.names[:-1])
    before += "".join(f"public {keyword} {name} {{ " for name in owner.names[-1:])
    text = _JAVA_TYPE.sub(r"\1\2", text, count=1)
    name = re.escape(owner.names[-1]) if owner.names else ""
    modifiers = r"(?:@\w+(?:\([^)]*\))? |public |protected |private |<[^(]*> )*"
    is_constructor = name and re.match(rf"{modifiers}{name}\s*\(", text)
    body = " {}" if (_JAVA_TYPE.search(text) or is_constructor) and "{" not in text else ";"
    return _Form("X.java", before, text + body, "} " * len(owner.names))


def _python(text: str, owner: Owner) -> _Form | None:
    told = python_source(text, owner.kind)
    if told is None:
        return None
    _, source = told
    outer = (*filter(None, owner.package.split(".")), *owner.names)
    if not owner.is_type:
        module = ".".join(outer)
        return _Form(f"{module.replace('.', '/') or 'x'}.py", "", source, "", module)
    lines = [f"class {owner.names[-1]}:", *(f"    {line}" for line in source.split("\n"))]
    return _Form("x.py", lines[0], "\n".join(lines[1:]), "", ".".join(outer[:-1]))


_FORMS: dict[str, Callable[[str, Owner], _Form | None]] = {"cpp": _cpp, "c": _cpp, "java": _java, "python": _python}
