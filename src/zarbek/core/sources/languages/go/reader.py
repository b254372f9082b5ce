"""One Go file to its symbols, scope and findings."""

from __future__ import annotations

import re

from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.comment_blocks import block_lines, marked_lines, trim
from zarbek.core.sources.comments.go import read_go_comment
from zarbek.core.sources.languages.declarations import DeclarationReader
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import SourceTree, end_line_of, find_child, find_children, line_of
from zarbek.core.sources.markup.inline import MentionSink

PLAIN_TYPES = frozenset(
    "any bool byte comparable complex64 complex128 error float32 float64 int int8 int16 int32 int64 rune string uint "
    "uint8 uint16 uint32 uint64 uintptr map chan func struct interface".split()
)
_DIRECTIVE = re.compile(r"//(?:go:|line |export |extern |\s?\+build|[a-z0-9]+:[a-z0-9])")
_VERSION = re.compile(r"/v\d+$")


def read_go(tree: SourceTree, source: SourceFile) -> SourceReading:
    """Symbols of one file of a package, in source order."""
    return _GoReader(tree, source, PLAIN_TYPES).read()


class _GoReader(DeclarationReader):
    form = "// …, right above the declaration"

    def read(self) -> SourceReading:
        root = self.tree.root
        self.package = self.source.module
        clause = find_child(root, "package_clause")
        self.is_command = clause is not None and self.tree.text(clause).split()[-1:] == ["main"]
        self.is_internal = "/internal/" in f"/{self.package}/"
        self.imports: dict[str, str] = {}
        self.wildcards: list[str] = []
        for node in find_children(root, "import_declaration"):
            for spec in self._specs(node, "import_spec"):
                self._import(spec)
        self.known = frozenset(self.imports)
        comments: list[Node] = []
        for node in root.named_children:
            if node.type == "comment":
                self._collect(comments, node)
                continue
            held = comments if comments and end_line_of(comments[-1]) == line_of(node) - 1 else []
            self._item(node, held)
            comments = []
        scope = Scope(self.file, self.package, self.imports, self.wildcards, "go")
        self.reading.parts.append(ModulePart(scope))
        return self.reading

    @staticmethod
    def _specs(node: Node, kind: str) -> list[Node]:
        holder = find_child(node, f"{kind}_list")
        return list(find_children(holder or node, kind, *(("type_alias",) if kind == "type_spec" else ())))

    def _import(self, spec: Node) -> None:
        path = self.tree.text(spec.child_by_field_name("path")).strip('"`')
        name = self.tree.text(spec.child_by_field_name("name"))
        if name == ".":
            self.wildcards.append(path)
        elif name != "_" and path:
            last = _VERSION.sub("", path).rpartition("/")[2]
            self.imports[name or last.removeprefix("go-").partition(".")[0]] = path

    # Comments -----------------------------------------------------------------------------

    def _collect(self, comments: list[Node], node: Node) -> None:
        """Comments that adjoin are one text."""
        if comments and end_line_of(comments[-1]) != line_of(node) - 1:
            comments.clear()
        comments.append(node)

    def _doc(self, comments: list[Node], sink: MentionSink) -> Doc | None:
        raws = [(self.tree.text(c), line_of(c)) for c in comments]
        raws = [(raw, line) for raw, line in raws if not _DIRECTIVE.match(raw)]
        if not raws:
            return None
        line = raws[0][1]
        is_block = raws[0][0].startswith("/*")
        lines = block_lines(raws[0][0], 2) if is_block else marked_lines([raw for raw, _ in raws], 2)
        lines, line = trim(lines, line)
        return read_go_comment(lines, line, sink, self.known) if lines else None

    def _comments_of(self, nodes: list[Node], index: int, pending: list[Node]) -> list[Node]:
        """The comment above a spec or field, else the one behind it on its line."""
        node = nodes[index]
        if pending and end_line_of(pending[-1]) == line_of(node) - 1:
            return pending
        after = nodes[index + 1] if index + 1 < len(nodes) else None
        if after is not None and after.type == "comment" and line_of(after) == end_line_of(node):
            return [after]
        return []

    # Declarations -------------------------------------------------------------------------

    def _level(self, name: str, outer: str = "public") -> str:
        if not name[:1].isupper() or outer == "private":
            return "private"
        return "internal" if self.is_internal or self.is_command else "public"

    def _item(self, node: Node, comments: list[Node]) -> None:
        kind = node.type
        if kind == "package_clause":
            self._package(node, comments)
        elif kind == "function_declaration":
            self._function(node, comments)
        elif kind == "method_declaration":
            self._method(node, comments)
        elif kind == "type_declaration":
            self._group(node, comments, "type_spec")
        elif kind == "const_declaration":
            self._group(node, comments, "const_spec")
        elif kind == "var_declaration":
            self._group(node, comments, "var_spec")

    def _package(self, node: Node, comments: list[Node]) -> None:
        sink = self.sink()
        doc = self._doc(comments, sink)
        self.reading.symbols.append(Symbol(
            path=self.package, name=self.tree.text(node.named_children[0]), kind="package", language="go",
            module=self.package, visibility="internal" if self.is_internal else "public", file=self.file,
            line=line_of(node), end_line=line_of(node), doc=doc, mentions=sink.mentions,
        ))  # fmt: skip

    def _group(self, node: Node, comments: list[Node], kind: str) -> None:
        holder = find_child(node, f"{kind}_list") or node
        nodes = holder.named_children
        is_grouped = self.tree.data[node.start_byte : node.start_byte + 12].find(b"(") > 0
        pending: list[Node] = []
        for index, spec in enumerate(nodes):
            if spec.type == "comment":
                if line_of(spec) != (end_line_of(nodes[index - 1]) if index else 0):
                    self._collect(pending, spec)
                continue
            own = self._comments_of(nodes, index, pending) if is_grouped else comments
            held = own or (comments if is_grouped else [])
            if spec.type in ("type_spec", "type_alias"):
                self._type(spec, held)
            elif spec.type in ("const_spec", "var_spec"):
                self._values(spec, held, "constant" if kind == "const_spec" else "variable")
            pending = []

    def _add(self, node: Node, comments: list[Node], name: str, kind: str, parent: str, text: str, *,
             level: str = "", types: tuple[str, ...] = (), bases: tuple[str, ...] = (), skip: tuple[str, ...] = (),
             parameters: list[Parameter] | None = None, returns: str = "", value: str = "", type_text: str = "",
             flags: tuple[str, ...] = ()) -> Symbol:  # fmt: skip
        sink = self.sink()
        doc = self._doc(comments, sink)
        line = line_of(node)
        self.mention_types(sink, types, line, skip=skip)
        self.mention_types(sink, bases, line, "base", "base", skip)
        path = f"{parent}.{name}"
        symbol = Symbol(
            path=path, name=name, kind=kind, language="go", module=self.package, parent=parent,
            visibility=level or self._level(name), file=self.file, line=line, end_line=end_line_of(node),
            signatures=[Signature(parameters or [], returns, [], text)], bases=list(bases), type=type_text, value=value,
            flags=list(flags), doc=doc, mentions=sink.mentions,
        )  # fmt: skip
        self.reading.symbols.append(symbol)
        return symbol

    def _type(self, spec: Node, comments: list[Node]) -> None:
        name = self.tree.text(spec.child_by_field_name("name"))
        body = spec.child_by_field_name("type")
        generics = self.tree.folded(spec.child_by_field_name("type_parameters"))
        skip = tuple(re.findall(r"[\[,]\s*(\w+)", generics))
        form = body.type if body is not None else ""
        kind = {"struct_type": "struct", "interface_type": "interface"}.get(form, "type")
        target = self.tree.folded(body) if kind == "type" else ""
        equals = "= " if spec.type == "type_alias" else ""
        text = f"type {name}{generics} {equals}{target or kind}"
        fields = body if kind != "type" else None
        bases = tuple(self._embedded(body)) if fields is not None and body is not None else ()
        if kind == "type" and re.fullmatch(r"[*]?[\w.]+(?:\[.*\])?", target):
            bases = (target.lstrip("*").partition("[")[0],)
        symbol = self._add(spec, comments, name, kind, self.package, text, types=(target,) if kind == "type" else (),
                           bases=bases, skip=skip)  # fmt: skip
        if fields is not None:
            self._members(fields, symbol, skip)

    def _embedded(self, body: Node) -> list[str]:
        found = []
        holder = find_child(body, "field_declaration_list") or body
        for node in holder.named_children:
            if node.type == "field_declaration" and node.child_by_field_name("name") is None:
                found.append(self.tree.folded(node.child_by_field_name("type")).lstrip("*"))
            elif node.type == "type_elem" and len(node.named_children) == 1:
                text = self.tree.folded(node)
                if re.fullmatch(r"[\w.]+", text) and text not in PLAIN_TYPES:
                    found.append(text)
        return found

    def _members(self, body: Node, owner: Symbol, skip: tuple[str, ...]) -> None:
        holder = find_child(body, "field_declaration_list") or body
        nodes = holder.named_children
        pending: list[Node] = []
        for index, node in enumerate(nodes):
            if node.type == "comment":
                if line_of(node) != (end_line_of(nodes[index - 1]) if index else 0):
                    self._collect(pending, node)
                continue
            comments = self._comments_of(nodes, index, pending)
            if node.type == "field_declaration":
                type_text = self.tree.folded(node.child_by_field_name("type"))
                for named in node.children_by_field_name("name"):
                    name = self.tree.text(named)
                    self._add(node, comments, name, "field", owner.path, f"{name} {type_text}", types=(type_text,),
                              skip=skip, type_text=type_text, level=self._level(name, owner.visibility))  # fmt: skip
            elif node.type == "method_elem":
                self._callable(node, comments, owner.path, "method", skip, self._level(
                    self.tree.text(node.child_by_field_name("name")), owner.visibility))  # fmt: skip
            pending = []

    def _function(self, node: Node, comments: list[Node]) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        if name not in ("init", "_") and not (name == "main" and self.is_command):
            self._callable(node, comments, self.package, "function", (), self._level(name))

    def _method(self, node: Node, comments: list[Node]) -> None:
        receiver = self.tree.folded(node.child_by_field_name("receiver"))
        match = re.search(r"\*?\s*([A-Za-z_]\w*)\s*(\[[^\]]*\])?\s*\)$", receiver)
        if match is None:
            return
        skip = tuple(re.findall(r"\w+", match[2] or ""))
        name = self.tree.text(node.child_by_field_name("name"))
        level = self._level(name, self._level(match[1]))
        self._callable(node, comments, f"{self.package}.{match[1]}", "method", skip, level)

    def _callable(
        self, node: Node, comments: list[Node], parent: str, kind: str, skip: tuple[str, ...], level: str
    ) -> None:
        tree = self.tree
        name = tree.text(node.child_by_field_name("name"))
        generics = tree.folded(node.child_by_field_name("type_parameters"))
        skip = (*skip, *re.findall(r"[\[,]\s*(\w+)", generics))
        result = node.child_by_field_name("result")
        returns = tree.folded(result)
        body = node.child_by_field_name("body")
        text = tree.between(node.start_byte, body.start_byte if body is not None else node.end_byte)
        parameters = self._parameters(node.child_by_field_name("parameters"))
        results = self._parameters(result) if result is not None and result.type == "parameter_list" else []
        given = [r.type for r in results] or [returns]
        symbol = self._add(
            node, comments, name, kind, parent, text, level=level, types=(*given, *(p.type for p in parameters),
            generics),
            skip=(*skip, *(p.name for p in (*parameters, *results))), parameters=parameters, returns=returns,
        )  # fmt: skip
        if symbol.doc is None and symbol.visibility == "public" and comments:
            self.report_wrong_comment(comments[-1], node, symbol.path, name)

    def _parameters(self, holder: Node | None) -> list[Parameter]:
        found: list[Parameter] = []
        for part in holder.named_children if holder is not None else ():
            type_text = self.tree.folded(part.child_by_field_name("type"))
            names = [self.tree.text(n) for n in part.children_by_field_name("name")] or [""]
            kind = "variadic" if part.type == "variadic_parameter_declaration" else "positional"
            found += [Parameter(name, kind, type_text) for name in names if part.type != "comment"]
        return found

    def _values(self, spec: Node, comments: list[Node], kind: str) -> None:
        type_text = self.tree.folded(spec.child_by_field_name("type"))
        values = spec.child_by_field_name("value")
        texts = [self.value(v) for v in values.named_children] if values is not None else []
        for index, node in enumerate(spec.children_by_field_name("name")):
            name = self.tree.text(node)
            if name == "_":
                continue
            value = texts[index] if index < len(texts) and kind == "constant" else ""
            word = "const" if kind == "constant" else "var"
            text = " ".join(filter(None, (word, name, type_text))) + (f" = {value}" if value else "")
            self._add(
                spec, comments, name, kind, self.package, text, types=(type_text,), value=value, type_text=type_text
            )
