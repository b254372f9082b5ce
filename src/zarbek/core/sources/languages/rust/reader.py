"""One Rust file to its symbols, scopes and findings."""

from __future__ import annotations

import re
from typing import NamedTuple

import msgspec
from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.rust.attributes import Attributes, read_attribute, read_comment
from zarbek.core.sources.languages.rust.items import ItemReader
from zarbek.core.sources.languages.rust.macro_expansion import Macros
from zarbek.core.sources.languages.rust.parsing import known_to_grammar
from zarbek.core.sources.languages.rust.uses import absolute_path, iter_uses
from zarbek.core.sources.languages.syntax_tree import MAX_DEPTH, SourceTree, end_line_of, find_child, find_children
from zarbek.core.sources.markup.inline import MentionSink

PLAIN_TYPES = frozenset(
    "bool char str u8 u16 u32 u64 u128 usize i8 i16 i32 i64 i128 isize f32 f64 Self self Some None Ok Err "
    "Option Result String Vec Box Sized mut const dyn impl fn where for as unsafe extern pub ref move crate "
    "super async".split()
)
_ITEMS = {
    "struct_item": "struct", "enum_item": "enum", "union_item": "union", "trait_item": "trait",
    "function_item": "function", "function_signature_item": "function", "const_item": "constant",
    "static_item": "variable", "type_item": "type", "associated_type": "type", "macro_definition": "macro",
    "mod_item": "module",
}  # fmt: skip
_PRIMITIVE_FORMS = {
    "array_type": "array", "tuple_type": "tuple", "pointer_type": "pointer", "reference_type": "reference",
    "function_type": "fn", "never_type": "never", "unit_type": "unit",
}  # fmt: skip
_MAKES_ITEMS = re.compile(rb"\b(?:struct|enum|union|trait|fn|const|static|type|mod|impl|use)\b|\w!\s*[({\[]")
#: Macros that call macros that call macros.
_MOST_LEVELS = 8
#: Parent of a macro's items until it is known where the macro is used.
TEMPLATE = "§"


def read_rust(data: bytes, source: SourceFile) -> tuple[SourceReading, SourceTree]:
    """Symbols of one file, its inline modules included, in source order."""
    tree = SourceTree(known_to_grammar(data), "rust", data)
    return _RustReader(tree, source, PLAIN_TYPES).read(), tree


def _open_flag(body: Node) -> list[str]:
    """A module in which macros write items has more than its text shows."""
    calls = ("macro_invocation", "expression_statement")
    return ["open"] if any(n.type in calls for n in body.named_children) else []


class _Declared(NamedTuple):
    """What an item declares. type: what it returns, or is of."""

    kind: str
    signature: Signature
    flags: list[str]
    type: str = ""
    value: str = ""


