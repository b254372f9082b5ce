"""One Java file to its symbols, scope and findings."""

from __future__ import annotations

from collections.abc import Collection

from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import INHERIT, Doc
from zarbek.core.model.symbol import LENT, Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.java import read_java_comment
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

_TYPES = {
    "class_declaration": "class", "interface_declaration": "interface", "enum_declaration": "enum",
    "record_declaration": "record", "annotation_type_declaration": "annotation",
}  # fmt: skip
_LEVELS = ("public", "protected", "private")
_FLAGS = frozenset({"static", "abstract", "final", "default", "sealed", "native", "synchronized"})
PLAIN_TYPES = frozenset("boolean byte char double float int long short void var String Object".split())
_SHOWN = frozenset(
    {"FunctionalInterface", "SafeVarargs", "Documented", "Retention", "Target", "Inherited", "Repeatable"}
)


def read_java(tree: SourceTree, source: SourceFile) -> SourceReading:
    """Symbols of one compilation unit, in source order; ``package-info`` and ``module-info`` too."""
    return _JavaReader(tree, source, PLAIN_TYPES).read()


def _lent(level: str, visibility: str, *, hidden: bool) -> list[str]:
    """A member that others have through a type derived from the hidden one that declares it."""
    return [LENT] if level in ("public", "protected") and visibility != level and not hidden else []


def _level_of(words: Collection[str], *, in_interface: bool) -> str:
    """Java Language Specification 6.6 and 9.4: what stands in an interface is public unless it says otherwise."""
    return next((w for w in _LEVELS if w in words), "public" if in_interface else "internal")


def _end_of_head(node: Node) -> int:
    body = node.child_by_field_name("body")
    return body.start_byte if body is not None else node.end_byte


