"""One Kotlin file to its symbols, scope and findings."""

from __future__ import annotations

import re
from collections.abc import Sequence

from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.kotlin import read_kotlin_comment
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
    unread_bytes,
)

PLAIN_TYPES = frozenset(
    "Any Unit Nothing Boolean Byte Char Double Float Int Long Short String in out vararg suspend reified where "
    "by".split()
)
_COMMENTS = frozenset({"block_comment", "line_comment", "multiline_comment"})
_TYPES = frozenset({
    "user_type", "nullable_type", "function_type", "parenthesized_type", "not_nullable_type", "non_nullable_type",
    "type",
})  # fmt: skip
_FLAGS = frozenset(
    "abstract final open sealed data inner value inline suspend infix operator override const lateinit tailrec "
    "companion "
    "external expect actual".split()
)
_COMPANION = re.compile(rb"\bcompanion\s+object\b")
#: A comment at the beginning of a line, and what is declared beside it.
_BESIDE = re.compile(
    rb"^[ \t]*(/\*\*(?:[^*\n]|\*(?!/))*\*/)(?=[ \t]+(?:@\w|(?:" + b"|".join(sorted(f.encode() for f in _FLAGS))
    + rb"|public|private|protected|internal|fun|val|var|class|object|interface|typealias|enum|annotation)\b))",
    re.MULTILINE,
)  # fmt: skip
#: The last member of a body whose end stands on the same line, which the grammar would read on from.
_LAST_MEMBER = re.compile(rb"([^\s{;,(\[])([ \t]*)[ \t]\}")
_FUN_INTERFACE = re.compile(rb"\bfun(\s+)interface\b")


def read_kotlin(data: bytes, source: SourceFile) -> tuple[SourceReading, SourceTree]:
    """Symbols of one file, in source order."""
    known = _FUN_INTERFACE.sub(lambda m: b"   " + m[1] + b"interface", data)
    # An expression body before ``companion object`` would be read on as an infix call.
    known = _with_ends(known)
    known, data = _with_ends_before_comments(known, data)
    tree = SourceTree(known, "kotlin", data)
    if tree.root.has_error and (closed := _LAST_MEMBER.sub(rb"\1\2;}", known)) != known:
        other = SourceTree(closed, "kotlin", data)
        tree = min(tree, other, key=lambda t: unread_bytes(t.root))
    return _KotlinReader(tree, source, PLAIN_TYPES).read(), tree


def _with_ends_before_comments(known: bytes, data: bytes) -> tuple[bytes, bytes]:
    """A semicolon before each comment that shares a line with the declaration below it, which an expression
    would be read on to. Where no blank is before the comment, that after it is given up for it."""
    for match in _BESIDE.finditer(known):
        start, end = match.span(1)
        before = known[max(start - 200, 0) : start].rstrip()
        line = before[before.rfind(b"\n") + 1 :].lstrip()
        if not before or before[-1:] in b"{(;,=&|+-*/<>:?." or line.startswith(b"@"):
            continue
        if known[start - 1 : start] in (b" ", b"\t"):
            known = known[: start - 1] + b";" + known[start:]
        elif known[end : end + 1] == b" ":
            known = known[:start] + b";" + known[start:end] + known[end + 1 :]
            data = data[:start] + b" " + data[start:end] + data[end + 1 :]
    return known, data


def _with_ends(data: bytes) -> bytes:
    """A semicolon in place of a blank before each companion, or before the comments above it."""
    for match in _COMPANION.finditer(data):
        at = _before_comments(data, match.start())
        before = data[max(at - 200, 0) : at].rstrip()
        if data[at - 1 : at] in (b" ", b"\t") and before[-1:] not in (b"{", b"}", b";"):
            data = data[: at - 1] + b";" + data[at:]
    return data


def _before_comments(data: bytes, at: int) -> int:
    """Where the comments that end at a place begin, or the place itself."""
    for _ in range(20):
        before = data[:at].rstrip()
        line = before[before.rfind(b"\n") + 1 :].lstrip()
        if before.endswith(b"*/"):
            at = before.rfind(b"/*")
        elif line.startswith(b"//"):
            at = len(before) - len(line)
        else:
            return at
    return at


