"""Where declarations of C and C++ stand, and how they become symbols."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from tree_sitter import Node

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.cpp import is_documentation, is_trailing, read_comment
from zarbek.core.sources.languages.cpp.doc_groups import Groups
from zarbek.core.sources.languages.cpp.macros import Prepared
from zarbek.core.sources.languages.declarations import MAX_PATH_CHARS, DeclarationReader, merge_deprecation, narrower
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.syntax_tree import SourceTree, end_line_of, line_of

_DIRECTIVE = re.compile(r"^[ \t]*#[^\n]*$", re.MULTILINE)
_VALUE_MARKS = re.compile(r"\s*(?:\[\[[^\[\]]*\]\]|\w*DEPRECATED\w*(?:\s*\([^()]*\))?)")
_DEPRECATED = re.compile(r"\b\w*DEPRECATED\w*\b\s*(?:\(\s*(?:\"([^\"]*)\")?[^)]*\))?|"
                         r"\[\[\s*deprecated\s*(?:\(\"([^\"]*)\"\))?|"
                         r"__attribute__\s*\(\(\s*_*deprecated_*\s*(?:\(\"([^\"]*)\"\))?")  # fmt: skip


@dataclass(slots=True)
class Place:
    """Where a declaration stands. path: of what encloses it; module: of the namespace or file."""

    path: str
    module: str
    visibility: str = "public"
    access: str = "public"
    owner: str = ""
    depth: int = 0
    generics: list[str] = field(default_factory=list)

    def inside(self, path: str, *, owner: str = "", access: str = "public", visibility: str | None = None) -> Place:
        """The place of what is declared in this one's namespace or, with an owner, type."""
        is_namespace = not owner
        return Place(
            path, path if is_namespace else self.module, visibility or self.visibility, access, owner, self.depth + 1,
            [] if is_namespace else list(self.generics),
        )  # fmt: skip


