"""Attributes and documentation comments before (and inside) an item. Source: The Rust Reference,
"Attributes", "Comments", "Diagnostics: the deprecated attribute"."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from tree_sitter import Node

from zarbek.core.sources.comments.comment_blocks import block_lines
from zarbek.core.sources.languages.syntax_tree import SourceTree, line_of

_STRING = re.compile(r'r(#*)"(.*?)"\1|"((?:[^"\\]|\\.)*)"', re.DOTALL)
_SPOKEN = re.compile(_STRING.pattern + r"|stringify!\s*\((?P<named>[^()]*)\)", re.DOTALL)
_PAIR = re.compile(r'\b(\w++)\s*+=\s*+("(?:[^"\\]|\\.)*")')
_ESCAPES = {"\\n": "\n", '\\"': '"', "\\\\": "\\", "\\t": "\t"}


#: Begins what stands for the text of a file until that is put there.
_FILE_MARK = "\0"
_FILE = re.compile(r'\s*include_str!\s*[(\[{]\s*(r?#*"[^"\n]*"#*)\s*[)\]}]\s*')


@dataclass(slots=True)
class Attributes:
    """What stands before one item. lines: documentation; line: of the first, or 0."""

    lines: list[str] = field(default_factory=list)
    line: int = 0
    hidden: bool = False
    derives: list[str] = field(default_factory=list)
    deprecated: tuple[str, str] | None = None
    shown: list[str] = field(default_factory=list)
    is_exported: bool = False
    primitive: str = ""
    file_path: str = ""
    comment: Node | None = None

    @property
    def flags(self) -> list[str]:
        """Who hides an item from readers leaves it to callers (The Rust Reference, "The doc attribute")."""
        return ["unlisted"] if self.hidden else []

    def add_lines(self, lines: list[str], line: int) -> None:
        """Add lines of doc text that begin at a line of the file."""
        if not self.lines:
            self.line = line
        self.lines += lines

    def text_lines(self, included: Mapping[str, str]) -> list[str]:
        """The documentation without the indentation that all lines share.

        included: name of a file, as it is written, to its text; one that is not there says nothing.
        """
        own = [t for t in self.lines if not t.startswith(_FILE_MARK)]
        margin = min((len(t) - len(t.lstrip()) for t in own if t.strip()), default=0)
        found: list[str] = []
        for text in self.lines:
            if text.startswith(_FILE_MARK):
                found += included.get(text[len(_FILE_MARK) :], "").splitlines()
            else:
                found.append(text[margin:].rstrip())
        return found

    @property
    def is_included(self) -> bool:
        """Whether text stands in another file."""
        return any(t.startswith(_FILE_MARK) for t in self.lines)


#: What stands in no build that others use.
_ONLY_TESTS = re.compile(r"cfg\s*\(\s*(?:doc)?test\s*\)")
_SHOWN = frozenset({"must_use", "non_exhaustive", "repr", "no_mangle", "target_feature", "proc_macro_derive"})


def read_comment(node: Node, tree: SourceTree, into: Attributes, *, inner: bool = False, shift: int = 0) -> None:
    """A comment: documentation of the kind asked for (inner or outer), or an ordinary one."""
    text = tree.text(node)
    line = line_of(node) + shift
    mark = "//!" if inner else "///"
    if node.type == "line_comment":
        if text.startswith(mark) and not text.startswith("////"):
            into.add_lines([text[3:].rstrip("\n")], line)
        elif not text.startswith(("///", "//!")):
            into.comment = node
    elif text.startswith("/*!" if inner else "/**") and not text.startswith(("/***", "/**/")):
        into.add_lines([" " + part if part else "" for part in block_lines(text)], line)


def read_attribute(node: Node, tree: SourceTree, into: Attributes, shift: int = 0) -> None:
    """Take what an attribute says of its item (Rust reference, Attributes). shift: lines before the tree's first."""
    attribute = next((c for c in node.named_children if c.type == "attribute"), None)
    if attribute is None or not attribute.named_child_count:
        return
    name = tree.text(attribute.named_children[0])
    body = tree.text(attribute)
    if name == "cfg_attr" and "doc" in body:
        body = body[body.find("doc") :]
        name = "doc"
    if name == "doc":
        _read_doc(body, line_of(node) + shift, into)
    elif name in _SHOWN:
        into.shown.append("#[" + " ".join(body.split()) + "]")
    elif name in _READ:
        _READ[name](body, into)


def _read_cfg(body: str, into: Attributes) -> None:
    into.hidden = into.hidden or _ONLY_TESTS.fullmatch(body) is not None


def _read_derive(body: str, into: Attributes) -> None:
    into.derives += [p.strip() for p in body.partition("(")[2].rstrip(") ").split(",") if p.strip()]


def _read_deprecated(body: str, into: Attributes) -> None:
    values = {k: _unquoted(v) for k, v in _PAIR.findall(body)}
    note = values.get("note", values.get("reason", ""))
    if not values and '"' in body:
        note = _unquoted(body[body.index('"') :])
    into.deprecated = (values.get("since", ""), note)


def _read_export(_body: str, into: Attributes) -> None:
    into.is_exported = True


def _read_path(body: str, into: Attributes) -> None:
    into.file_path = _unquoted(body.partition("=")[2].strip())


def _read_primitive(body: str, into: Attributes) -> None:
    into.primitive = _unquoted(body.partition("=")[2].strip())


_READ: dict[str, Callable[[str, Attributes], None]] = {
    "cfg": _read_cfg,
    "derive": _read_derive,
    "deprecated": _read_deprecated,
    "rustc_deprecated": _read_deprecated,
    "macro_export": _read_export,
    "path": _read_path,
    "rustc_doc_primitive": _read_primitive,
}


def _read_doc(body: str, line: int, into: Attributes) -> None:
    head, equals, value = body.partition("=")
    if equals and "(" not in head:
        if file := _FILE.match(value):
            into.add_lines([_FILE_MARK + _unquoted(file[1])], line)
            return
        into.add_lines([" " + t for t in _spoken(value).split("\n")], line)
        return
    inside = body.partition("(")[2]
    into.hidden = into.hidden or bool(re.search(r"\bhidden\b", inside))
    primitive = re.search(r'primitive\s*=\s*"(\w+)"', inside)
    if primitive:
        into.primitive = primitive[1]


def _spoken(value: str) -> str:
    """The text of a string or of ``concat!`` over strings and names; what only a build knows is left out."""
    parts = []
    for match in _SPOKEN.finditer(value):
        if match["named"] is not None:
            parts.append(match["named"].strip())
        else:
            parts.append(match[2] if match[2] is not None else _unescaped(match[3] or ""))
    return "".join(parts)


def _unescaped(text: str) -> str:
    return re.sub(r'\\[n"\\t]', lambda m: _ESCAPES[m[0]], text)


def _unquoted(text: str) -> str:
    match = _STRING.search(text)
    return (match[2] if match[2] is not None else _unescaped(match[3] or "")) if match else ""