class _KotlinReader(DeclarationReader):
    def read(self) -> SourceReading:
        root = self.tree.root
        header = find_child(root, "package_header")
        name = find_child(header, "qualified_identifier", "identifier") if header is not None else None
        self.package = self.tree.folded(name).replace(" ", "").replace("`", "")
        imports: dict[str, str] = {}
        self.imports = imports
        wildcards: list[str] = []
        for node in find_children(root, "import"):
            self._import(node, imports, wildcards)
        self._items(root, self.package, "public", 0, "")
        scope = Scope(self.file, self.package, imports, wildcards, "kotlin")
        self.reading.parts.append(ModulePart(scope))
        return self.reading

    def _import(self, node: Node, imports: dict[str, str], wildcards: list[str]) -> None:
        names = [self.tree.folded(c).replace(" ", "") for c in node.named_children if c.type not in _COMMENTS]
        if not names:
            return
        if self.tree.text(node).rstrip().endswith("*"):
            wildcards.append(names[0])
        else:
            imports.setdefault(names[1] if len(names) > 1 else names[0].rpartition(".")[2], names[0])

    def _items(self, container: Node, parent: str, outer: str, depth: int, owner: str) -> None:
        comment: Node | None = None
        for node in container.named_children:
            if node.type in _COMMENTS:
                comment = node
                continue
            if depth <= MAX_DEPTH:
                self._item(node, comment, parent, outer, depth, owner)
            comment = None

    def _item(self, node: Node, comment: Node | None, parent: str, outer: str, depth: int, owner: str) -> None:
        kind = node.type
        if kind == "class_declaration":
            self._class(node, comment, parent, outer, depth)
        elif kind == "object_declaration":
            self._object(node, comment, parent, outer, depth)
        elif kind == "companion_object":
            self._companion(node, comment, parent, outer, depth)
        elif kind == "function_declaration":
            self._function(node, comment, parent, outer, owner)
        elif kind == "property_declaration":
            self._property(node, comment, parent, outer, owner)
        elif kind == "secondary_constructor":
            self._constructor(node, comment, parent, outer, owner)
        elif kind == "type_alias":
            self._alias(node, comment, parent, outer)
        elif kind in ("enum_entries", "ERROR"):
            self._items(node, parent, outer, depth + 1, owner)
        elif kind == "enum_entry":
            self._entry(node, comment, parent, outer)

    # Modifiers and comments ---------------------------------------------------------------

    def _words(self, node: Node) -> set[str]:
        holder = find_child(node, "modifiers")
        found = set(self.tree.text(holder).split()) if holder is not None else set()
        return {w for w in found if w.isalpha()}

    def _annotations(self, node: Node) -> list[Node]:
        holder = find_child(node, "modifiers")
        return list(find_children(holder, "annotation")) if holder is not None else []

    @staticmethod
    def _level(words: set[str]) -> str:
        return next((w for w in ("private", "protected", "internal") if w in words), "public")

    def _doc(self, node: Node, comment: Node | None, sink, names: frozenset[str]) -> tuple[Doc | None, bool]:  # type: ignore[no-untyped-def]
        doc, hidden = None, False
        if comment is not None:
            raw = self.tree.text(comment)
            if raw.startswith("/**") and len(raw) > 5:
                found = read_kotlin_comment(raw, line_of(comment), sink, names)
                doc, hidden = found.doc, found.hidden
        for annotation in self._annotations(node):
            text = self.tree.folded(annotation)
            if text.startswith("@Deprecated"):
                message = re.search(r'"((?:[^"\\]|\\.)*)"', text)
                instead = re.search(r'ReplaceWith\(\s*"([\w.]+)', text)
                doc = merge_deprecation(
                    doc, "", (message[1] if message else "").replace("[", "\\["),
                    lambda t: instead[1] if instead else find_instead(t),  # noqa: B023
                )  # fmt: skip
        return doc, hidden

    def _head(self, node: Node, end: int) -> str:
        start = node.start_byte
        for annotation in self._annotations(node):
            start = max(start, annotation.end_byte)
        return self.tree.between(start, end).rstrip("{= ")

    def _add(
        self, node: Node, comment: Node | None, *, path: str, name: str, kind: str, parent: str, outer: str, head: str,
        types: Sequence[str] = (), bases: Sequence[str] = (), generics: Sequence[str] = (),
        parameters: Sequence[Parameter] = (), returns: str = "", type_text: str = "", value: str = "",
        flags: Sequence[str] = (), makes: str = "",
    ) -> Symbol:  # fmt: skip
        words = self._words(node)
        sink = self.sink()
        skip = {
            re.split(r"[\s:]", g.removeprefix("reified ").removeprefix("in ").removeprefix("out "))[0] for g in generics
        }
        doc, hidden = self._doc(node, comment, sink, frozenset(skip | {p.name for p in parameters}))
        self.mention_types(sink, types, line_of(node), skip=skip)
        self.mention_types(sink, bases, line_of(node), "base", "base", skip)
        own = sorted({*flags, *(words & _FLAGS)})
        own += ["untold"] if "override" in own and doc is None else []
        symbol = Symbol(
            path=path, name=name, kind=kind, language="kotlin", module=self.package, parent=parent,
            visibility="private" if hidden else narrower(outer, self._level(words)), file=self.file, line=line_of(node),
            end_line=end_line_of(node), signatures=[Signature([*parameters], returns, [*generics], head)],
            bases=[*bases], type=type_text, value=value, flags=own, doc=doc, mentions=sink.mentions,
            makes=makes,
        )  # fmt: skip
        self.reading.symbols.append(symbol)
        if doc is None and symbol.visibility == "public" and "override" not in own:
            self.report_wrong_comment(comment, node, path, name)
        return symbol

    def _join(self, parent: str, name: str) -> str:
        return f"{parent}.{name}" if parent else name

    def _generics(self, node: Node) -> list[str]:
        holder = find_child(node, "type_parameters")
        return [self.tree.folded(c) for c in find_children(holder, "type_parameter")] if holder is not None else []

    # Types --------------------------------------------------------------------------------

    def _class(self, node: Node, comment: Node | None, parent: str, outer: str, depth: int) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        words = self._words(node)
        first = self.tree.data[node.start_byte : node.start_byte + 400]
        kind = "class"
        if re.search(rb"\binterface\s+" + name.encode(), first):
            kind = "interface"
        elif "enum" in words:
            kind = "enum"
        elif "annotation" in words:
            kind = "annotation"
        elif name.endswith(("Exception", "Error")):
            kind = "exception"
        body = find_child(node, "class_body", "enum_class_body")
        bases = self._bases(node)
        primary = find_child(node, "primary_constructor")
        parameters = self._parameters(
            find_child(primary, "class_parameters") if primary is not None else None, "class_parameter"
        )
        path = self._join(parent, name)
        generics = self._generics(node)
        symbol = self._add(
            node, comment, path=path, name=name, kind=kind, parent=parent, outer=outer, bases=bases, generics=generics,
            head=self._head(node, body.start_byte if body is not None else node.end_byte), parameters=parameters,
            types=[p.type for p in parameters],
        )  # fmt: skip
        if primary is not None and kind != "annotation":
            self._primary(primary, symbol, parameters)
        if body is not None:
            self._items(body, path, symbol.visibility, depth + 1, name)

    def _bases(self, node: Node) -> list[str]:
        holder = find_child(node, "delegation_specifiers")
        found = []
        for part in find_children(holder, "delegation_specifier") if holder is not None else ():
            inner = part.named_children[0] if part.named_child_count else part
            target = (
                find_child(inner, *_TYPES) if inner.type in ("constructor_invocation", "explicit_delegation") else inner
            )
            found.append(self.tree.folded(target or inner))
        return found

    def _primary(self, node: Node, owner: Symbol, parameters: list[Parameter]) -> None:
        """The primary constructor, and the properties that it declares."""
        words = self._words(node)
        path = with_parameters(f"{owner.path}.{owner.name}", parameters)
        shown = [f"{p.name}: {p.type}" + (f" = {p.default}" if p.default else "") for p in parameters]
        head = f"{owner.name}({', '.join(shown)})"
        self.reading.symbols.append(Symbol(
            path=path, name=owner.name, kind="constructor", language="kotlin", module=self.package, parent=owner.path,
            visibility=narrower(owner.visibility, self._level(words)), file=self.file, line=line_of(node),
            end_line=end_line_of(node), signatures=[Signature(parameters, "", [], head)],
        ))  # fmt: skip
        documented = {}
        if owner.doc is not None:
            documented = {f.name: f for f in (*owner.doc.parameters, *owner.doc.attributes)}
        holder = find_child(node, "class_parameters")
        for part, parameter in zip(
            find_children(holder, "class_parameter") if holder else (), parameters, strict=False
        ):
            word = next((c.type for c in part.children if not c.is_named and c.type in ("val", "var")), "")
            if not word:
                continue
            described = documented.get(parameter.name)
            own = self._level(self._words(part))
            self.reading.symbols.append(Symbol(
                path=f"{owner.path}.{parameter.name}", name=parameter.name, kind="property", language="kotlin",
                module=self.package, parent=owner.path, visibility=narrower(owner.visibility, own), file=self.file,
                line=line_of(part), end_line=end_line_of(part), type=parameter.type,
                signatures=[Signature(text=f"{word} {parameter.name}: {parameter.type}")],
                doc=Doc(summary=described.text.partition("\n\n")[0]) if described and described.text else None,
            ))  # fmt: skip

    def _object(self, node: Node, comment: Node | None, parent: str, outer: str, depth: int) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        body = find_child(node, "class_body")
        path = self._join(parent, name)
        symbol = self._add(
            node, comment, path=path, name=name, kind="object", parent=parent, outer=outer, bases=self._bases(node),
            head=self._head(node, body.start_byte if body is not None else node.end_byte),
        )  # fmt: skip
        if body is not None:
            self._items(body, path, symbol.visibility, depth + 1, name)

    def _companion(self, node: Node, comment: Node | None, parent: str, outer: str, depth: int) -> None:
        """Members of a companion are called on the class, so they stand there."""
        body = find_child(node, "class_body")
        named = node.child_by_field_name("name")
        name = self.tree.text(named) or "Companion"
        path = f"{parent}.{name}"
        symbol = self._add(
            node, comment, path=path, name=name, kind="object", parent=parent, outer=outer, flags=["companion"],
            bases=self._bases(node), head=f"companion object{' ' + name if named is not None else ''}",
        )  # fmt: skip
        if body is not None:
            start = len(self.reading.symbols)
            self._items(body, path, symbol.visibility, depth + 1, name)
            for member in self.reading.symbols[start:]:
                if member.parent == path:
                    self.reading.parts.append(ModulePart(
                        Scope(f"{self.file}#{member.name}", self.package, language="kotlin"),
                        reexports=[(f"{parent}.{member.name}", f"{path}.{member.name}")],
                    ))  # fmt: skip

    def _entry(self, node: Node, comment: Node | None, parent: str, outer: str) -> None:
        name = self.tree.text(find_child(node, "identifier", "simple_identifier"))
        arguments = self.value(find_child(node, "value_arguments"))
        self._add(node, comment, path=f"{parent}.{name}", name=name, kind="member", parent=parent, outer=outer,
                  head=f"{name}{arguments}", value=arguments)  # fmt: skip

    def _alias(self, node: Node, comment: Node | None, parent: str, outer: str) -> None:
        name = self.tree.text(node.child_by_field_name("type") or find_child(node, "identifier"))
        target = self.tree.folded(next((c for c in reversed(node.named_children) if c.type in _TYPES), None))
        self._add(node, comment, path=self._join(parent, name), name=name, kind="type", parent=parent, outer=outer,
                  head=self._head(node, node.end_byte), types=[target], bases=[target],
                  generics=self._generics(node))  # fmt: skip

    # Functions and properties -------------------------------------------------------------

    def _parameters(self, holder: Node | None, kind: str) -> list[Parameter]:
        found: list[Parameter] = []
        variadic = False
        for part in holder.named_children if holder is not None else ():
            if part.type == "parameter_modifiers":
                variadic = "vararg" in self.tree.text(part)
            elif part.type == kind:
                name = self.tree.text(find_child(part, "identifier", "simple_identifier"))
                type_node = find_child(part, *_TYPES)
                rest = [c for c in part.named_children if type_node is not None and c.start_byte > type_node.end_byte]
                own = (
                    "vararg" in self.tree.text(find_child(part, "modifiers")) if kind == "class_parameter" else variadic
                )
                default = self.value(rest[0]) if rest and rest[0].type not in _COMMENTS else ""
                found.append(Parameter(name, "variadic" if own else "positional", self.tree.folded(type_node), default))
                variadic = False
            elif found and part.type not in _COMMENTS and not found[-1].default:
                found[-1] = Parameter(found[-1].name, found[-1].kind, found[-1].type, self.value(part))
        return found

    def _receiver(self, node: Node, name: Node | None) -> tuple[str, str]:
        """(receiver type, returned type) by where they stand around the name."""
        types = [c for c in node.named_children if c.type in _TYPES]
        before = [t for t in types if name is not None and t.start_byte < name.start_byte]
        after = [t for t in types if name is not None and t.start_byte > name.end_byte]
        return self.tree.folded(before[-1] if before else None), self.tree.folded(after[0] if after else None)

    def _function(self, node: Node, comment: Node | None, parent: str, outer: str, owner: str) -> None:
        named = node.child_by_field_name("name")
        name = self.tree.text(named).strip("`")
        receiver, returns = self._receiver(node, named)
        parameters = self._parameters(find_child(node, "function_value_parameters"), "parameter")
        body = find_child(node, "function_body")
        path = with_parameters(self._join(parent, name), parameters)
        if receiver and any(s.path == path for s in self.reading.symbols):
            path = with_parameters(self._join(parent, name), [Parameter("", "positional", receiver), *parameters])
        head = self._head(node, body.start_byte if body is not None else node.end_byte)
        self._add(
            node, comment, path=path, name=name, kind="method" if owner else "function", parent=parent, outer=outer,
            head=head,
            types=[receiver, returns, *(p.type for p in parameters)], parameters=parameters, returns=returns,
            generics=self._generics(node),
            flags=["extension"] if receiver else ["provided"] if body is not None and _is_in_interface(node) else [],
            makes="" if returns or receiver else self._made(body),
        )  # fmt: skip
        self._name_on(receiver, name, path)

    def _made(self, body: Node | None) -> str:
        """The class that a body of one expression makes one of (Kotlin, "Single-expression functions")."""
        value = body.named_children[-1] if body is not None and body.named_children else None
        if value is None or value.type != "call_expression":
            return "Self" if value is not None and value.type == "this_expression" else ""
        name = self.tree.text(value.named_children[0])
        return name if name.rpartition(".")[2][:1].isupper() and name.replace(".", "").isidentifier() else ""

    def _name_on(self, receiver: str, name: str, path: str) -> None:
        """An extension is named as a member of what it extends (Kotlin documentation, "Document Kotlin code")."""
        kind = re.split(r"[<(?]", receiver, maxsplit=1)[0].strip()
        if kind:
            head, dot, rest = kind.partition(".")
            owner = self.imports.get(head) or (f"{self.package}.{head}" if self.package else head)
            self.reading.names.append((f"{owner}{dot}{rest}.{name}", path))

    def _constructor(self, node: Node, comment: Node | None, parent: str, outer: str, owner: str) -> None:
        parameters = self._parameters(find_child(node, "function_value_parameters"), "parameter")
        holder = find_child(node, "function_value_parameters")
        self._add(
            node, comment, path=with_parameters(f"{parent}.{owner}", parameters), name=owner, kind="constructor",
            parent=parent,
            outer=outer, head=self._head(node, holder.end_byte if holder is not None else node.end_byte),
            types=[p.type for p in parameters], parameters=parameters,
        )  # fmt: skip

    def _property(self, node: Node, comment: Node | None, parent: str, outer: str, owner: str) -> None:
        declared = find_child(node, "variable_declaration")
        if declared is None:
            return
        named = find_child(declared, "identifier", "simple_identifier")
        name = self.tree.text(named).strip("`")
        type_text = self.tree.folded(find_child(declared, *_TYPES))
        receiver = self.tree.folded(
            next((c for c in node.named_children if c.type in _TYPES and c.start_byte < declared.start_byte), None)
        )
        words = self._words(node)
        word = "var" if any(c.type == "var" for c in node.children) else "val"
        value_node = next((c for c in node.named_children if c.start_byte > declared.end_byte
                           and c.type not in ("getter", "setter", "property_delegate", "type_constraints",
                           *_COMMENTS)), None)  # fmt: skip
        value = self.value(value_node) if "const" in words else ""
        head = self._head(node, declared.end_byte) + (f" = {value}" if value else "")
        path = self._join(parent, name)
        self._add(
            node, comment, path=path, name=name, kind="constant" if "const" in words else "property", parent=parent,
            outer=outer,
            head=head or f"{word} {name}", types=[type_text, receiver], type_text=type_text, value=value,
            flags=["extension"] if receiver else [], generics=self._generics(node),
        )  # fmt: skip
        self._name_on(receiver, name, path)


def _is_in_interface(node: Node) -> bool:
    body = node.parent
    return body is not None and body.parent is not None and any(c.type == "interface" for c in body.parent.children)
