"""Imports and exports of one module. Source: ECMA-262, 16.2 ("Modules")."""

from __future__ import annotations

import fnmatch
import posixpath
import re

from tree_sitter import Node

from zarbek.core.sources.languages.ecmascript.assignments import (
    CLASS_VALUE,
    DECLARATIONS,
    FUNCTION_VALUES,
    NOTHING,
    WHOLE,
    WORD,
    Assignment,
    list_assignments,
    own_name,
    properties_of,
)
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.syntax_tree import SourceTree, find_child, find_children

_OBJECT = re.compile(rb"\bmodule\.exports\s*=\s*\{([^{}]*)\}")
_ONE = re.compile(rb"\bmodule\.exports\s*=\s*([A-Za-z_$][\w$]*)\s*;?\s*$", re.MULTILINE)
_MEMBER = re.compile(rb"(?<![\w.])(?:module\.)?exports\.([A-Za-z_$][\w$]*)\s*=\s*([A-Za-z_$][\w$]*)\s*;")

#: How transpilers call what makes a module of ECMAScript of one of Node.js.
_WRAPPED = re.compile(r"_interopRequire\w*|__import(?:Default|Star)")
_MAKING = frozenset({"call_expression", "new_expression"})
_IMPORT_TYPE = re.compile(r"\bimport\(\s*[\"']([^\"']+)[\"']\s*\)\.([A-Za-z_$][\w$]*)")


