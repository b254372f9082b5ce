"""One file of JavaScript or TypeScript to its symbols, scope and findings."""

from __future__ import annotations

import re

import msgspec
from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.sources.languages.ecmascript.assignments import (
    CLASS_VALUE,
    DECLARATIONS,
    FUNCTION_VALUES,
    assignment_of,
)
from zarbek.core.sources.languages.ecmascript.functions import FunctionReader
from zarbek.core.sources.languages.ecmascript.imports import Imports
from zarbek.core.sources.languages.ecmascript.members import CLASSES
from zarbek.core.sources.languages.ecmascript.parsing import parse_ecmascript
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import (
    MAX_DEPTH,
    SourceTree,
    end_line_of,
    find_child,
    find_children,
    line_of,
)

PLAIN_TYPES = frozenset(
    "any bigint boolean never null number object string symbol undefined unknown void this true false keyof "
    "typeof readonly "
    "infer extends is asserts in out unique new Promise Array Record Partial Readonly Map Set Date Error RegExp "
    "Function Object "
    "async function const let var class static get set abstract declare export default enum type interface "
    "namespace".split()
)
_WRAPPERS = frozenset({"export_statement", "ambient_declaration", "expression_statement"})
_FUNCTIONS = frozenset({"function_declaration", "generator_function_declaration", "function_signature"})
_SIMPLE = frozenset({"number", "string", "true", "false", "unary_expression", "template_string"})
_FILE_TAGS = re.compile(r"@(?:packageDocumentation|module|fileoverview|file)\b")
_TYPEDEF = re.compile(r"@(typedef|callback)\s+(?:\{(.*?)\}\s+)?([A-Za-z_$][\w$]*)", re.DOTALL)


def read_ecmascript(text: bytes, source: SourceFile) -> tuple[SourceReading, SourceTree]:
    """Symbols of one module, in source order."""
    tree = parse_ecmascript(text, source)
    return _EcmascriptReader(tree, source, PLAIN_TYPES).read(), tree


def source_roots(source: SourceFile) -> list[str]:
    """The package's own module: what it exports can be named in the comments of all its files."""
    return source.options.get("root", [])