class _JavaReader(DeclarationReader):
    package = ""

    def read(self) -> SourceReading:
        imports: dict[str, str] = {}
        wildcards: list[str] = []
        comment: Node | None = None
        for node in self.tree.root.named_children:
            kind = node.type
            if kind == "block_comment" or kind == "line_comment":
                comment = self._nearer(comment, node)
                continue
            if kind == "package_declaration":
                self.package = self._dotted(node)
                if self.file.endswith("package-info.java"):
                    self._package(node, comment)
            elif kind == "import_declaration":
                self._import(node, imports, wildcards)
            elif kind == "module_declaration":
                self._module(node, comment)
            elif kind in _TYPES:
                self._type(node, comment, self.package, "public", 0, in_interface=False)
            comment = None
        scope = Scope(self.file, self.package, imports, wildcards, "java")
        self.reading.parts.append(ModulePart(scope))
        return self.reading

    def _nearer(self, before: Node | None, comment: Node) -> Node:
        """Of two comments in a row the one that documents; ordinary ones do not part it from its element."""
        if before is None or self._documents(comment) or not self._documents(before):
            return comment
        return before

    def _documents(self, comment: Node) -> bool:
        start = comment.start_byte
        return comment.type == "block_comment" and self.tree.data[start : start + 3] == b"/**"

    def _only_inherits(self, comment: Node | None) -> bool:
        """Whether a comment is nothing but the text of the overridden method."""
        return comment is not None and self.tree.text(comment).strip("/* \t\n") == INHERIT

    def _dotted(self, node: Node) -> str:
        name = find_child(node, "scoped_identifier", "identifier")
        return self.tree.folded(name).replace(" ", "")

    def _import(self, node: Node, imports: dict[str, str], wildcards: list[str]) -> None:
        name = self._dotted(node)
        if find_child(node, "asterisk") is not None:
            wildcards.append(name)
        else:
            imports.setdefault(name.rpartition(".")[2], name)

    # Packages and modules -----------------------------------------------------------------

    def _package(self, node: Node, comment: Node | None) -> None:
        annotated = find_child(node, "modifiers")
        sink = self.sink()
        doc, _ = self._doc(comment or (find_child(annotated, "block_comment") if annotated else None), sink)
        self._add(Symbol(
            path=self.package, name=self.package, kind="package", language="java", module=self.package,
            file=self.file, line=line_of(node), end_line=end_line_of(node), doc=doc, mentions=sink.mentions,
        ))  # fmt: skip

    def _module(self, node: Node, comment: Node | None) -> None:
        name = self.tree.folded(node.child_by_field_name("name"))
        sink = self.sink()
        doc, _ = self._doc(comment, sink)
        self._add(Symbol(
            path=name, name=name, kind="module", language="java", module=name, file=self.file,
            line=line_of(node), end_line=end_line_of(node), doc=doc, mentions=sink.mentions,
        ))  # fmt: skip
        self.reading.parts.append(ModulePart(Scope(self.file, name, language="java")))

    def _add(self, symbol: Symbol) -> None:
        self.reading.symbols.append(symbol)

    # Modifiers and comments ---------------------------------------------------------------

    def _modifiers(self, node: Node) -> tuple[set[str], list[Node]]:
        holder = find_child(node, "modifiers")
        if holder is None:
            return set(), []
        words = {c.type for c in holder.children if not c.is_named}
        return words, list(find_children(holder, "marker_annotation", "annotation"))

    def _doc(self, comment: Node | None, sink) -> tuple[Doc | None, bool]:  # type: ignore[no-untyped-def]
        """The doc text, and whether its author hides the element."""
        if comment is None or comment.type != "block_comment":
            return None, False
        raw = self.tree.text(comment)
        if not raw.startswith("/**") or len(raw) < 6:
            return None, False
        found = read_java_comment(raw, line_of(comment), sink)
        return found.doc, found.hidden

    def _deprecation(self, annotations: list[Node], doc: Doc | None) -> Doc | None:
        for node in annotations:
            name = self.tree.text(node.child_by_field_name("name"))
            if name.rpartition(".")[2] == "Deprecated":
                values = self._values(node)
                return merge_deprecation(doc, values.get("since", ""), "", find_instead)
        return doc

    def _values(self, annotation: Node) -> dict[str, str]:
        arguments = annotation.child_by_field_name("arguments")
        if arguments is None:
            return {}
        return {
            self.tree.text(pair.child_by_field_name("key")): self.tree.text(pair.child_by_field_name("value")).strip(
                '"'
            )
            for pair in find_children(arguments, "element_value_pair")
        }

    def _head(self, node: Node, end: int) -> str:
        """The declaration in Java's own form: without comments, annotations and body."""
        holder = find_child(node, "modifiers")
        words = [c.type for c in holder.children if not c.is_named] if holder is not None else []
        start = holder.end_byte if holder is not None else node.start_byte
        return " ".join([*words, self.tree.between(start, end).rstrip("{; ")])

    # Types --------------------------------------------------------------------------------

    def _type(
        self, node: Node, comment: Node | None, parent: str, outer: str, depth: int, *, in_interface: bool
    ) -> None:
        tree = self.tree
        name = tree.text(node.child_by_field_name("name"))
        body = node.child_by_field_name("body")
        if not name or depth > MAX_DEPTH:
            return
        kind = _TYPES[node.type]
        words, annotations = self._modifiers(node)
        level = _level_of(words, in_interface=in_interface)
        path = f"{parent}.{name}" if parent else name
        sink = self.sink()
        doc, hidden = self._doc(comment, sink)
        bases = self._bases(node, kind)
        generics = [tree.folded(p) for p in self._type_parameters(node)]
        skip = {g.partition(" ")[0] for g in generics}
        self.mention_types(sink, bases, line_of(node), "base", "base", skip)
        self.mention_types(sink, [g.partition(" ")[2] for g in generics], line_of(node), skip=skip)
        if kind == "class" and any(n.endswith(("Exception", "Error")) for n in (name, *bases)):
            kind = "exception"
        visibility = "private" if hidden else narrower(outer, level)
        components = self._parameters(node) if kind == "record" else []
        signature = Signature(components, "", generics, self._head(node, _end_of_head(node)))
        at = len(self.reading.symbols)
        self._add(Symbol(
            path=path, name=name, kind=kind, language="java", module=self.package, parent=parent,
            visibility=visibility, file=self.file, line=line_of(node), end_line=end_line_of(node),
            signatures=[signature], bases=bases, flags=sorted(words & _FLAGS),
            decorators=self._shown(annotations), doc=self._deprecation(annotations, doc), mentions=sink.mentions,
        ))  # fmt: skip
        if doc is None and visibility == "public":
            self.report_wrong_comment(comment, node, path, name)
        if body is not None:
            self._body(body, path, visibility, depth + 1, kind, name)
        if components:
            self._components(components, node, path, visibility, at)

    def _components(self, components: list[Parameter], node: Node, path: str, visibility: str, at: int) -> None:
        """A record's components have accessor methods unless it declares them itself (JLS 8.10.3)."""
        known = {s.path for s in self.reading.symbols[at:]}
        documented = {f.name: f for s in self.reading.symbols[at : at + 1] if s.doc for f in s.doc.parameters}
        for part in components:
            if f"{path}.{part.name}()" in known:
                continue
            described = documented.get(part.name)
            self._add(Symbol(
                path=f"{path}.{part.name}()", name=part.name, kind="method", language="java", module=self.package,
                parent=path, visibility=visibility, file=self.file, line=line_of(node), end_line=line_of(node),
                signatures=[Signature([], part.type, [], f"public {part.type} {part.name}()")], flags=["component"],
                doc=Doc(summary=described.text.partition("\n\n")[0]) if described else None,
            ))  # fmt: skip

    def _shown(self, annotations: list[Node]) -> list[str]:
        return [
            self.tree.folded(node) for node in annotations
            if self.tree.text(node.child_by_field_name("name")).rpartition(".")[2] in _SHOWN
        ]  # fmt: skip

    def _type_parameters(self, node: Node) -> list[Node]:
        holder = node.child_by_field_name("type_parameters")
        return list(find_children(holder, "type_parameter")) if holder is not None else []

    def _bases(self, node: Node, kind: str) -> list[str]:
        found = []
        superclass = node.child_by_field_name("superclass")
        if superclass is not None and superclass.named_child_count:
            found.append(self.tree.folded(superclass.named_children[-1]))
        holder = node.child_by_field_name("interfaces") or find_child(node, "extends_interfaces")
        types = find_child(holder, "type_list") if holder is not None else None
        if types is not None:
            found += [self.tree.folded(t) for t in types.named_children if not t.type.endswith("comment")]
        return found

    def _body(self, body: Node, path: str, visibility: str, depth: int, kind: str, owner: str) -> None:
        comment: Node | None = None
        in_interface = kind in ("interface", "annotation")
        for node in body.named_children:
            form = node.type
            if form == "block_comment" or form == "line_comment":
                comment = self._nearer(comment, node)
                continue
            if form == "method_declaration" or form == "annotation_type_element_declaration":
                self._method(node, comment, path, visibility, in_interface)
            elif form == "constructor_declaration" or form == "compact_constructor_declaration":
                self._constructor(node, comment, path, visibility, owner)
            elif form == "field_declaration" or form == "constant_declaration":
                self._field(node, comment, path, visibility, in_interface)
            elif form == "enum_constant":
                self._enum_constant(node, comment, path, visibility)
            elif form == "enum_body_declarations":
                self._body(node, path, visibility, depth, "enum", owner)
            elif form in _TYPES:
                self._type(node, comment, path, visibility, depth, in_interface=in_interface)
            comment = None

    # Members ------------------------------------------------------------------------------

    def _parameters(self, node: Node) -> list[Parameter]:
        holder = node.child_by_field_name("parameters")
        found = []
        for part in find_children(holder, "formal_parameter", "spread_parameter") if holder is not None else ():
            if part.type == "spread_parameter":
                kind_node = next((c for c in part.named_children if c.type not in ("modifiers", "variable_declarator")
                                  and not c.type.endswith("annotation")), None)  # fmt: skip
                name = find_child(part, "variable_declarator")
                found.append(Parameter(self.tree.folded(name), "variadic", self.tree.folded(kind_node)))
            else:
                dimensions = self.tree.folded(part.child_by_field_name("dimensions"))
                type_text = self.tree.folded(part.child_by_field_name("type")) + dimensions
                found.append(Parameter(self.tree.text(part.child_by_field_name("name")), "positional", type_text))
        return found

    def _method(self, node: Node, comment: Node | None, parent: str, outer: str, in_interface: bool) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        returns = self.tree.folded(node.child_by_field_name("type")) + self.tree.folded(
            node.child_by_field_name("dimensions")
        )
        self._callable(node, comment, parent, outer, name, returns, "method", in_interface)

    def _constructor(self, node: Node, comment: Node | None, parent: str, outer: str, owner: str) -> None:
        if node.type == "compact_constructor_declaration":
            return
        self._callable(node, comment, parent, outer, owner, "", "constructor", False)

    def _callable(
        self, node: Node, comment: Node | None, parent: str, outer: str, name: str, returns: str, kind: str,
        in_interface: bool,
    ) -> None:  # fmt: skip
        tree = self.tree
        words, annotations = self._modifiers(node)
        level = _level_of(words, in_interface=in_interface)
        parameters = self._parameters(node)
        path = with_parameters(f"{parent}.{name}", parameters)
        sink = self.sink()
        doc, hidden = self._doc(comment, sink)
        generics = [tree.folded(p) for p in self._type_parameters(node)]
        skip = {g.partition(" ")[0] for g in generics}
        texts = [returns, *(p.type for p in parameters), *(g.partition(" ")[2] for g in generics)]
        self.mention_types(sink, texts, line_of(node), skip=skip)
        throws = find_child(node, "throws")
        raised = [tree.folded(t) for t in throws.named_children] if throws is not None else []
        self.mention_types(sink, raised, line_of(node), skip=skip)
        visibility = "private" if hidden else narrower(outer, level)
        flags = [*sorted(words & _FLAGS), *_lent(level, visibility, hidden=hidden)]
        flags += self._override_flags(annotations, comment, doc)
        value = node.child_by_field_name("value")
        head = self._head(node, _end_of_head(node))
        self._add(Symbol(
            path=path, name=name, kind=kind, language="java", module=self.package, parent=parent,
            visibility=visibility, file=self.file, line=line_of(node), end_line=end_line_of(node),
            signatures=[Signature(parameters, returns, generics, head)], value=self.value(value), flags=flags,
            decorators=self._shown(annotations), doc=self._deprecation(annotations, doc), mentions=sink.mentions,
        ))  # fmt: skip
        if doc is None and visibility == "public" and "override" not in flags:
            self.report_wrong_comment(comment, node, path, name)

    def _override_flags(self, annotations: list[Node], comment: Node | None, doc: Doc | None) -> list[str]:
        if all(self.tree.text(a.child_by_field_name("name")) != "Override" for a in annotations):
            return []
        return ["override", "untold"] if doc is None or self._only_inherits(comment) else ["override"]

    def _field(self, node: Node, comment: Node | None, parent: str, outer: str, in_interface: bool) -> None:
        tree = self.tree
        words, annotations = self._modifiers(node)
        level = _level_of(words, in_interface=in_interface)
        if in_interface:
            words |= {"static", "final"}
        sink = self.sink()
        doc, hidden = self._doc(comment, sink)
        type_text = tree.folded(node.child_by_field_name("type"))
        self.mention_types(sink, [type_text], line_of(node))
        doc = self._deprecation(annotations, doc)
        visibility = "private" if hidden else narrower(outer, level)
        is_constant = {"static", "final"} <= words
        for part in find_children(node, "variable_declarator"):
            name = tree.text(part.child_by_field_name("name"))
            shown = type_text + tree.folded(part.child_by_field_name("dimensions"))
            value = self.value(part.child_by_field_name("value")) if is_constant else ""
            modifiers = " ".join(
                w for w in ("public", "protected", "private", "static", "final", "volatile", "transient") if w in words
            )
            self._add(Symbol(
                path=f"{parent}.{name}", name=name, kind="constant" if is_constant else "field", language="java",
                module=self.package, parent=parent, visibility=visibility, file=self.file, line=line_of(node),
                end_line=end_line_of(node), type=shown, value=value,
                flags=[*sorted(words & _FLAGS), *_lent(level, visibility, hidden=hidden)],
                signatures=[Signature(text=f"{modifiers} {shown} {name}".strip() + (f" = {value}" if value else ""))],
                doc=doc, mentions=list(sink.mentions),
            ))  # fmt: skip

    def _enum_constant(self, node: Node, comment: Node | None, parent: str, outer: str) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        _, annotations = self._modifiers(node)
        sink = self.sink()
        doc, hidden = self._doc(comment, sink)
        arguments = node.child_by_field_name("arguments")
        self._add(Symbol(
            path=f"{parent}.{name}", name=name, kind="member", language="java", module=self.package, parent=parent,
            visibility="private" if hidden else outer, file=self.file, line=line_of(node), end_line=end_line_of(node),
            value=self.value(arguments), doc=self._deprecation(annotations, doc), mentions=sink.mentions,
        ))  # fmt: skip
