"""Types and their members, in JavaScript and TypeScript."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence

import msgspec
from tree_sitter import Node

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.ecmascript import read_ecmascript_comment
from zarbek.core.sources.languages.declarations import DeclarationReader, narrower
from zarbek.core.sources.languages.ecmascript.function_bodies import made_type
from zarbek.core.sources.languages.ecmascript.imports import Imports
from zarbek.core.sources.languages.syntax_tree import end_line_of, find_child, find_children, line_of

CLASSES = {
    "class_declaration": "class", "abstract_class_declaration": "class", "interface_declaration": "interface",
    "enum_declaration": "enum", "class": "class",
}  # fmt: skip
_METHODS = frozenset(
    {"method_definition", "method_signature", "abstract_method_signature", "call_signature", "construct_signature"}
)
_FIELDS = frozenset({"public_field_definition", "field_definition", "property_signature", "index_signature"})

#: Nesting up to which a constructor is looked into.
_DEEPEST = 3

_IN_TEMPLATE = re.compile(r"\$\{([^{}]*)\}")
_NO_TYPE = re.compile(
    r"'(?:\\.|[^'\\])*'|\"(?:\\.|[^\"\\])*\"|`[^`]*`|\b[\w$]+(?=\s+is\b)"
    r"|(?:(?<=[({,;\[])|(?<=\.\.\.))\s*(?:readonly\s+)?[\w$]+\??\s*:(?!:)"
)

_PARAMETERS = frozenset((
    "required_parameter", "optional_parameter", "identifier", "assignment_pattern", "rest_pattern", "object_pattern",
    "array_pattern",
))  # fmt: skip


def _method_flags(node: Node, words: Collection[str], *, is_overloaded: bool) -> list[str]:
    """is_overloaded: whether it carries out what signatures before it tell."""
    flags = [w for w in ("static", "async", "override") if w in words]
    flags += ["implementation"] if is_overloaded else []
    return [*flags, "abstract"] if node.type == "abstract_method_signature" else flags


class MemberReader(DeclarationReader):
    """Reads types with their members; what else a module declares is its subclass's."""

    module: str
    seen: dict[str, int]
    imports: Imports
    #: Names in comments among the parameters that were read last.
    left_out: set[str]

    def _is_doc(self, node: Node) -> bool:
        return self.tree.data[node.start_byte : node.start_byte + 3] == b"/**"

    def _read(self, comment: Node | None, sink) -> tuple[Doc | None, bool]:  # type: ignore[no-untyped-def]
        if comment is None or not self._is_doc(comment):
            return None, False
        found = read_ecmascript_comment(self.tree.text(comment), line_of(comment), sink)
        return found.doc, found.hidden

    def _keep(self, symbol: Symbol) -> Symbol:
        """Keep a symbol; overloads join as signatures of one, merged declarations as one."""
        at = self.seen.get(symbol.path)
        if at is None:
            self.seen[symbol.path] = len(self.reading.symbols)
            self.reading.symbols.append(symbol)
            return symbol
        known = self.reading.symbols[at]
        if known.kind == symbol.kind and symbol.kind in ("function", "method", "constructor"):
            signatures = [*known.signatures, *(s for s in symbol.signatures if "implementation" not in symbol.flags)]
            joined = msgspec.structs.replace(
                known, signatures=signatures, doc=_doc_of_overloads(known, symbol),
                mentions=[*known.mentions, *symbol.mentions],
            )  # fmt: skip
        else:
            joined = msgspec.structs.replace(
                known, doc=known.doc or symbol.doc, bases=list(dict.fromkeys([*known.bases, *symbol.bases])),
                mentions=known.mentions if known.doc else symbol.mentions,
            )  # fmt: skip
        self.reading.symbols[at] = joined
        return joined

    def _add(
        self, node: Node, whole: Node, comment: Node | None, *, name: str, kind: str, parent: str, visibility: str,
        head: str,
        types: Sequence[str] = (), bases: Sequence[str] = (), generics: Sequence[str] = (),
        parameters: list[Parameter] | None = None, returns: str = "", type_text: str = "", value: str = "",
        flags: Sequence[str] = (), makes: str = "",
    ) -> Symbol:  # fmt: skip
        sink = self.sink()
        doc, hidden = self._read(comment, sink)
        skip = {re.split(r"[\s=]", g.removeprefix("const ").strip())[0] for g in generics}
        line = line_of(whole)
        named = [_only_types(self.imports.take_import_types(t) if "import(" in t else t) for t in types]
        self.mention_types(sink, named, line, skip=(*skip, *(p.name for p in parameters or ())))
        self.mention_types(sink, bases, line, "base", "base", skip)
        symbol = self._keep(Symbol(
            path=f"{parent}.{name}", name=name, kind=kind, language=self.source.language, module=self.module,
            parent=parent,
            visibility="private" if hidden else visibility, file=self.file, line=line, end_line=end_line_of(whole),
            signatures=[Signature(parameters or [], returns, [*generics], head)], bases=[*bases], type=type_text,
            value=value, flags=[*flags, "internal"] if hidden else [*flags], doc=doc, mentions=sink.mentions,
            makes=makes,
        ))  # fmt: skip
        if parameters is not None and self.left_out:
            self.reading.left_out[symbol.path] = sorted(self.left_out)
        if symbol.doc is None and symbol.visibility == "public" and comment is not None and not self._is_doc(comment):
            self.report_wrong_comment(comment, whole, symbol.path, name)
        return symbol

    def _head(self, node: Node, end: int) -> str:
        start = node.start_byte
        for decorator in find_children(node, "decorator"):
            start = max(start, decorator.end_byte)
        return self.tree.between(start, end).rstrip("{;= ")

    def _level(self, outer: str, exported: bool) -> str:
        return outer if exported else narrower(outer, "internal")

    def _generics(self, node: Node) -> list[str]:
        holder = node.child_by_field_name("type_parameters")
        return [self.tree.folded(c) for c in find_children(holder, "type_parameter")] if holder is not None else []

    def _class(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, depth: int, *, exported: bool,
        name: str = "",
    ) -> None:  # fmt: skip
        name = name or self.tree.text(node.child_by_field_name("name"))
        body = node.child_by_field_name("body")
        if not name or body is None:
            return
        kind = CLASSES[node.type]
        bases = self._bases(node)
        if kind == "class" and name.endswith("Error"):
            kind = "exception"
        flags = ["abstract"] if node.type == "abstract_class_declaration" else []
        symbol = self._add(
            node, whole, comment, name=name, kind=kind, parent=parent, visibility=self._level(outer, exported),
            head=self._head(node, body.start_byte), bases=bases, generics=self._generics(node), flags=flags,
        )  # fmt: skip
        if kind == "enum":
            self._enum(body, symbol)
        else:
            self._members(body, symbol, depth)

    def _bases(self, node: Node) -> list[str]:
        found: list[str] = []
        heritage = find_child(node, "class_heritage", "extends_type_clause", "extends_clause")
        pending = [heritage] if heritage is not None else []
        while pending:
            part = pending.pop(0)
            for child in part.named_children:
                if child.type in ("extends_clause", "implements_clause"):
                    pending.append(child)
                elif child.type == "type_arguments":
                    if found:
                        found[-1] += self.tree.folded(child)
                elif child.type != "comment":
                    found.append(self.tree.folded(child))
        return found

    def _enum(self, body: Node, owner: Symbol) -> None:
        comment: Node | None = None
        for node in body.named_children:
            if node.type == "comment":
                comment = node
                continue
            named = node.child_by_field_name("name") or node
            name = self.tree.text(named).strip("\"'")
            value = self.value(node.child_by_field_name("value"))
            self._add(node, node, comment, name=name, kind="member", parent=owner.path, visibility=owner.visibility,
                      head=f"{name} = {value}" if value else name, value=value)  # fmt: skip
            comment = None

    def _members(self, body: Node, owner: Symbol, depth: int) -> None:
        comment: Node | None = None
        for node in body.named_children:
            kind = node.type
            if kind == "comment":
                comment = node
                continue
            if kind == "decorator":
                continue
            if kind in _METHODS:
                self._method(node, comment, owner)
            elif kind in _FIELDS:
                self._field(node, comment, owner)
            comment = None

    def _access(self, node: Node, name: str, owner: Symbol) -> str:
        word = self.tree.text(find_child(node, "accessibility_modifier"))
        if word == "private" or name.startswith("#"):
            return "private"
        return narrower(owner.visibility, word if word == "protected" else "public")

    def _method(self, node: Node, comment: Node | None, owner: Symbol) -> None:
        name = self._method_name(node)
        body = node.child_by_field_name("body")
        words = {self.tree.text(c) for c in node.children if not c.is_named}
        parameters = self._parameters(node.child_by_field_name("parameters"), owner if name == "constructor" else None)
        made = node.child_by_field_name("type") if name == "new" else None
        returns = self._type(node.child_by_field_name("return_type") or made)
        if "get" in words or "set" in words:
            self._accessor(node, comment, owner, name, returns, parameters, words)
            return
        kind = "constructor" if name == "constructor" else "method"
        is_overloaded = body is not None and f"{owner.path}.{name}" in self.seen
        self._add(
            node, node, comment, name=name, kind=kind, parent=owner.path, visibility=self._access(node, name, owner),
            head=self._head(node, body.start_byte if body is not None else node.end_byte), parameters=parameters,
            returns=returns,
            types=[returns, *(p.type for p in parameters)], generics=self._generics(node),
            flags=_method_flags(node, words, is_overloaded=is_overloaded),
            makes=made_type(self.tree, node),
        )  # fmt: skip
        if kind == "constructor" and body is not None and self.source.language == "javascript":
            self._set_fields(body, owner)

    def _method_name(self, node: Node) -> str:
        """Signatures that call or make a value have no name of their own."""
        if node.type == "construct_signature":
            return "new"
        named = node.child_by_field_name("name")
        if named is not None:
            return self.tree.text(named).strip("\"'[]")
        return "()" if node.type == "call_signature" else "constructor"

    def _set_fields(self, body: Node, owner: Symbol, depth: int = 0) -> None:
        """``this.name = value`` in a constructor is how a class of JavaScript declares its fields."""
        comment: Node | None = None
        for node in body.named_children:
            if node.type == "comment":
                comment = node
                continue
            assigned = node.named_children[0] if node.type == "expression_statement" and node.named_children else None
            if assigned is not None and assigned.type == "assignment_expression":
                self._set_field(assigned, node, comment, owner)
            elif assigned is not None and assigned.type == "call_expression":
                self._define_fields(assigned, owner)
            elif node.type in ("if_statement", "statement_block", "else_clause") and depth < _DEEPEST:
                self._set_fields(node, owner, depth + 1)
            comment = None

    def _set_field(self, assigned: Node, whole: Node, comment: Node | None, owner: Symbol) -> None:
        left, right = assigned.child_by_field_name("left"), assigned.child_by_field_name("right")
        if left is None or right is None or left.type != "member_expression":
            return
        name = self.tree.text(left.child_by_field_name("property"))
        if self.tree.text(left.child_by_field_name("object")) != "this" or f"{owner.path}.{name}" in self.seen:
            return
        self._made_field(name, whole, comment, owner)

    def _define_fields(self, call: Node, owner: Symbol) -> None:
        """``Object.defineProperties(this, {name: …})`` (ECMA-262, 20.1.2.3)."""
        arguments = call.child_by_field_name("arguments")
        given = [n for n in arguments.named_children if n.type != "comment"] if arguments is not None else []
        if self.tree.text(call.child_by_field_name("function")) != "Object.defineProperties" or len(given) != 2:
            return
        if self.tree.text(given[0]) != "this" or given[1].type != "object":
            return
        comment: Node | None = None
        for node in given[1].named_children:
            if node.type == "comment":
                comment = node
                continue
            name = self.tree.text(node.child_by_field_name("key")).strip("\"'")
            if name and f"{owner.path}.{name}" not in self.seen:
                self._made_field(name, node, comment, owner)
            comment = None

    def _made_field(self, name: str, whole: Node, comment: Node | None, owner: Symbol) -> None:
        """A field that a constructor makes; an ordinary comment above it is none of its text."""
        is_doc = comment is not None and self._is_doc(comment)
        self._add(
            whole, whole, comment if is_doc else None, name=name, kind="property", parent=owner.path,
            visibility="private" if name.startswith(("_", "#")) else owner.visibility, head=name,
        )  # fmt: skip

    def _accessor(
        self, node: Node, comment: Node | None, owner: Symbol, name: str, returns: str, parameters: list[Parameter],
        words: set[str]
    ) -> None:  # fmt: skip
        type_text = returns or (parameters[0].type if parameters else "")
        path = f"{owner.path}.{name}"
        if path in self.seen and "set" in words:
            at = self.seen[path]
            known = self.reading.symbols[at]
            self.reading.symbols[at] = msgspec.structs.replace(known, flags=sorted({*known.flags, "settable"}))
            return
        flags = [w for w in ("static",) if w in words] + (["settable"] if "set" in words else [])
        self._add(node, node, comment, name=name, kind="property", parent=owner.path, visibility=self._access(node,
        name, owner),
                  head=f"{'get' if 'get' in words else 'set'} {name}" + (f": {type_text}" if type_text else ""),
                  types=[type_text], type_text=type_text, flags=flags)  # fmt: skip

    def _field(self, node: Node, comment: Node | None, owner: Symbol) -> None:
        named = node.child_by_field_name("name") or node.child_by_field_name("property")
        if named is None:
            return
        name = self.tree.text(named).strip("\"'")
        if node.type == "index_signature":
            name = f"[{name}]"
        type_text = self._type(node.child_by_field_name("type"))
        value = node.child_by_field_name("value")
        end = value.start_byte if value is not None else node.end_byte
        words = {self.tree.text(c) for c in node.children if not c.is_named}
        kind = "method" if type_text.startswith("(") and "=>" in type_text else "property"
        self._add(
            node, node, comment, name=name, kind=kind, parent=owner.path, visibility=self._access(node, name, owner),
            head=self._head(node, end), types=[type_text], type_text=type_text,
            flags=[w for w in ("static", "readonly", "override") if w in words]
            + (["optional"] if "?" in words else []),
        )  # fmt: skip

    def _type(self, node: Node | None) -> str:
        return self.tree.folded(node).removeprefix(":").strip()

    def _parameters(self, holder: Node | None, owner: Symbol | None = None) -> list[Parameter]:
        """owner: the class of a constructor, some of whose parameters are properties of it."""
        found: list[Parameter] = []
        self.left_out = set()
        for part in holder.named_children if holder is not None else ():
            if part.type == "comment":
                self.left_out.update(re.findall(r"\w+", self.tree.text(part)))
            parameter = self._parameter(part) if part.type in _PARAMETERS else None
            if parameter is not None:
                found.append(parameter)
                if owner is not None:
                    self._parameter_property(part, parameter, owner)
        return found

    def _parameter(self, part: Node) -> Parameter | None:
        """None for the type of ``this``, which nobody gives."""
        name = self._pattern(part)
        if name == "this":
            return None
        default = self.value(part.child_by_field_name("value") or part.child_by_field_name("right"))
        if part.type == "optional_parameter" and not default:
            default = "undefined"
        kind = "variadic" if name.startswith("...") else "positional"
        shown = name.removeprefix("...").strip() if len(name) < 80 else "{…}"
        return Parameter(shown, kind, self._type(part.child_by_field_name("type")), default)

    def _pattern(self, part: Node) -> str:
        return self.tree.folded(part.child_by_field_name("pattern") or part.child_by_field_name("left") or part)

    def _parameter_property(self, part: Node, parameter: Parameter, owner: Symbol) -> None:
        word = self.tree.text(find_child(part, "accessibility_modifier"))
        if word or any(self.tree.text(c) == "readonly" for c in part.children):
            visibility = "private" if word == "private" else narrower(owner.visibility, word or "public")
            self._add(
                part, part, None, name=self._pattern(part), kind="property", parent=owner.path, visibility=visibility,
                head=self.tree.folded(part), type_text=parameter.type, types=[parameter.type],
            )  # fmt: skip


def _doc_of_overloads(known: Symbol, other: Symbol) -> Doc | None:
    """The text of both, the first one's; what deprecates one of several overloads deprecates only that."""
    doc = known.doc or other.doc
    is_overload = "implementation" not in other.flags
    if doc is None or doc.deprecated is None or not is_overload or _is_deprecated(known) == _is_deprecated(other):
        return doc
    note = f"**Deprecated overload.** {doc.deprecated.text}".strip()
    return msgspec.structs.replace(doc, deprecated=None, body="\n\n".join(filter(None, (doc.body, note))))


def _is_deprecated(symbol: Symbol) -> bool:
    return symbol.doc is not None and symbol.doc.deprecated is not None


def _only_types(text: str) -> str:
    """A type without what names no type in it: texts, parameters and properties."""
    return _NO_TYPE.sub(lambda m: " ".join(_IN_TEMPLATE.findall(m[0])) if m[0][0] == "`" else " ", text)