class _EcmascriptReader(FunctionReader):
    def read(self) -> SourceReading:
        root = self.tree.root
        self.module = self.source.module
        self.imports = Imports(self.tree, self.source)
        self.imports.read(root)
        self.imports.wildcards += [r for r in source_roots(self.source) if r != self.source.module]
        self.is_script = not self.imports.is_module
        self.seen: dict[str, int] = {}
        self._module_symbol(root)
        self._items(root, self.module, "public", 0, exported=self.is_script, ambient=self.source.is_stub)
        self._apply_exports()
        scope = Scope(self.file, self.module, self.imports.names, self.imports.wildcards, self.source.language)
        self.reading.parts.insert(0, ModulePart(
            scope, self.source.is_package, reexports=self.imports.reexports, spreads=self.imports.spreads
        ))  # fmt: skip
        return self.reading

    def _module_symbol(self, root: Node) -> None:
        first = next((c for c in root.named_children if c.type == "comment" and self._is_doc(c)), None)
        sink = self.sink()
        doc = None
        if first is not None and _FILE_TAGS.search(self.tree.text(first)):
            doc = self._read(first, sink)[0]
        self.reading.symbols.append(Symbol(
            path=self.module, name=self.module.rpartition("/")[2] or self.module, kind="module",
            language=self.source.language, module=self.module, file=self.file, line=1, end_line=end_line_of(root),
            visibility="internal" if "sealed" in self.source.options else "public",
            doc=doc, mentions=sink.mentions,
        ))  # fmt: skip

    def _apply_exports(self) -> None:
        """What is exported apart from its declaration."""
        stand_ins: set[str] = set()
        for local, exported in self.imports.exported.items():
            path = f"{self.module}.{local}"
            at = self.seen.get(path)
            if (handed_on := self.imports.names.get(local, "")).startswith("file:"):  # A variable stands in for it.
                self.imports.reexports.append((f"{self.module}.{exported}", handed_on))
                if exported != local:
                    stand_ins.add(path)
                    continue
            if at is None:
                continue
            symbol = self.reading.symbols[at]
            if "internal" not in symbol.flags:
                self.reading.symbols[at] = msgspec.structs.replace(symbol, visibility="public")
                for index, member in enumerate(self.reading.symbols):
                    if member.parent == path and member.visibility == "internal" and "internal" not in member.flags:
                        self.reading.symbols[index] = msgspec.structs.replace(member, visibility="public")
            if exported != local:
                self.imports.reexports.append((f"{self.module}.{exported}", path))
        if stand_ins:
            self.reading.symbols[:] = [s for s in self.reading.symbols if s.path not in stand_ins]

    def _typedefs(self, comment: Node, exported: bool) -> None:
        """Types that only a comment declares (JavaScript)."""
        raw = self.tree.text(comment)
        for match in _TYPEDEF.finditer(raw):
            kind = "type"
            sink = self.sink()
            doc, _ = self._read(comment, sink)
            type_text = " ".join((match[2] or "").split()) or ("Function" if match[1] == "callback" else "")
            self._keep(Symbol(
                path=f"{self.module}.{match[3]}", name=match[3], kind=kind, language=self.source.language,
                module=self.module,
                parent=self.module, visibility="public" if exported or self.imports.is_module else "internal",
                file=self.file,
                line=line_of(comment), end_line=end_line_of(comment), doc=doc, mentions=sink.mentions,
                signatures=[Signature(text=f"type {match[3]}" + (f" = {type_text}" if type_text else ""))],
            ))  # fmt: skip

    def _items(self, container: Node, parent: str, outer: str, depth: int, *, exported: bool, ambient: bool) -> None:
        comment: Node | None = None
        for node in container.named_children:
            if node.type == "comment":
                comment = node
                if self.source.language == "javascript" and self._is_doc(node):
                    self._typedefs(node, exported)
                continue
            if depth <= MAX_DEPTH:
                self._item(node, node, comment, parent, outer, depth, exported=exported, ambient=ambient)
            if node.type != "decorator":
                comment = None

    def _item(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, depth: int, *, exported: bool,
        ambient: bool
    ) -> None:  # fmt: skip
        kind = node.type
        if kind in _WRAPPERS:
            self._unwrap(node, whole, comment, parent, outer, depth, exported=exported, ambient=ambient)
        elif kind in CLASSES:
            self._class(node, whole, comment, parent, outer, depth, exported=exported)
        elif kind in _FUNCTIONS:
            self._function(node, whole, comment, parent, outer, exported=exported)
        elif kind in DECLARATIONS:
            self._variables(node, whole, comment, parent, outer, exported=exported)
        elif kind == "type_alias_declaration":
            self._alias(node, whole, comment, parent, outer, exported=exported)
        elif kind in ("internal_module", "module"):
            self._namespace(node, whole, comment, parent, outer, depth, exported=exported, ambient=ambient)
        elif kind == "assignment_expression" and self.source.language == "javascript":
            self._assigned(node, whole, comment, outer)

    def _unwrap(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, depth: int, *, exported: bool,
        ambient: bool
    ) -> None:  # fmt: skip
        is_export = node.type == "export_statement"
        is_ambient = ambient or node.type == "ambient_declaration"
        block = find_child(node, "statement_block")
        if block is not None and node.type == "ambient_declaration":  # declare global { … }
            self._items(block, parent, outer, depth + 1, exported=True, ambient=True)
            return
        inner = node.child_by_field_name("declaration") or node.child_by_field_name("value")
        candidates = [inner] if inner is not None else [c for c in node.named_children if c.type != "comment"]
        for child in candidates:
            self._item(child, whole, comment, parent, outer, depth, exported=exported or is_export, ambient=is_ambient)

    def _variables(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, *, exported: bool
    ) -> None:
        is_constant = self.tree.data[node.start_byte : node.start_byte + 6].startswith(b"const")
        for part in find_children(node, "variable_declarator"):
            named, value = part.child_by_field_name("name"), self._value_of(part)
            name = self.tree.text(named) if named is not None and named.type == "identifier" else ""
            is_others = parent == self.module and name in self.imports.names
            if not name or (is_others and name not in self.imports.exported):
                continue
            if value is not None and value.type in FUNCTION_VALUES:
                self._callable(value, part, whole, comment, parent, outer, name, exported=exported)
            elif value is not None and value.type == CLASS_VALUE:
                self._class(value, whole, comment, parent, outer, 1, exported=exported)
            else:
                kind = "constant" if is_constant and not is_others else "variable"
                visibility = self._level(outer, exported)
                self._value(part, whole, comment, parent, visibility, name, kind, is_constant=is_constant)

    def _value_of(self, part: Node) -> Node | None:
        """What a variable is declared with; of a module that it stands for, what that is."""
        value = part.child_by_field_name("value")
        assigned = assignment_of(self.tree, value) if value is not None else None
        return assigned.value if assigned is not None else value

    def _value(
        self, part: Node, whole: Node, comment: Node | None, parent: str, visibility: str, name: str, kind: str,
        *, is_constant: bool,
    ) -> None:  # fmt: skip
        value, type_text = part.child_by_field_name("value"), self._type(part.child_by_field_name("type"))
        shown = self.value(value) if value is not None and value.type in _SIMPLE and is_constant else ""
        head = f"{'const' if is_constant else 'let'} {name}"
        head += (f": {type_text}" if type_text else "") + (f" = {shown}" if shown else "")
        self._add(
            part, whole, comment, name=name, kind=kind, parent=parent, visibility=visibility, head=head,
            types=[type_text], type_text=type_text, value=shown,
        )  # fmt: skip

    def _alias(self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, *, exported: bool) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        value = node.child_by_field_name("value")
        target = self.tree.folded(value)
        simple = re.fullmatch(r"[\w.$]+(?:<.*>)?(?:\s*&\s*[\w.$]+(?:<.*>)?)*", target) is not None
        symbol = self._add(
            node, whole, comment, name=name, kind="type", parent=parent, visibility=self._level(outer, exported),
            head=self._head(node, node.end_byte), types=[target], generics=self._generics(node),
            bases=[part.strip() for part in target.split("&")] if simple else [],
        )  # fmt: skip
        if value is not None and value.type == "object_type":
            self._members(value, symbol, 1)

    def _namespace(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, depth: int, *, exported: bool,
        ambient: bool
    ) -> None:  # fmt: skip
        named = node.child_by_field_name("name")
        body = node.child_by_field_name("body")
        if named is None:
            return
        if named.type == "string":  # declare module "x" { … }: another module by its name.
            if body is not None:
                held, self.module = self.module, self.tree.text(named).strip("\"'")
                self.reading.parts.append(
                    ModulePart(Scope(f"{self.file}#{self.module}", self.module, {}, [], self.source.language))
                )
                self._items(body, self.module, outer, depth + 1, exported=True, ambient=True)
                self.module = held
            return
        name = self.tree.folded(named).replace(" ", "")
        symbol = self._add(
            node, whole, comment, name=name, kind="namespace", parent=parent, visibility=self._level(outer, exported),
            head=f"namespace {name}",
        )  # fmt: skip
        if body is not None:
            self._items(body, symbol.path, symbol.visibility, depth + 1, exported=ambient, ambient=ambient)
