"""One C or C++ file to its symbols, scope and findings."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from tree_sitter import Node

from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import key_of, topic_path
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.c_name_first import name_told
from zarbek.core.sources.comments.comment_blocks import block_lines
from zarbek.core.sources.languages.cpp.declarators import read_declarator
from zarbek.core.sources.languages.cpp.functions import FunctionReader
from zarbek.core.sources.languages.cpp.macros import parse_macros, prepare, without_failing_calls, words_of_calls
from zarbek.core.sources.languages.cpp.objective_c import without_objective_c
from zarbek.core.sources.languages.cpp.symbol_collector import Place
from zarbek.core.sources.languages.declarations import narrower
from zarbek.core.sources.languages.reading import TOLD, ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import MAX_DEPTH, SourceTree, end_line_of, errors_in, find_child, line_of
from zarbek.core.sources.languages.unread_parts import unread_parts, with_unread

PLAIN_TYPES = frozenset(
    "bool char char8_t char16_t char32_t double float int long short signed unsigned void wchar_t auto size_t std "
    "const constexpr static inline virtual typename template class struct enum union override final noexcept operator "
    "explicit extern volatile mutable friend requires decltype nullptr true false this int8_t int16_t int32_t int64_t "
    "uint8_t uint16_t uint32_t uint64_t ssize_t ptrdiff_t intptr_t uintptr_t FILE va_list default delete sizeof".split()
)
_CLASSES = {"class_specifier": "class", "struct_specifier": "struct", "union_specifier": "union"}
_BODIES = frozenset({"function_definition", "inline_method_definition"})
_CONTAINERS = frozenset(
    "preproc_if preproc_ifdef preproc_else preproc_elif preproc_elifdef linkage_specification declaration_list "
    "ERROR".split()
)
_IS_CPP = re.compile(
    rb"^[ \t]*(?:namespace\b|template\s*<|class\s+\w+[^;]*\{|public:|private:|protected:|using\s+\w|typename\b|"
    rb"(?:static\s+)?constexpr\b|enum\s+class\b)|\w::\w|\boperator\s*[-+*/=<>!(\[]", re.MULTILINE
)  # fmt: skip
_GUARDED = re.compile(rb"#\s*ifdef\s+__cplusplus.*?#\s*endif", re.DOTALL)
_FILE_COMMENT = re.compile(r"[@\\](?:file|headerfile)\b")
_DECLARED, _NAMED = re.compile(r"(\w+)\s*[(\[;=,:]"), re.compile(r"\w+")
_MAY_BE_NAMED = re.compile(r"/\*\*[\s*]*[A-Za-z_]\w*:")
#: Declarations in which other names stand before types, too: those of parameters.
_TYPED_FIRST = frozenset({"function_definition", "declaration"})
#: A comment about a group or page, told by its first command.
_TOPIC = re.compile(
    r"[\s/*!]*[@\\](?:(?P<main>mainpage)\b|(?P<command>defgroup|addtogroup|weakgroup|page)[ \t]+(?P<name>[\w.-]+))"
    r"[ \t]*(?P<title>[^\n]*)"
)
_PLACE_IN_TEXT = re.compile(r"^[\s*]*[@\\](?:(?:sub)*section|anchor)[ \t]+([\w.-]+)", re.MULTILINE)
_SPECIFIERS = re.compile(r"\b(?:inline|extern|virtual|explicit|friend|constexpr\s+(?=\w+\s*\())\b\s*")


def read_cpp(data: bytes, source: SourceFile) -> SourceReading:
    """Symbols of one header or source file; what a body file alone has is not public."""
    data, foreign = without_objective_c(data)
    language = source.language
    if language == "c" and source.file.endswith(".h") and _IS_CPP.search(_GUARDED.sub(b"", data)):
        language = "cpp"
    prepared = prepare(data, parse_macros(tuple(source.options.get("macros", ()))))
    tree = SourceTree(prepared.data, language, prepared.shown)
    if tree.root.has_error:
        read_on = without_failing_calls(prepared.data, {error.start_point[0] for error in errors_in(tree.root)})
        tree = tree if read_on == prepared.data else SourceTree(read_on, language, prepared.shown)
    reader = _CppReader(tree, source, PLAIN_TYPES, language, prepared, data)
    reading = reader.read()
    reading.findings += [_foreign(source, foreign)] if foreign else unread_parts(tree, source)
    return with_unread(reading, tree)


def _foreign(source: SourceFile, line: int) -> Finding:
    told = f"The Objective-C in {source.file}, from line {line} on, is not read; the C and C++ beside it is."
    return Finding("text/unreadable", "note", source.file, told, file=source.file, line=line)


@dataclass(slots=True)
class _Comments:
    """Those met before a declaration: pending document it, plain stands above it; of_file is about the file."""

    pending: list[Node] = field(default_factory=list)
    plain: Node | None = None
    of_file: Node | None = None


class _CppReader(FunctionReader):
    def read(self) -> SourceReading:
        top = Place("", self.source.file, "internal" if "inner" in self.source.options else "public")
        file_doc = self._items(self.tree.root, top)
        if self.has_globals or file_doc is not None:
            self._file_symbol(file_doc, top)
        modules = [n for n in (s.module for s in self.reading.symbols) if n != self.source.file]
        module = Counter(modules).most_common(1)[0][0] if modules else self.source.file  # The first of several.
        scope = Scope(self.file, module, self.imports, self.wildcards, self.language, words_of_calls(self.raw))
        self.reading.parts.append(ModulePart(scope, reexports=self.values))
        for symbol in self.reading.symbols:
            self.groups.call(symbol.mentions)
        self.reading.groups = self.groups.notes
        return self.reading

    def _file_symbol(self, comment: Node | None, top: Place) -> None:
        sink = self.sink()
        doc = self._read([comment], sink) if comment is not None else None
        self.reading.symbols.insert(0, Symbol(
            path=self.source.file, name=self.source.file.rpartition("/")[2], kind="module", language=self.language,
            module=self.source.file, visibility="private" if self.is_body else top.visibility, file=self.file, line=1,
            end_line=end_line_of(self.tree.root), doc=doc, mentions=sink.mentions,
        ))  # fmt: skip

    def _topic(self, comment: Node, told: re.Match[str]) -> None:
        """A page or a group of elements that a comment of its own is about, with the places that it names."""
        name, title = told["name"] or "index", told["title"].partition("@{")[0].rstrip("*/ \t\r")
        if not title and told["command"] not in ("defgroup", "page", None):
            return  # It adds to a group that is told of elsewhere.
        sink = self.sink()
        path = topic_path(name)
        self.reading.symbols.append(Symbol(
            path=path, name=title or name, kind="topic", language=self.language, module=path, file=self.file,
            line=line_of(comment), end_line=end_line_of(comment), doc=self._read([comment], sink),
            mentions=sink.mentions,
        ))  # fmt: skip
        places = _PLACE_IN_TEXT.findall(self.tree.text(comment))
        self.reading.names += [(topic_path(place), path) for place in places]
        self._grouped(path, [comment], line_of(comment))

    def _is_of_another(self, comment: Node, nodes: list[Node], index: int) -> bool:
        """Whether a comment names the element that it is about, and that is not the one below it; its text is
        kept for where that is declared."""
        text = self.tree.text(comment)
        name = name_told(block_lines(text)) if _MAY_BE_NAMED.match(text) else None
        if name is None:
            return False
        below = next((nodes[at] for at in range(index + 1, len(nodes)) if nodes[at].type != "comment"), None)
        named = _DECLARED if below is not None and below.type in _TYPED_FIRST else _NAMED
        if name and name in named.findall(self.tree.text(below)):
            return False
        sink = self.sink()
        doc = self._read([comment], sink)
        if name and doc is not None:
            self.reading.symbols.append(Symbol(
                path=name, name=name, kind=TOLD, language=self.language, module=self.source.file,
                parent=self.source.file, visibility="internal", file=self.file, line=line_of(comment),
                end_line=end_line_of(comment), doc=doc, mentions=sink.mentions,
            ))  # fmt: skip
        return True

    def _items(self, container: Node, place: Place) -> Node | None:
        """Read the declarations of a container; the comment about the file, if there is one."""
        met = _Comments()
        nodes = container.named_children
        for index, node in enumerate(nodes):
            if node.type == "comment":
                self._comment(node, nodes, index, met)
            elif node.type == "access_specifier":
                place.access = self.tree.text(node).rstrip(": ")
            else:
                if place.depth < MAX_DEPTH:
                    found = self._item(node, met.pending or self._after(nodes, index), met.plain, place)
                    met.of_file = met.of_file or found
                met.pending, met.plain = [], None
        return met.of_file

    def _comment(self, node: Node, nodes: list[Node], index: int, met: _Comments) -> None:
        """What a comment is about: the file, a topic, another element, or what follows it."""
        if self._is_trailing(node):
            return
        text, is_doc = self.tree.text(node), self._is_doc(node)
        topic = _TOPIC.match(text) if is_doc else None
        if topic is not None:
            self._topic(node, topic)
        self.groups.pass_comment(text)
        if topic is not None:
            return
        if not is_doc:
            met.plain = node
        elif self._is_of_another(node, nodes, index):
            met.pending = []
        elif _FILE_COMMENT.search(text):
            met.of_file = node
        else:
            is_line = self.tree.data[node.start_byte + 1 : node.start_byte + 2] == b"/"
            if not (is_line and met.pending and end_line_of(met.pending[-1]) == line_of(node) - 1):
                met.pending = []
            met.pending.append(node)

    def _item(self, node: Node, comments: list[Node], plain: Node | None, place: Place) -> Node | None:
        kind = node.type
        if kind in _CONTAINERS:
            body = node.child_by_field_name("body") if kind == "linkage_specification" else node
            return self._items(body, place) if body is not None else None
        if kind in _CLASSES:
            self._class(node, node, comments, plain, place)
        elif kind in ("declaration", "field_declaration", "type_definition", *_BODIES):
            self._declaration(node, node, comments, plain, place)
        elif kind == "template_declaration":
            self._template(node, comments, plain, place)
        elif kind == "concept_definition":
            self._simple(node, node, comments, place, "concept", self.tree.text(node.child_by_field_name("name")))
        elif kind == "namespace_alias_definition":
            names = [self.tree.folded(c) for c in node.named_children]
            if len(names) == 2:
                self.imports[names[0]] = key_of(names[1].replace(" ", ""))
        elif kind in _ITEMS:
            _ITEMS[kind](self, node, comments, place)
        return None

    def _namespace(self, node: Node, comments: list[Node], place: Place) -> None:
        body = node.child_by_field_name("body")
        place = self._settled(node, place)
        named = node.child_by_field_name("name")
        if body is None:
            return
        if named is None:
            self._items(body, Place(place.path, place.module, "private", "public", "", place.depth + 1))
            return
        name = self.tree.folded(named).replace(" ", "")
        path = self._join(place, name)
        sink = self.sink()
        doc = self._read(comments, sink)
        self._namespace_symbols(path, node, doc, sink.mentions, place.visibility)
        self._grouped(path, comments, line_of(node), is_member=True)
        inner = place.inside(path)
        if b"inline" in self.parsed[node.start_byte : named.start_byte] and place.path:
            self.reading.opened.append((key_of(place.path), key_of(path)))
        self._items(body, inner)

    def _using(self, node: Node, place: Place) -> None:
        name = self.tree.folded(node.named_children[-1]).replace(" ", "") if node.named_child_count else ""
        if b"namespace" in self.parsed[node.start_byte : node.start_byte + 30]:
            self.wildcards.append(key_of(name))
            if place.path and not place.owner:
                self.reading.opened.append((key_of(place.path), key_of(name)))
        elif name and not place.owner:
            last = name.rpartition("::")[2]
            if not place.path:
                self.imports.setdefault(last, key_of(name))
            else:
                self.values.append((f"{key_of(place.path)}.{last}", key_of(name)))

    def _template(self, node: Node, comments: list[Node], plain: Node | None, place: Place) -> None:
        inner = node.named_children[-1] if node.named_child_count else None
        parameters = node.child_by_field_name("parameters")
        names = re.findall(r"(\w+)\s*(?:=[^,]*)?(?=,|>$|$)", self.tree.folded(parameters).strip("<>"))
        held, place.generics = place.generics, [*place.generics, *names]
        if inner is not None:
            kind = inner.type
            if kind == "template_declaration":
                self._template(inner, comments, plain, place)
            elif kind in _CLASSES:
                self._class(inner, node, comments, plain, place)
            elif kind == "alias_declaration":
                self._alias(inner, node, comments, place)
            elif kind in ("declaration", "field_declaration", *_BODIES):
                self._declaration(inner, node, comments, plain, place)
            elif kind == "concept_definition":
                self._simple(inner, node, comments, place, "concept", self.tree.text(inner.child_by_field_name("name")))
        place.generics = held

    def _class(
        self, node: Node, whole: Node, comments: list[Node], plain: Node | None, place: Place, name: str = ""
    ) -> None:
        body = node.child_by_field_name("body")
        name = name or self.tree.folded(node.child_by_field_name("name")).replace(" ", "")
        if body is None or not name or name.startswith("::") or "::" in name.partition("<")[0]:
            return
        place = self._settled(whole, place)
        kind = _CLASSES[node.type]
        path = self._join(place, name)
        clause = find_child(node, "base_class_clause")
        bases = self._bases(clause)
        head = self._cut(whole.start_byte, body.start_byte).rstrip("{ ")
        default = "private" if kind == "class" else "public"
        symbol = self._add(node, whole, comments, place, kind, name, path, head, bases=bases)
        if symbol is None:
            return
        if symbol.doc is None and symbol.visibility == "public":
            self.report_wrong_comment(plain, whole, path, name)
        inner = place.inside(path, owner=name.partition("<")[0], access=default, visibility=symbol.visibility)
        self._items(body, inner)

    def _bases(self, clause: Node | None) -> list[str]:
        if clause is None:
            return []
        return [
            self.tree.folded(c) for c in clause.named_children
            if c.type in ("type_identifier", "template_type", "qualified_identifier", "dependent_type")
        ]  # fmt: skip

    def _enum(self, node: Node, whole: Node, comments: list[Node], place: Place, name: str = "") -> None:
        body = node.child_by_field_name("body")
        if body is None:
            return
        place = self._settled(whole, place)
        name = name or self.tree.folded(node.child_by_field_name("name"))
        is_scoped = (
            re.match(rb"enum\s+(class|struct)\b", self.parsed[node.start_byte : node.start_byte + 16]) is not None
        )
        path = place.path
        visibility = narrower(place.visibility, place.access)
        if name:
            path = self._join(place, name)
            head = self._cut(whole.start_byte, body.start_byte).rstrip("{ ")
            symbol = self._add(
                node, whole, comments, place, "enum", name, path, head, flags=["scoped"] if is_scoped else ["unscoped"]
            )
            visibility = symbol.visibility if symbol else visibility
        elif self.is_body and not place.owner:
            visibility = narrower(visibility, "internal")
        self._enumerators(body, path, place, visibility, is_scoped=is_scoped, is_named=bool(name))

    def _enumerators(
        self, body: Node, path: str, place: Place, visibility: str, *, is_scoped: bool, is_named: bool
    ) -> None:  # fmt: skip
        pending: list[Node] = []
        nodes = body.named_children
        for index, node in enumerate(nodes):
            if node.type == "comment":
                if self._is_doc(node) and not self._is_trailing(node):
                    is_line = self.tree.data[node.start_byte + 1 : node.start_byte + 2] == b"/"
                    pending = [*pending, node] if is_line else [node]
                continue
            if node.type in _CONTAINERS:
                self._enumerators(node, path, place, visibility, is_scoped=is_scoped, is_named=is_named)
            elif node.type == "enumerator":
                name = self.tree.text(node.child_by_field_name("name"))
                own = f"{path}::{name}" if path else name
                sink = self.sink()
                value = self.value(node.child_by_field_name("value"))
                doc = self._value_deprecation(node, self._read(pending or self._after(nodes, index), sink))
                self._global(path, place)
                self.reading.symbols.append(Symbol(
                    path=own, name=name, kind="member", language=self.language, module=place.module,
                    parent=path or place.module, visibility=visibility, file=self.file, line=line_of(node),
                    end_line=end_line_of(node), value=value, doc=doc, mentions=sink.mentions,
                ))  # fmt: skip
                if is_named and not is_scoped:
                    self.values.append((key_of(f"{place.path}::{name}" if place.path else name), key_of(own)))
            pending = []

    def _alias(self, node: Node, whole: Node, comments: list[Node], place: Place) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        place = self._settled(whole, place)
        target = self.tree.folded(node.child_by_field_name("type"))
        head = self._cut(whole.start_byte, whole.end_byte).rstrip("; ")
        self._add(
            node, whole, comments, place, "type", name, self._join(place, name), head, bases=[target], types=[target]
        )

    def _simple(self, node: Node, whole: Node, comments: list[Node], place: Place, kind: str, name: str) -> None:
        place = self._settled(whole, place)
        head = self._cut(whole.start_byte, whole.end_byte).rstrip("; ")
        self._add(node, whole, comments, place, kind, name, self._join(place, name), head)

    def _macro(self, node: Node, comments: list[Node], place: Place) -> None:
        """A macro is part of the API once someone has documented it."""
        if not comments or place.owner:
            return
        name = self.tree.text(node.child_by_field_name("name"))
        parameters = self.tree.folded(node.child_by_field_name("parameters"))
        value = self.value(node.child_by_field_name("value"))
        sink = self.sink()
        doc = self._read(comments, sink)
        names = re.findall(r"\w+|\.\.\.", parameters)
        self.has_globals = True
        self.reading.symbols.append(Symbol(
            path=name, name=name, kind="macro", language=self.language, module=self.source.file,
            parent=self.source.file,
            visibility="private" if self.is_body else "public", file=self.file, line=line_of(node),
            end_line=max(end_line_of(node) - 1, line_of(node)), value="" if parameters else value, doc=doc,
            signatures=[Signature([Parameter(n) for n in names], text=f"#define {name}{parameters}")],
            mentions=sink.mentions,
        ))  # fmt: skip
        self._grouped(name, comments, line_of(node))

    def _declaration(self, node: Node, whole: Node, comments: list[Node], plain: Node | None, place: Place) -> None:
        place = self._settled(whole, place)
        data = self.parsed[node.start_byte : node.start_byte + 24]
        if data.startswith((b"friend", b"extern template", b"template ")):
            return
        type_node = node.child_by_field_name("type")
        declarators = node.children_by_field_name("declarator")
        if type_node is not None:
            self._inner_type(type_node, node, whole, comments, plain, place, declarators)
        is_typedef = node.type == "type_definition"
        for declarator in declarators:
            declared = read_declarator(declarator, self.tree)
            if declared is None or "::" in declared.name:
                continue  # A definition of something that is declared elsewhere.
            if is_typedef:
                self._typedef(node, whole, comments, place, declared, type_node)
            elif declared.function is not None:
                self._function(node, whole, comments, plain, place, declared, type_node)
            else:
                self._value(node, whole, comments, place, declared, type_node)

    def _inner_type(
        self, type_node: Node, node: Node, whole: Node, comments: list[Node], plain: Node | None, place: Place,
        declarators: list[Node],
    ) -> None:  # fmt: skip
        """A type that is declared together with values of it, or with its typedef name."""
        name = ""
        if node.type == "type_definition" and declarators and type_node.child_by_field_name("name") is None:
            declared = read_declarator(declarators[0], self.tree)
            name = declared.name if declared is not None and not declared.marks else ""
        body = type_node.child_by_field_name("body")
        is_unnamed = not name and not declarators and type_node.child_by_field_name("name") is None
        if is_unnamed and body is not None and place.owner and type_node.type in _CLASSES:
            # What an unnamed union or struct holds is held by what encloses it.
            self._items(body, replace(place, depth=place.depth + 1))
            return
        if type_node.type in _CLASSES:
            self._class(type_node, whole, comments, plain, place, name)
        elif type_node.type == "enum_specifier":
            self._enum(type_node, whole, comments, place, name)


#: What else a container holds, and who reads it.
_ITEMS: dict[str, Callable[[_CppReader, Node, list[Node], Place], None]] = {
    "namespace_definition": _CppReader._namespace,
    "enum_specifier": lambda reader, node, comments, place: reader._enum(node, node, comments, place),
    "alias_declaration": lambda reader, node, comments, place: reader._alias(node, node, comments, place),
    "using_declaration": lambda reader, node, _comments, place: reader._using(node, place),
    "preproc_def": _CppReader._macro,
    "preproc_function_def": _CppReader._macro,
}