class Imports:
    """names: local name to what it stands for. exported: local name to the name that others use.
    reexports, spreads: as in ModulePart. A place in the same source is written ``file:PATH|NAME``; with
    an empty name it is what the file exports as a whole."""

    def __init__(self, tree: SourceTree, source: SourceFile) -> None:
        self.tree, self.source = tree, source
        self.names: dict[str, str] = {}
        self.wildcards: list[str] = []
        self.exported: dict[str, str] = {}
        self.reexports: list[tuple[str, str]] = []
        self.spreads: list[str] = []
        self.is_module = False

    def read(self, root: Node) -> None:
        """Take what a file imports, exports and thereby is."""
        for node in root.named_children:
            if node.type == "import_statement":
                self.is_module = True
                self._import(node)
            elif node.type == "export_statement":
                self.is_module = True
                self._export(node)
            elif node.type in DECLARATIONS:
                for part in find_children(node, "variable_declarator"):
                    self._require(part)
        data = self.tree.data
        if not self.is_module and b"exports" in data:
            self._commonjs(data)
            for node in root.named_children if self.source.language == "javascript" else ():
                for found in list_assignments(self.tree, node):
                    self._assigned(found)

    def take_import_types(self, text: str) -> str:
        """A type without its ``import("…").``, whose names come into the file's scope by it (TypeScript
        handbook, "Import Types")."""

        def take(match: re.Match[str]) -> str:
            self.names.setdefault(match[2], self._member(self._target(match[1]), match[2]))
            return match[2]

        return _IMPORT_TYPE.sub(take, text)

    def _source(self, node: Node) -> str:
        source = node.child_by_field_name("source")
        return self._target(self.tree.text(source).strip("\"'")) if source is not None else ""

    def _target(self, name: str) -> str:
        folder = self.source.options.get("folder", [""])[0]
        if name.startswith("."):
            place = posixpath.normpath(posixpath.join(posixpath.dirname(self.source.file), name))
            return self.source.options.get("root", [""])[0] if place == (folder or ".") else f"file:{name}"
        for entry in self.source.options.get("paths", []):
            pattern, _, target = entry.partition("=")
            if fnmatch.fnmatchcase(name, pattern):
                rest = name[len(pattern.rstrip("*")) :] if pattern.endswith("*") else ""
                base = "" if folder in ("", ".") else folder + "/"
                return f"file:/{base}{target.rstrip('*')}{rest}"
        return name.removeprefix("node:")

    @staticmethod
    def _member(module: str, name: str) -> str:
        return f"{module}|{name}" if module.startswith("file:") else f"{module}.{name}".rstrip(".")

    def _import(self, node: Node) -> None:
        module = self._source(node)
        clause = find_child(node, "import_clause")
        required = find_child(node, "import_require_clause")
        if required is not None:
            name = self.tree.text(find_child(required, "identifier"))
            source = self.tree.text(required.child_by_field_name("source")).strip("\"'")
            self.names[name] = self._target(source)
        for part in clause.named_children if clause is not None else ():
            if part.type == "identifier":
                self.names[self.tree.text(part)] = self._member(module, "default")
            elif part.type == "namespace_import":
                self.names[self.tree.text(find_child(part, "identifier"))] = module
            elif part.type == "named_imports":
                for one in find_children(part, "import_specifier"):
                    name = self.tree.text(one.child_by_field_name("name"))
                    alias = self.tree.text(one.child_by_field_name("alias")) or name
                    self.names[alias] = self._member(module, name)

    def _require(self, part: Node) -> None:
        """What a variable has from another module (Node.js documentation, "Modules: CommonJS modules")."""
        value, member = part.child_by_field_name("value"), ""
        if value is not None and value.type == "member_expression":
            member = self.tree.text(value.child_by_field_name("property"))
            value = value.child_by_field_name("object")
        named, source = part.child_by_field_name("name"), self._required(value)
        if named is None or not source:
            return
        if named.type == "identifier":
            self.names[self.tree.text(named)] = self._member(source, member) if member else _as_whole(source)
        for one in named.named_children if named.type == "object_pattern" and not member else ():
            local = one.child_by_field_name("value") or one
            name = self.tree.text(one.child_by_field_name("key") or one)
            if local.type in ("identifier", "shorthand_property_identifier_pattern"):
                self.names[self.tree.text(local)] = self._member(source, name)

    def _required(self, value: Node | None) -> str:
        """The module that ``require("…")`` asks for, transpilers' calls around it or not; empty for others."""
        if value is None or value.type != "call_expression":
            return ""
        given = value.child_by_field_name("arguments")
        inner = given.named_children if given is not None else []
        if len(inner) != 1:
            return ""
        called = self.tree.text(value.child_by_field_name("function"))
        if _WRAPPED.fullmatch(called):
            return self._required(inner[0]) or self.names.get(self.tree.text(inner[0]), "").rstrip("|")
        return (
            self._target(self.tree.text(inner[0]).strip("\"'"))
            if called == "require" and inner[0].type == "string"
            else ""
        )

    def _export(self, node: Node) -> None:
        own = self.source.module
        module = self._source(node)
        clause = find_child(node, "export_clause")
        words = {self.tree.text(c) for c in node.children if not c.is_named}
        for one in find_children(clause, "export_specifier") if clause is not None else ():
            name = self.tree.text(one.child_by_field_name("name"))
            alias = self.tree.text(one.child_by_field_name("alias")) or name
            if module:
                self.reexports.append((f"{own}.{alias}", self._member(module, name)))
            elif name in self.names:
                self.reexports.append((f"{own}.{alias}", self.names[name]))
            else:
                self.exported[name] = alias
        namespace = find_child(node, "namespace_export")
        if namespace is not None:
            self.reexports.append((f"{own}.{self.tree.text(namespace.named_children[-1])}", module))
        elif "*" in words and module:
            self.spreads.append(module)
        if "default" in words or "=" in words:
            self._default(node, "default" if "default" in words else "")

    def _default(self, node: Node, name: str) -> None:
        declared = node.child_by_field_name("declaration") or node.child_by_field_name("value")
        target = declared.child_by_field_name("name") if declared is not None else find_child(node, "identifier")
        if declared is not None and declared.type == "identifier":
            target = declared
        if target is not None:
            local = self.tree.text(target)
            self.exported[local] = local
            if name:
                self.reexports.append((f"{self.source.module}.{name}", f"{self.source.module}.{local}"))

    def _assigned(self, found: Assignment) -> None:
        """What a module of Node.js hands on by assigning it."""
        own, value = self.source.module, found.value
        is_made = value.type in FUNCTION_VALUES or value.type == CLASS_VALUE
        source = self._required(value)
        if found.is_whole:
            self.is_module = True
            if source:
                self.reexports.append((f"{own}.{WHOLE}", _as_whole(source)))
                self.spreads.append(source)
            elif is_made or found.local:
                self._export_whole(own_name(self.tree, found))
            elif value.type in _MAKING:
                self._hand_on(WHOLE, value)
            for name, _, inner, _ in properties_of(self.tree, value):
                if inner.type not in ("identifier", "shorthand_property_identifier"):
                    self._hand_on(name, inner)
        for at, name in enumerate(found.exported):
            self.is_module = True
            if at == 0:
                self._hand_on(name, value)
            elif value.type not in NOTHING:
                self.reexports.append((f"{own}.{name}", f"{own}.{found.exported[0]}"))

    def _export_whole(self, name: str) -> None:
        self.exported[name] = name
        self.reexports.append((f"{self.source.module}.{WHOLE}", f"{self.source.module}.{name}"))

    def _hand_on(self, name: str, value: Node) -> None:
        """A value under a name of the module's."""
        if value.type in NOTHING:
            return  # It is only named beforehand.
        source = self._imported(value)
        if source:
            self.reexports.append((f"{self.source.module}.{name}", source))
        elif value.type == "identifier":
            self.exported[self.tree.text(value)] = name
        elif value.type == "call_expression" or (name == WHOLE and value.type in _MAKING):
            self.exported.update((local, name) for local in self._made_of(value) if local not in self.names)
        elif name == WHOLE:
            self._export_whole(name)
        else:
            self.exported[name] = name

    def _imported(self, value: Node) -> str:
        """What a value is of another module; empty for others."""
        if value.type == "member_expression":
            head, _, rest = self.tree.text(value).partition(".")
            is_part = head in self.names and rest.isidentifier()
            return self._member(self.names[head].rstrip("|"), rest) if is_part else ""
        source = self._required(value)
        return _as_whole(source) if source else ""

    def _made_of(self, value: Node) -> list[str]:
        """The names that a call is given, or the class that is made one of: for others what comes out is that."""
        if value.type == "new_expression":
            return [self.tree.text(value.child_by_field_name("constructor"))]
        given = find_child(value, "arguments")
        return [self.tree.text(n) for n in find_children(given, "identifier")] if given is not None else []

    def _commonjs(self, data: bytes) -> None:
        for match in _OBJECT.finditer(data):
            for part in match[1].decode(errors="replace").split(","):
                name, _, value = part.partition(":")
                local = (value or name).strip()
                if WORD.fullmatch(local):
                    self.exported[local] = name.strip()
                    self.is_module = True
        for match in _ONE.finditer(data):
            self._export_whole(match[1].decode())
            self.is_module = True
        for match in _MEMBER.finditer(data):
            self.exported[match[2].decode()] = match[1].decode()
            self.is_module = True


def _as_whole(source: str) -> str:
    """What a module is as a whole, by what it is named as."""
    return f"{source}|" if source.startswith("file:") else source