class _RustReader(ItemReader):
    def read(self) -> SourceReading:
        self.seen: set[str] = set()
        self.macros, self.level = Macros(), 0
        root = self.tree.root
        self._declare_macros(root, 0)
        module = self.source.module
        inner = self._inner(root)
        sink = self.sink()
        name = module.rpartition("::")[2]
        self._add(Symbol(
            path=module, name=name, kind="module", language="rust", module=module,
            parent=module.rpartition("::")[0], visibility="private" if inner.hidden else "public", file=self.file,
            line=1, end_line=end_line_of(root), doc=self._doc(inner, sink), mentions=sink.mentions,
            flags=[*_open_flag(root), *inner.flags],
        ))  # fmt: skip
        self._items(root, module, 0)
        return self.reading

    def _inner(self, body: Node) -> Attributes:
        """Documentation of what encloses the items, at its beginning."""
        found = Attributes()
        for node in body.named_children:
            if node.type in ("line_comment", "block_comment"):
                read_comment(node, self.tree, found, inner=True, shift=self.shift)
            elif node.type == "inner_attribute_item":
                read_attribute(node, self.tree, found, self.shift)
            else:
                break
        found.comment = None
        return found

    def _items(self, body: Node, module: str, depth: int) -> None:
        made = self._written_in(body)
        local = self._names_of(body).union(*(inner._names_of(inner.tree.root) for inner in made.values()))
        scope = Scope(self.file, module, {}, [], "rust")
        part = ModulePart(scope)
        self.reading.parts.append(part)
        self.local, self.scope, self.part = local, scope, part
        self._read_items(body, module, depth, made)

    def _names_of(self, body: Node) -> set[str]:
        return {self.tree.text(n.child_by_field_name("name")) for n in body.named_children if n.type in _ITEMS}

    def _read_items(self, body: Node, module: str, depth: int, made: dict[int, _RustReader]) -> None:
        """made: readers of what the macros that are called here write."""
        local, scope, part = self.local, self.scope, self.part
        for node in body.named_children:
            if node.type == "extern_crate_declaration":
                self._extern(node)
        for node in find_children(body, "use_declaration"):
            self._use(node, module)
        marks = Attributes()
        for node in body.named_children:
            kind = node.type
            if kind in ("line_comment", "block_comment"):
                read_comment(node, self.tree, marks, shift=self.shift)
                continue
            if kind == "attribute_item":
                read_attribute(node, self.tree, marks, self.shift)
                continue
            if kind == "mod_item":
                self._module(node, marks, module, depth)
                self.local, self.scope, self.part = local, scope, part
            elif kind in _ITEMS:
                self._item(node, marks, module, module, depth)
            elif kind == "impl_item":
                self._impl(node, module)
            elif kind == "foreign_mod_item":
                self._foreign(node, module)
            elif node.id in made:
                self._take_in(made[node.id], node, module, depth)
            marks = Attributes()

    def _declare_macros(self, body: Node, depth: int) -> None:
        for node in body.named_children:
            if node.type == "macro_definition":
                rules = [(self.tree.text(r.child_by_field_name("left")), self.tree.text(r.child_by_field_name("right")))
                         for r in find_children(node, "macro_rule")]  # fmt: skip
                self.macros.declare(self.tree.text(node.child_by_field_name("name")), rules)
            elif node.type == "mod_item" and depth < MAX_DEPTH and (inner := node.child_by_field_name("body")):
                self._declare_macros(inner, depth + 1)

    def _written_in(self, body: Node) -> dict[int, _RustReader]:
        """The readers of what the calls of macros in a body write, by the identity of the call."""
        return {n.id: inner for n in body.named_children if (inner := self._written_by(n)) is not None}

    def _call_of(self, node: Node) -> tuple[Node | None, str]:
        """The call of a macro that stands by itself, and the macro's name."""
        call = node if node.type == "macro_invocation" else find_child(node, "macro_invocation")
        return call, self.tree.text(call.child_by_field_name("macro")) if call is not None else ""

    def _written_by(self, node: Node) -> _RustReader | None:
        """The reader of the items that a call of one of the file's own macros writes."""
        if node.type not in ("macro_invocation", "expression_statement") or self.level >= _MOST_LEVELS:
            return None
        call, name = self._call_of(node)
        arguments = find_child(call, "token_tree") if call is not None else None
        if arguments is None:
            return None
        text = self.macros.expand(name, self.tree.text(arguments)).encode()
        if not _MAKES_ITEMS.search(text):
            return None
        inner = _RustReader(SourceTree(known_to_grammar(text), "rust", text), self.source, self.plain)
        inner.macros, inner.level, inner.seen = self.macros, self.level + 1, self.seen
        return inner

    def _take_in(self, inner: _RustReader, node: Node, module: str, depth: int) -> None:
        """What a macro writes stands where it is called."""
        inner.local, inner.scope, inner.part = self.local, self.scope, self.part
        inner._read_items(inner.tree.root, module, depth + 1, inner._written_in(inner.tree.root))
        start, line, end = len(self.reading.symbols), self._line(node), end_line_of(node) + self.shift
        for symbol in inner.reading.symbols:
            mentions = [msgspec.structs.replace(m, line=line, column=0) for m in symbol.mentions]
            doc = msgspec.structs.replace(symbol.doc, line=line) if symbol.doc is not None else None
            self._add(msgspec.structs.replace(symbol, line=line, end_line=end, mentions=mentions, doc=doc))
        self.reading.unsettled += [start + index for index in inner.reading.unsettled]
        self.reading.extends += inner.reading.extends
        self.reading.expansions += inner.reading.expansions
        self.reading.parts += inner.reading.parts

    def _use(self, node: Node, module: str) -> None:
        argument = node.child_by_field_name("argument")
        level = self._level(node)
        if argument is None:
            return
        for name, path in iter_uses(argument, self.tree):
            target = self._absolute(path, module)
            key = module.replace("::", ".")
            if name == "*":
                self.scope.wildcards.append(target)
                if level == "public":
                    self.part.spreads.append(target)
            elif name != "_":
                self.scope.imports.setdefault(name, target)
                if level == "public":
                    self.part.reexports.append((f"{key}.{name}", target))
                elif level == "internal":
                    self.part.aliases.append((f"{key}.{name}", target))

    def _absolute(self, path: str, module: str) -> str:
        """A path as a key, through what the module has imported already."""
        head = path.partition("::")[0]
        if head in self.scope.imports and head not in self.local:
            return (self.scope.imports[head] + path[len(head) :]).replace("::", ".")
        return absolute_path(path, module, self.local)

    def _extern(self, node: Node) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        alias = self.tree.text(node.child_by_field_name("alias"))
        if alias and name != "self":
            self.scope.imports.setdefault(alias, name)
            self.part.aliases.append((f"{self.scope.module}.{alias}".replace("::", "."), name))

    def _module(self, node: Node, marks: Attributes, parent: str, depth: int) -> None:
        name = self.tree.text(node.child_by_field_name("name")).removeprefix("r#")
        body = node.child_by_field_name("body")
        if self._is_macro(node):
            self._macro(node, marks, name, parent)
            return
        if marks.primitive:
            self._primitive(node, marks, parent)
            return
        path = f"{parent}::{name}"
        if marks.file_path and body is None:
            self.part.reexports.append((f"{parent}::{name}".replace("::", "."), "file:" + marks.file_path))
        sink = self.sink()
        doc = self._doc(marks, sink, outward=True)
        if body is not None:
            inner = self._inner(body)
            if inner.lines and doc is None:
                doc = self._doc(inner, sink)
            marks.hidden = marks.hidden or inner.hidden
        self._add(Symbol(
            path=path, name=name, kind="module", language="rust", module=path, parent=parent,
            visibility="private" if marks.hidden else self._level(node), file=self.file, line=self._line(node),
            end_line=end_line_of(node) + self.shift, doc=doc, mentions=sink.mentions,
            flags=[*(_open_flag(body) if body is not None else []), *marks.flags],
        ))  # fmt: skip
        if body is not None and depth < MAX_DEPTH and name not in ("tests", "test"):
            self._items(body, path, depth + 1)

    def _primitive(self, node: Node, marks: Attributes, module: str) -> None:
        """``mod prim_x {}`` that documents a primitive type of the language."""
        sink = self.sink()
        self._add(Symbol(
            path=marks.primitive, name=marks.primitive, kind="primitive", language="rust", module=module,
            file=self.file, line=self._line(node), end_line=end_line_of(node), doc=self._doc(marks, sink),
            mentions=sink.mentions,
        ))  # fmt: skip

    def _foreign(self, node: Node, module: str) -> None:
        body = find_child(node, "declaration_list")
        if body is not None:
            self._members(body, module, module, "public", in_type=False)

    def _item(
        self, node: Node, marks: Attributes, parent: str, module: str, depth: int, *, level: str = "",
        in_type: bool = False
    ) -> None:  # fmt: skip
        kind = _ITEMS[node.type]
        name = self.tree.text(node.child_by_field_name("name")).removeprefix("r#")
        if not name:
            return
        if kind == "macro" or (kind == "function" and self._is_macro(node)):
            self._macro(node, marks, name, module)
            return
        path = self._path_in(parent, name, in_type=in_type)
        visibility = "private" if marks.hidden else level or self._level(node)
        sink = self.sink()
        doc = self._doc(marks, sink)
        found = self._declared(node, kind, in_type=in_type)
        bases = self._bounds(node) if kind == "trait" else []
        self._mention_declared(sink, node, found, bases)
        self._add(Symbol(
            path=path, name=name, kind=found.kind, language="rust", module=module, parent=parent,
            visibility=visibility, file=self.file, line=self._line(node), end_line=end_line_of(node) + self.shift,
            signatures=[found.signature], bases=bases + [self._base(d, module) for d in marks.derives],
            value=found.value, flags=[*found.flags, *marks.flags], decorators=marks.shown, doc=doc,
            mentions=sink.mentions,
        ))  # fmt: skip
        if doc is None and visibility == "public" and marks.comment is not None:
            self.report_wrong_comment(marks.comment, node, path, name)
        if depth <= MAX_DEPTH:
            self._inside(node, kind, path, module, visibility)

    def _path_in(self, parent: str, name: str, *, in_type: bool) -> str:
        """Where a trait's block, or another one, has the name already, the block tells them apart."""
        path = f"{parent}::{name}"
        if self.block and in_type and (self.is_trait_block or path in self.seen):
            path = f"{path}({self.block})"
        self.seen.add(path)
        return path

    def _declared(self, node: Node, kind: str, *, in_type: bool) -> _Declared:
        tree, body = self.tree, node.child_by_field_name("body")
        shown = None if body is not None and body.type == "ordered_field_declaration_list" else body
        generics = self._generics(node)
        if kind == "function":
            parameters, flags = self._parameters(node)
            flags += self._function_flags(node, body)
            returns = tree.folded(node.child_by_field_name("return_type"))
            signature = Signature(parameters, returns, generics, self._head(node, shown))
            return _Declared("method" if in_type else "function", signature, flags, returns)
        is_shell = kind in ("struct", "union", "enum", "trait")
        signature = Signature([], "", generics, self._head(node, shown if is_shell else None))
        if kind not in ("constant", "variable", "type"):
            return _Declared(kind, signature, [])
        value = self.value(node.child_by_field_name("value")) if kind != "type" else ""
        return _Declared(kind, signature, [], tree.folded(node.child_by_field_name("type")), value)

    def _function_flags(self, node: Node, body: Node | None) -> list[str]:
        head = self.tree.data[node.start_byte : body.start_byte if body else node.end_byte]
        flags = ["provided"] if body is not None and self._is_in_trait(node) else []
        return flags + [w for w in ("unsafe", "async") if re.search(rb"\b" + w.encode() + rb"\s+(?:\w+\s+)*fn\b", head)]

    def _bounds(self, node: Node) -> list[str]:
        """The traits that a trait asks for."""
        bounds = node.child_by_field_name("bounds")
        return [self.tree.folded(b) for b in bounds.named_children if b.type != "lifetime"] if bounds else []

    def _mention_declared(self, sink: MentionSink, node: Node, found: _Declared, bases: list[str]) -> None:
        generics = found.signature.type_parameters
        skip = {re.split(r"[\s:=]", g.removeprefix("const ").strip())[0] for g in generics}
        where = self.tree.folded(find_child(node, "where_clause"))
        texts = [found.type, *(p.type for p in found.signature.parameters), *generics, where]
        self.mention_types(sink, texts, self._line(node), skip=skip)
        self.mention_types(sink, bases, self._line(node), "base", "base", skip)

    def _inside(self, node: Node, kind: str, path: str, module: str, visibility: str) -> None:
        body = node.child_by_field_name("body")
        if body is None:
            return
        if kind == "trait":
            self._members(body, path, module, visibility, in_type=True)
        elif kind in ("struct", "union"):
            self._fields(body, path, module)
        elif kind == "enum":
            self._variants(body, path, module, visibility)

    def _is_in_trait(self, node: Node) -> bool:
        """Whether what has a body need not be written by those who implement a trait."""
        outer = node.parent.parent if node.parent is not None else None
        return outer is not None and outer.type == "trait_item"

    def _base(self, path: str, module: str) -> str:
        """A trait's path as others can resolve it."""
        generic = path.partition("<")[0].strip()
        head = generic.partition("::")[0]
        if head in self.scope.imports:
            return (self.scope.imports[head] + generic[len(head) :]).replace("::", ".").replace(".", "::")
        return absolute_path(generic, module, self.local).replace(".", "::")

    def _macro(self, node: Node, marks: Attributes, name: str, module: str) -> None:
        crate = module.partition("::")[0]
        sink = self.sink()
        doc = self._doc(marks, sink)
        rules = [self.tree.folded(r.child_by_field_name("left")) for r in find_children(node, "macro_rule")]
        is_plain = marks.is_exported or node.type != "macro_definition"
        self._add(Symbol(
            path=f"{crate}::{name}!" if marks.is_exported else f"{module}::{name}!", name=f"{name}!", kind="macro",
            language="rust", module=crate if marks.is_exported else module,
            parent=crate if marks.is_exported else module,
            visibility="public" if is_plain and not marks.hidden else "private", file=self.file,
            line=self._line(node), end_line=end_line_of(node),
            signatures=[Signature(text=f"macro_rules! {name} {{ {rule} => … }}") for rule in rules[:6]],
            doc=doc, mentions=sink.mentions, flags=marks.flags,
        ))  # fmt: skip
        if self.shift == 0 and not self.level and not marks.is_exported:
            self._template(node, name, module)

    def _template(self, node: Node, name: str, module: str) -> None:
        """Methods that a macro writes into every ``impl`` block that calls it."""
        for rule in find_children(node, "macro_rule"):
            right = rule.child_by_field_name("right")
            if right is None or b"fn " not in self.tree.data[right.start_byte : right.end_byte]:
                continue
            raw = self.tree.data[right.start_byte + 1 : right.end_byte - 1].replace(b"$", b"_")
            inner = _RustReader(SourceTree(b"impl X {" + raw + b"}", "rust"), self.source, self.plain)
            inner.tree.lines = self.tree.lines
            inner.shift, inner.seen = right.start_point[0], set()
            inner.macros, inner.level = self.macros, _MOST_LEVELS
            inner.local, inner.scope, inner.part = self.local, self.scope, self.part
            block = find_child(inner.tree.root, "impl_item")
            body = block.child_by_field_name("body") if block is not None else None
            if body is None:
                continue
            inner._members(body, TEMPLATE, module, "", in_type=True)
            start = len(self.reading.symbols)
            self.reading.symbols += inner.reading.symbols
            indexes = self.reading.templates.setdefault(name, [])
            indexes += range(start, len(self.reading.symbols))

    def _members(self, body: Node, path: str, module: str, level: str, *, in_type: bool) -> None:
        marks = Attributes()
        for node in body.named_children:
            kind = node.type
            if kind in ("line_comment", "block_comment"):
                read_comment(node, self.tree, marks, shift=self.shift)
            elif kind == "attribute_item":
                read_attribute(node, self.tree, marks, self.shift)
            else:
                if kind in _ITEMS:
                    self._item(node, marks, path, module, 1, level=level, in_type=in_type)
                elif kind == "macro_invocation" or kind == "expression_statement":
                    self._expansion(node, path)
                marks = Attributes()

    def _expansion(self, node: Node, path: str) -> None:
        _, name = self._call_of(node)
        if name:
            self.reading.expansions.append((name.rpartition("::")[2], path))

    def _impl(self, node: Node, module: str) -> None:
        body = node.child_by_field_name("body")
        target = node.child_by_field_name("type")
        if target is None:
            return
        parent, is_settled = self._owner(target, module)
        trait = node.child_by_field_name("trait")
        if not parent:
            return
        if trait is not None:
            base = self._base(self.tree.folded(trait), module)
            if find_child(node, "!") is None:
                self.reading.extends.append((parent, base))
        if body is None:
            return
        start = len(self.reading.symbols)
        self.block, self.is_trait_block = self.tree.folded(target), trait is not None
        if trait is not None:
            self.block = f"{self.tree.folded(trait)} for {self.block}"
        self._members(body, parent, module, "public" if trait is not None else "", in_type=True)
        self.block = ""
        if trait is not None:
            # What a trait demands is documented there; here only what has a text of its own.
            own = [s for s in self.reading.symbols[start:] if s.doc is not None]
            del self.reading.symbols[start:]
            self.reading.symbols += own
        if not is_settled:
            self.reading.unsettled += range(start, len(self.reading.symbols))

    def _owner(self, node: Node, module: str) -> tuple[str, bool]:
        """The path of the type that an ``impl`` block is for, and whether that is sure."""
        kind = node.type
        if kind in _PRIMITIVE_FORMS:
            is_slice = kind == "array_type" and node.child_by_field_name("length") is None
            return "slice" if is_slice and node.child_by_field_name("element") else _PRIMITIVE_FORMS[kind], True
        if kind == "primitive_type":
            return self.tree.text(node), True
        if kind in ("dynamic_type", "abstract_type", "bounded_type", "generic_type"):
            field = "type" if kind == "generic_type" else "trait"
            first = node.named_children[0] if node.named_child_count and field == "trait" else None
            inner = node.child_by_field_name(field) or first
            return self._owner(inner, module) if inner is not None else ("", True)
        path = "".join(self.tree.text(node).split())
        if not re.fullmatch(r"[\w:$]+", path) or path.startswith("$"):
            return "", True
        head = path.partition("::")[0]
        if path in self.local:
            return f"{module}::{path}", True
        if head in self.scope.imports:
            return (self.scope.imports[head] + path[len(head) :]).replace(".", "::"), False
        return absolute_path(path, module, self.local).replace(".", "::"), False