class Collector(DeclarationReader):
    """Finds the comments and the place of declarations, and keeps their symbols."""

    form = "/** … */ or /// …"

    def __init__(
        self, tree: SourceTree, source: SourceFile, plain: frozenset[str], language: str, prepared: Prepared,
        raw: bytes,
    ) -> None:  # fmt: skip
        super().__init__(tree, source, plain)
        self.language, self.raw, self.parsed, self.regions = language, raw, prepared.data, prepared.regions
        self.is_body = source.file.endswith((".c", ".cc", ".cpp", ".cxx"))
        self.imports: dict[str, str] = {}
        self.wildcards: list[str] = []
        self.values: list[tuple[str, str]] = []
        self.namespaces: set[str] = set()
        self.has_globals = False
        self.groups = Groups()
        self.seen: set[str] = set()

    def _cut(self, start: int, end: int) -> str:
        return self.tree.between(start, end)

    def _read(self, comments: list[Node], sink) -> Doc | None:  # type: ignore[no-untyped-def]
        if not comments:
            return None
        raws = [self.tree.text(c) for c in comments]
        return read_comment(raws, line_of(comments[0]), sink).doc

    def _is_doc(self, node: Node) -> bool:
        return is_documentation(self.tree.data[node.start_byte : node.start_byte + 5].decode(errors="replace"))

    def _is_trailing(self, node: Node) -> bool:
        return is_trailing(self.tree.data[node.start_byte : node.start_byte + 5].decode(errors="replace"))

    def _after(self, nodes: list[Node], index: int) -> list[Node]:
        """Trailing comments of a declaration: on its line and the lines below."""
        found: list[Node] = []
        last = end_line_of(nodes[index])
        for at in range(index + 1, len(nodes)):
            node = nodes[at]
            if node.type != "comment" or not self._is_trailing(node) or line_of(node) > last + 1:
                break
            if not found and line_of(node) != last:
                break
            found.append(node)
            last = end_line_of(node)
        return found

    def _join(self, place: Place, name: str) -> str:
        return f"{place.path}::{name}" if place.path else name

    def _settled(self, node: Node, place: Place) -> Place:
        """The place of a top-level declaration with the namespaces that macros open around it."""
        if place.path or not self.regions:
            return place
        parts = [name for start, end, name in self.regions if start <= node.start_byte < end]
        if not parts:
            return place
        path = "::".join(parts)
        self._namespace_symbols(path, node)
        return Place(path, path, place.visibility, "public", "", place.depth, [])

    def _namespace_symbols(self, path: str, node: Node, doc: Doc | None = None, mentions: list[Mention] | None = None,
                           visibility: str = "public") -> None:  # fmt: skip
        if path in self.namespaces and doc is None:
            return
        self.namespaces.add(path)
        parent, _, name = path.rpartition("::")
        if parent:
            self._namespace_symbols(parent, node)
        self.reading.symbols.append(Symbol(
            path=path, name=name, kind="namespace", language=self.language, module=path, parent=parent,
            visibility=visibility, file=self.file, line=line_of(node), end_line=line_of(node), doc=doc,
            mentions=mentions or [],
        ))  # fmt: skip

    def _global(self, path: str, place: Place) -> None:
        if not path or place.module == self.source.file:
            self.has_globals = True

    def _add(
        self, node: Node, whole: Node, comments: list[Node], place: Place, kind: str, name: str, path: str,
        head: str, *,
        bases: list[str] | None = None, parameters: list[Parameter] | None = None, returns: str = "",
        flags: list[str] | None = None, types: list[str] | None = None, value: str = "", type_text: str = "",
        is_local: bool = False,
    ) -> Symbol | None:  # fmt: skip
        if not name:
            return None
        sink = self.sink()
        doc = self._read(comments, sink)
        line = line_of(whole)
        self.mention_types(sink, types or [], line, skip=place.generics)
        if kind != "type":
            self.mention_types(sink, bases or [], line, "base", "base", place.generics)
        original = self.raw[max(whole.start_byte - 120, 0) : min(node.end_byte, whole.start_byte + 2000)]
        doc = self._deprecation(original.decode(errors="replace"), whole, doc)
        visibility = narrower(place.visibility, place.access)
        if is_local:
            visibility = "private"
        elif self.is_body and not place.owner:
            visibility = narrower(visibility, "internal")
        self._global(place.path, place)
        symbol = Symbol(
            path=path[:MAX_PATH_CHARS], name=name, kind=kind, language=self.language, module=place.module,
            parent=place.path or place.module, visibility=visibility, file=self.file, line=line,
            end_line=end_line_of(whole), signatures=[Signature(parameters or [], returns, [], head)],
            bases=bases or [], type=type_text, value=value, flags=flags or [], doc=doc, mentions=sink.mentions,
        )  # fmt: skip
        self.reading.symbols.append(symbol)
        self._grouped(symbol.path, comments, line, is_member=bool(place.owner))
        return symbol

    def _grouped(self, path: str, comments: list[Node], line: int, *, is_member: bool = False) -> None:
        self.groups.join(path, [self.tree.text(c) for c in comments], is_member=is_member, line=line)

    def _deprecation(self, text: str, whole: Node, doc: Doc | None) -> Doc | None:
        """What an attribute or a macro of that meaning says, on the declaration's own lines."""
        start = min(whole.start_byte, 120)
        before, own = _DIRECTIVE.split(text[:start])[-1], text[start:]
        before = before[max(before.rfind(";"), before.rfind("}"), before.rfind("{"), before.rfind("*/")) + 1 :]
        head = own.partition("{")[0].partition(";")[0]
        return _with_deprecation(_DEPRECATED.search(f"{before}{head}"), doc)

    def _value_deprecation(self, node: Node, doc: Doc | None) -> Doc | None:
        """What an attribute after the name of an enumeration's value says."""
        name = node.child_by_field_name("name")
        raw = self.raw[(name or node).end_byte : node.end_byte + 300].decode(errors="replace")
        marks = _VALUE_MARKS.match(raw)
        return _with_deprecation(_DEPRECATED.search(marks[0]) if marks is not None else None, doc)


def _with_deprecation(match: re.Match[str] | None, doc: Doc | None) -> Doc | None:
    if match is None:
        return doc
    message = next(filter(None, match.groups()), "")
    return merge_deprecation(doc, "", message, find_instead)
