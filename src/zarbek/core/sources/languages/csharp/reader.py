"""One C# file to its symbols, scope and findings."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import INHERIT, Doc
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.comment_blocks import block_lines, marked_lines, trim
from zarbek.core.sources.comments.csharp import read_csharp_comment
from zarbek.core.sources.languages.csharp.parsing import parse_csharp
from zarbek.core.sources.languages.declarations import (
    DeclarationReader,
    merge_deprecation,
    narrower,
    with_parameters,
)
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import (
    MAX_DEPTH,
    SourceTree,
    end_line_of,
    find_child,
    find_children,
    line_of,
)
from zarbek.core.sources.markup.inline import MentionSink

_TYPES = {
    "class_declaration": "class", "struct_declaration": "struct", "interface_declaration": "interface",
    "enum_declaration": "enum", "record_declaration": "record", "record_struct_declaration": "record",
}  # fmt: skip
PLAIN_TYPES = frozenset(
    "bool byte char decimal double float int long nint nuint object sbyte short string uint ulong ushort void "
    "dynamic var "
    "class struct new notnull unmanaged where ref out in params this readonly default".split()
)
_CONTAINERS = frozenset({"declaration_list", "preproc_if", "preproc_else", "preproc_elif", "preproc_region"})
_LEVELS = ("public", "protected", "internal", "private")
_FLAGS = frozenset(
    "static abstract sealed virtual override async readonly const partial extern unsafe required".split()
)
_SHOWN = frozenset({"Flags", "Serializable", "AttributeUsage", "DllImport", "Conditional", "EditorBrowsable"})


def read_csharp(text: bytes, source: SourceFile) -> tuple[SourceReading, SourceTree]:
    """Symbols of one compilation unit, in source order."""
    tree = parse_csharp(text)
    return _CsharpReader(tree, source, PLAIN_TYPES).read(), tree


def _type_names(generics: list[str]) -> list[str]:
    """Names of type parameters, without what says how they vary."""
    return [g.split()[-1] for g in generics if g.split()]


class _CsharpReader(DeclarationReader):
    #: Type parameters of the types around what is read.
    type_names: tuple[str, ...] = ()

    form = "/// <summary>…</summary>"

    def read(self) -> SourceReading:
        self.imports: dict[str, str] = {}
        self.wildcards: list[str] = []
        self.modules: list[str] = []
        self._items(self.tree.root, "", "", "public", 0, "namespace")
        module = self.modules[0] if self.modules else ""
        scope = Scope(self.file, module, self.imports, self.wildcards, "csharp")
        self.reading.parts.append(ModulePart(scope))
        known = {module}
        for other in self.modules:
            if other not in known:
                known.add(other)
                self.reading.parts.append(ModulePart(Scope(f"{self.file}#{other}", other, {}, [], "csharp")))
        return self.reading

    def _items(self, container: Node, parent: str, module: str, outer: str, depth: int, kind: str) -> None:
        comments: list[Node] = []
        plain: Node | None = None
        for node in container.named_children:
            form = node.type
            if form == "comment":
                if self._is_doc(node):
                    if comments and end_line_of(comments[-1]) != line_of(node) - 1:
                        comments = []
                    comments.append(node)
                else:
                    plain = node
                continue
            if form == "file_scoped_namespace_declaration":
                module = self._name(node)
                parent = module
                self.modules.append(module)
                body = find_child(node, "declaration_list") or node
                if body.named_child_count > 1:
                    self._items(body, parent, module, outer, depth, kind)
            else:
                self._item(node, comments, plain, parent, module, outer, depth, kind)
            comments, plain = [], None

    def _item(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, depth: int,
        kind: str
    ) -> None:  # fmt: skip
        form = node.type
        if depth > MAX_DEPTH:
            return
        if form in _CONTAINERS:
            self._items(node, parent, module, outer, depth + 1, kind)
        elif form == "using_directive":
            self._using(node)
        elif form == "namespace_declaration":
            path = ".".join(filter(None, (parent, self._name(node))))
            self.modules.append(path)
            body = node.child_by_field_name("body")
            if body is not None:
                self._items(body, path, path, outer, depth + 1, "namespace")
        elif form in _TYPES:
            self._type(node, comments, plain, parent, module, outer, depth, kind)
        elif form == "delegate_declaration":
            self._callable(node, comments, plain, parent, module, outer, kind, "delegate")
        elif form in _MEMBERS:
            self._member(node, comments, plain, parent, module, outer, kind)

    def _name(self, node: Node) -> str:
        return self.tree.folded(node.child_by_field_name("name")).replace(" ", "")

    def _using(self, node: Node) -> None:
        alias = node.child_by_field_name("name")
        target = next((c for c in reversed(node.named_children) if c.type not in ("comment",)), None)
        name = re.sub(r"<.*>", "", self.tree.folded(target)).replace(" ", "").removeprefix("global::")
        if alias is not None and target is not None and alias.id != target.id:
            self.imports[self.tree.text(alias)] = name
        elif name:
            self.wildcards.append(name)

    # Comments and modifiers ---------------------------------------------------------------

    def _is_doc(self, node: Node) -> bool:
        start = self.tree.data[node.start_byte : node.start_byte + 4]
        return (start.startswith(b"///") and start != b"////") or (start.startswith(b"/**") and start != b"/**/")

    def _doc(self, comments: list[Node], sink: MentionSink) -> Doc | None:
        if not comments:
            return None
        first = self.tree.text(comments[0])
        if first.startswith("/**"):
            lines = block_lines(first)
        else:
            lines = marked_lines([self.tree.text(c) for c in comments], 3)
        lines, line = trim(lines, line_of(comments[0]))
        return read_csharp_comment(lines, line, sink).doc if lines else None

    def _modifiers(self, node: Node) -> set[str]:
        return {self.tree.text(c) for c in find_children(node, "modifier")}

    def _level(self, words: set[str], kind: str) -> str:
        if {"protected", "internal"} <= words:
            return "protected"
        if {"private", "protected"} <= words:
            return "internal"
        found = next((w for w in _LEVELS if w in words), "")
        if "file" in words:
            return "private"
        return found or (
            "internal" if kind == "namespace" else "public" if kind in ("interface", "enum") else "private"
        )

    def _attributes(self, node: Node) -> list[tuple[str, str, str]]:
        """(name, arguments, whole text) of the attributes of a declaration."""
        found = []
        for holder in find_children(node, "attribute_list"):
            for attribute in find_children(holder, "attribute"):
                name = self._name(attribute).rpartition(".")[2].removesuffix("Attribute")
                found.append(
                    (
                        name,
                        self.tree.folded(find_child(attribute, "attribute_argument_list")),
                        self.tree.folded(attribute),
                    )
                )
        return found

    def _head(self, node: Node, end: int) -> str:
        """The declaration without attributes and body."""
        lists = list(find_children(node, "attribute_list"))
        start = lists[-1].end_byte if lists else node.start_byte
        return self.tree.between(start, end).rstrip("{; ")

    def _add(
        self, node: Node, comments: list[Node], plain: Node | None, *, path: str, name: str, kind: str, parent: str,
        module: str,
        visibility: str, head: str, types: Sequence[str] = (), bases: Sequence[str] = (),
        parameters: Sequence[Parameter] = (), returns: str = "", generics: Sequence[str] = (),
        type_text: str = "", value: str = "", flags: Sequence[str] = (),
    ) -> Symbol:  # fmt: skip
        sink = self.sink()
        doc = self._doc(comments, sink)
        line = line_of(node)
        names = [*self.type_names, *_type_names([*generics])]
        self.mention_types(sink, types, line, skip=names)
        self.mention_types(sink, bases, line, "base", "base", names)
        attributes = self._attributes(node)
        for arguments in (arguments for attribute, arguments, _ in attributes if attribute == "Obsolete"):
            message = re.search(r'"((?:[^"\\]|\\.)*)"', arguments)
            doc = merge_deprecation(doc, "", message[1].replace("[", "\\[") if message else "", find_instead)
        flags = [*flags]
        if "override" in flags and (doc is None or doc.summary == INHERIT):
            flags.append("untold")
        symbol = Symbol(
            path=path, name=name, kind=kind, language="csharp", module=module, parent=parent, visibility=visibility,
            file=self.file, line=line, end_line=end_line_of(node),
            signatures=[Signature([*parameters], returns, [*generics], head)], bases=[*bases], type=type_text,
            value=value, flags=flags, decorators=[f"[{text}]" for name, _, text in attributes if name in _SHOWN],
            doc=doc, mentions=sink.mentions,
        )  # fmt: skip
        self.reading.symbols.append(symbol)
        if doc is None and visibility == "public" and "override" not in flags:
            self.report_wrong_comment(plain, node, path, name)
        return symbol

    # Types --------------------------------------------------------------------------------

    def _type(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, depth: int,
        kind: str
    ) -> None:  # fmt: skip
        own = _TYPES[node.type]
        name = self._name(node)
        path = f"{parent}.{name}" if parent else name
        words = self._modifiers(node)
        visibility = narrower(outer, self._level(words, kind))
        body = node.child_by_field_name("body")
        bases = self._bases(node) if own != "enum" else []
        if own == "class" and any(n.endswith("Exception") for n in (name, *bases)):
            own = "exception"
        parameters = self._parameters(find_child(node, "parameter_list"))
        end = body.start_byte if body is not None else node.end_byte
        generics = self._generics(node)
        self._add(
            node, comments, plain, path=path, name=name, kind=own, parent=parent or module, module=module,
            visibility=visibility,
            head=self._head(node, end), bases=bases, parameters=parameters if own == "record" else [],
            types=[p.type for p in parameters], generics=generics, flags=sorted(words & _FLAGS - {"partial"}),
        )  # fmt: skip
        if own == "record":
            self._components(node, parameters, path, module, visibility)
        held, self.type_names = self.type_names, (*self.type_names, *_type_names(generics))
        if body is not None and own == "enum":
            self._enum(body, path, module, visibility)
        elif body is not None:
            inner = "interface" if own == "interface" else "class"
            self._items(body, path, module, visibility, depth + 1, inner)
        self.type_names = held

    def _bases(self, node: Node) -> list[str]:
        holder = find_child(node, "base_list")
        parts = holder.named_children if holder is not None else []
        return [self.tree.folded(b) for b in parts if b.type != "argument_list"]

    def _components(self, node: Node, parameters: list[Parameter], path: str, module: str, visibility: str) -> None:
        """Positional parameters of a record are public properties (ECMA-334, records)."""
        documented = {f.name: f.text for s in self.reading.symbols[-1:] if s.doc for f in s.doc.parameters}
        for part in parameters:
            text = documented.get(part.name, "")
            self.reading.symbols.append(Symbol(
                path=f"{path}.{part.name}", name=part.name, kind="property", language="csharp", module=module,
                parent=path,
                visibility=visibility, file=self.file, line=line_of(node), end_line=line_of(node), type=part.type,
                signatures=[Signature(text=f"public {part.type} {part.name} {{ get; init; }}")],
                doc=Doc(summary=text.partition("\n\n")[0]) if text else None,
            ))  # fmt: skip

    def _generics(self, node: Node) -> list[str]:
        holder = find_child(node, "type_parameter_list") or node.child_by_field_name("type_parameters")
        return [self.tree.folded(c) for c in find_children(holder, "type_parameter")] if holder is not None else []

    def _enum(self, body: Node, path: str, module: str, visibility: str) -> None:
        comments: list[Node] = []
        for node in body.named_children:
            if node.type == "comment":
                if self._is_doc(node):
                    comments.append(node)
                continue
            if node.type == "enum_member_declaration":
                name = self._name(node)
                value = self.value(node.child_by_field_name("value"))
                self._add(
                    node, comments, None, path=f"{path}.{name}", name=name, kind="member", parent=path, module=module,
                    visibility=visibility, head=f"{name} = {value}" if value else name, value=value,
                )  # fmt: skip
            comments = []

    # Members ------------------------------------------------------------------------------

    def _member(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, kind: str
    ) -> None:  # fmt: skip
        form = node.type
        if form in ("field_declaration", "event_field_declaration"):
            self._fields(node, comments, plain, parent, module, outer, kind)
        elif form in ("property_declaration", "event_declaration", "indexer_declaration"):
            self._property(node, comments, plain, parent, module, outer, kind)
        else:
            self._callable(node, comments, plain, parent, module, outer, kind, _MEMBERS[form])

    def _visibility(self, node: Node, outer: str, kind: str) -> str:
        if find_child(node, "explicit_interface_specifier") is not None:
            return "private"
        return narrower(outer, self._level(self._modifiers(node), kind))

    def _fields(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, kind: str
    ) -> None:
        words = self._modifiers(node)
        holder = find_child(node, "variable_declaration")
        if holder is None:
            return
        type_text = self.tree.folded(holder.child_by_field_name("type"))
        own = "event" if node.type == "event_field_declaration" else "constant" if "const" in words else "field"
        for part in find_children(holder, "variable_declarator"):
            name = self._name(part)
            values = [c for c in part.named_children if c.type not in ("identifier", "bracketed_argument_list")]
            value = self.value(values[-1]) if values and own == "constant" else ""
            order = [
                w
                for w in ("public", "protected", "internal", "private", "const", "static", "readonly", "volatile")
                if w in words
            ]
            head = " ".join([*order, *(["event"] if own == "event" else []), type_text, name]) + (
                f" = {value}" if value else ""
            )
            self._add(
                node, comments, plain, path=f"{parent}.{name}", name=name, kind=own, parent=parent, module=module,
                visibility=self._visibility(node, outer, kind), head=head, types=[type_text], type_text=type_text,
                value=value,
                flags=sorted(words & _FLAGS - {"const"}),
            )  # fmt: skip

    def _property(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, kind: str
    ) -> None:
        words = self._modifiers(node)
        type_text = self.tree.folded(node.child_by_field_name("type"))
        parameters = self._parameters(node.child_by_field_name("parameters"))
        name = self._name(node) if node.type != "indexer_declaration" else "this[]"
        accessors = node.child_by_field_name("accessors")
        value = node.child_by_field_name("value")
        end = (
            accessors.start_byte if accessors is not None else value.start_byte if value is not None else node.end_byte
        )
        shown = self._accessors(accessors) if accessors is not None else "{ get; }"
        path = f"{parent}.{name}"
        if parameters:
            path = with_parameters(f"{parent}.this", parameters)
        own = "event" if node.type == "event_declaration" else "property"
        head = self._head(node, end).rstrip("= ").removesuffix("=>").rstrip() + (
            f" {shown}" if own == "property" else ""
        )
        self._add(
            node, comments, plain, path=path, name=name, kind=own, parent=parent, module=module,
            visibility=self._visibility(node, outer, kind), head=head, types=[type_text, *(p.type for p in parameters)],
            type_text="" if parameters else type_text, parameters=parameters, flags=sorted(words & _FLAGS),
        )  # fmt: skip

    def _accessors(self, node: Node) -> str:
        words = []
        for accessor in find_children(node, "accessor_declaration"):
            text = re.sub(r"\s*(?:\{.*\}|=>.*)$", "", self.tree.folded(accessor), flags=re.DOTALL).rstrip("; ")
            if not text.startswith("private"):
                words.append(text + ";")
        return "{ " + " ".join(words) + " }"

    def _callable(
        self, node: Node, comments: list[Node], plain: Node | None, parent: str, module: str, outer: str, kind: str,
        own: str
    ) -> None:  # fmt: skip
        words = self._modifiers(node)
        if node.type == "destructor_declaration" or (own == "constructor" and "static" in words):
            return
        parameters = self._parameters(node.child_by_field_name("parameters") or find_child(node, "parameter_list"))
        returns = self.tree.folded(node.child_by_field_name("returns") or node.child_by_field_name("type"))
        name = self._operator_name(node, returns) if own == "operator" else self._name(node)
        plain_path = f"{parent}.{name}" if parent else name
        body, initialiser = node.child_by_field_name("body"), find_child(node, "constructor_initializer")
        end = next((part.start_byte for part in (initialiser, body) if part is not None), node.end_byte)
        is_open = own == "method" and kind == "interface" and "private" not in words
        provided = {"provided"} if kind == "interface" and body is not None else set()
        self._add(
            node, comments, plain, path=plain_path if own == "delegate" else with_parameters(plain_path, parameters),
            name=name, kind=own, parent=parent or module, module=module,
            visibility=outer if is_open else self._visibility(node, outer, kind),
            head=re.sub(r"\s*[:=>]+$", "", self._head(node, end)),
            types=[returns, *(p.type for p in parameters)], parameters=parameters, returns=returns,
            generics=self._generics(node), flags=sorted(words & _FLAGS | provided),
        )  # fmt: skip

    def _operator_name(self, node: Node, returns: str) -> str:
        """An operator by its sign, a conversion by what it makes."""
        if node.type != "operator_declaration":
            return f"operator {returns}"
        signs = (self.tree.text(c) for c in node.children if not c.is_named)
        return f"operator {next((sign for sign in signs if sign not in _NO_SIGN), '')}"

    def _parameters(self, holder: Node | None) -> list[Parameter]:
        found: list[Parameter] = []
        if holder is None:
            return found
        for part in find_children(holder, "parameter"):
            marks = " ".join(self.tree.text(m) for m in find_children(part, "modifier"))
            type_text = self.tree.folded(part.child_by_field_name("type"))
            name = self.tree.text(part.child_by_field_name("name"))
            rest = [c for c in part.named_children if c.start_byte > part.child_by_field_name("name").end_byte]  # type: ignore[union-attr]
            default = self.value(rest[0]) if rest else ""
            found.append(Parameter(name, "positional", f"{marks} {type_text}".strip(), default))
        variadic = holder.child_by_field_name("name")
        if variadic is not None and holder.type == "parameter_list":
            found.append(
                Parameter(
                    self.tree.text(variadic),
                    "variadic",
                    self.tree.folded(holder.child_by_field_name("type")).removesuffix("[]"),
                )
            )
        return found


_MEMBERS = {
    "method_declaration": "method", "constructor_declaration": "constructor", "operator_declaration": "operator",
    "conversion_operator_declaration": "operator", "destructor_declaration": "method", "field_declaration": "field",
    "event_field_declaration": "event", "property_declaration": "property", "event_declaration": "event",
    "indexer_declaration": "property",
}  # fmt: skip
_NO_SIGN = frozenset({"operator", "checked", ";", "explicit", "implicit"})
