"""One Python module to its symbols, scope and findings."""

from __future__ import annotations

import ast
import warnings
from collections.abc import Iterable
from dataclasses import dataclass, field

import msgspec

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.naming import CONSTRUCTORS
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.languages.python.classes import class_flags, class_kind, field_signature, tuple_fields
from zarbek.core.sources.languages.python.decorators import (
    Marks,
    deprecated_by_warning,
    module_deprecated_by_warning,
    read_decorators,
)
from zarbek.core.sources.languages.python.documentation import TextReader
from zarbek.core.sources.languages.python.duplicates import find_duplicates
from zarbek.core.sources.languages.python.function_bodies import made_type, read_body
from zarbek.core.sources.languages.python.imports import read_import, read_import_from
from zarbek.core.sources.languages.python.keyword_arguments import keywords_of
from zarbek.core.sources.languages.python.runtime_names import (
    dotted,
    extended_types,
    lazy_names,
    names_answered,
    types_given,
)
from zarbek.core.sources.languages.python.signatures import read_signature
from zarbek.core.sources.languages.reading import Keywords

_FUNCTIONS = (ast.FunctionDef, ast.AsyncFunctionDef)
_TYPE_VARIABLES = frozenset({"TypeVar", "ParamSpec", "TypeVarTuple", "NewType"})
_DEFINED = frozenset({"function", "class", "enum", "exception"})
MAX_NESTING = 60


@dataclass(slots=True)
class ModuleReading:
    """What one module gave. aliases: public names that may stand for another module's symbol,
    as (qualified name, target as written there). reexports: those of them that the module seems to
    import for others. exported: ``__all__``, if it is literal. left_out, keywords: as in SourceReading."""

    symbols: list[Symbol] = field(default_factory=list)
    scope: Scope = field(default_factory=lambda: Scope("", ""))
    aliases: list[tuple[str, str]] = field(default_factory=list)
    reexports: list[tuple[str, str]] = field(default_factory=list)
    handed: list[str] = field(default_factory=list)
    exported: list[str] | None = None
    findings: list[Finding] = field(default_factory=list)
    left_out: dict[str, list[str]] = field(default_factory=dict)
    keywords: dict[str, Keywords] = field(default_factory=dict)


def read_module(source: str, *, file: str, module: str, is_package: bool) -> ModuleReading:
    """Symbols of one module, in source order.

    file: as it appears in findings. module: its qualified name.
    Raises SyntaxError, ValueError, RecursionError or MemoryError as ``ast.parse`` does.
    """
    tree = parse_python(source)
    reading = _ModuleReader(source, file, module, is_package).read(tree)
    reading.findings += find_duplicates(tree, file=file, module=module)
    return reading


def parse_python(source: str) -> ast.Module:
    """What ``ast.parse`` gives, or raises; it warns of nothing."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return ast.parse(source)


def read_scope(tree: ast.Module, source: str, *, file: str, module: str, is_package: bool) -> Scope:
    """What names mean at the top of a module, without looking at what stands in its functions and classes."""
    reader = _ModuleReader(source, file, module, is_package)
    reader._body([_emptied(node) for node in tree.body], module, "public", depth=0)
    return reader.scope()


def _emptied(node: ast.stmt) -> ast.stmt:
    if not isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
        return node
    fields = {name: getattr(node, name) for name in node._fields}
    return ast.copy_location(type(node)(**{**fields, "body": [ast.copy_location(ast.Pass(), node)]}), node)


def is_private_name(name: str) -> bool:
    """Whether a name begins with an underscore and is no special one (language reference 2.3.2)."""
    return name.startswith("_") and not (name.startswith("__") and name.endswith("__"))


class _ModuleReader(TextReader):
    def __init__(self, source: str, file: str, module: str, is_package: bool) -> None:
        super().__init__(source)
        self.file, self.module, self.is_package = file, module, is_package
        self.reading = ModuleReading()
        self.imports: dict[str, str] = {}
        self.wildcards: list[str] = []
        self.imported: list[tuple[str, str]] = []
        self.seen: dict[str, int] = {}
        self.overloads: dict[str, list[Signature]] = {}
        self.answered: list[str] = []
        self.exported: list[str] | None = None
        self.is_unlisted = False

    def read(self, tree: ast.Module) -> ModuleReading:
        doc, mentions = self._doc(tree.body, [])
        if (deprecated := module_deprecated_by_warning(tree)) is not None and not (doc and doc.deprecated):
            doc = msgspec.structs.replace(doc or Doc(), deprecated=deprecated)
        name = self.module.rpartition(".")[2]
        last = len(self.text.lines)
        self._add(
            Symbol(
                path=self.module, name=name, kind="package" if self.is_package else "module",
                language="python", module=self.module, parent=self.module.rpartition(".")[0],
                visibility="private" if _is_private_path(self.module) else "public",
                file=self.file, line=1, end_line=last, doc=doc, mentions=mentions,
            )
        )  # fmt: skip
        self._body(tree.body, self.module, "public", depth=0)
        self.reading.reexports = self._reexports() + self._lazy(tree)
        self._open_types(tree)
        self.reading.scope = self.scope()
        return self.reading

    def scope(self) -> Scope:
        """What names mean in the module, as far as it was read."""
        return Scope(self.file, self.module, self.imports, self.wildcards, made=sorted(self.answered))

    def _add(self, symbol: Symbol) -> bool:
        """Keep a symbol; of several definitions of one name the first stays (conditional code),
        unless only the later one is documented, or tells what the first one sets."""
        at = self.seen.get(symbol.path)
        if at is not None:
            known = self.reading.symbols[at]
            is_told = known.doc is None and symbol.doc is not None and known.kind == symbol.kind == "attribute"
            if is_told or ("bare" in known.flags and symbol.kind == "property"):
                self.reading.symbols[at] = symbol
            return False
        self.seen[symbol.path] = len(self.reading.symbols)
        self.reading.symbols.append(symbol)
        return True

    # Statements ---------------------------------------------------------------------------

    def _body(self, body: list[ast.stmt], parent: str, visibility: str, *, depth: int) -> None:
        for index, node in enumerate(body):
            kind = type(node)
            if kind is ast.Expr:
                continue
            if kind in _FUNCTIONS:
                self._function(node, parent, visibility, in_class=False)  # type: ignore[arg-type]
            elif kind is ast.ClassDef:
                self._class(node, parent, visibility, depth)  # type: ignore[arg-type]
            elif kind is ast.Assign or kind is ast.AnnAssign:
                self._assignment(node, body, index, parent, visibility, "")  # type: ignore[arg-type]
            elif kind is ast.Import:
                read_import(node, self.imports)  # type: ignore[arg-type]
            elif kind is ast.ImportFrom:
                self._import_from(node, parent, is_sure=depth == 0)  # type: ignore[arg-type]
            elif kind is ast.AugAssign:
                self._extend_exports(node)  # type: ignore[arg-type]
            elif depth < MAX_NESTING:
                for block in _blocks_of(node):
                    self._body(block, parent, visibility, depth=depth + 1)

    def _import_from(self, node: ast.ImportFrom, parent: str, *, is_sure: bool) -> None:
        """is_sure: whether it is imported whatever is the case; else what has been imported already counts."""
        known = {} if is_sure else dict(self.imports)
        names = read_import_from(node, self.module, self.is_package, self.imports, self.wildcards)
        self.imports.update(known)
        names = [(name, target) for name, target in names if self.imports[name] == target]
        if parent == self.module:
            self.reading.handed += [a.name for a in node.names if a.asname == a.name]
            found = [(f"{parent}.{name}", target) for name, target in names]
            self.imported += found
            self.reading.aliases += found

    def _lazy(self, tree: ast.Module) -> list[tuple[str, str]]:
        if not self.may_be_lazy:
            return []
        return [
            (f"{self.module}.{name}", target) for name, target in lazy_names(tree.body, self.module, self.is_package)
        ]

    def _open_types(self, tree: ast.Module) -> None:
        for name in extended_types(tree.body):
            at = self.seen.get(f"{self.module}.{name}")
            if at is not None and "open" not in self.reading.symbols[at].flags:
                self.reading.symbols[at].flags.append("open")

    def _reexports(self) -> list[tuple[str, str]]:
        """Imports for others: all of a module that defines nothing itself, else those that it does not use."""
        root = self.module.partition(".")[0]
        own = [(name, target) for name, target in self.imported if target.partition(".")[0] == root]
        if not own or not any(s.parent == self.module and s.kind in _DEFINED for s in self.reading.symbols):
            return own
        handed = set(self.reading.handed)
        return [(n, t) for n, t in own if (last := n.rpartition(".")[2]) in handed or self.text.has_once(last)]

    def _extend_exports(self, node: ast.AugAssign) -> None:
        if isinstance(node.target, ast.Name) and node.target.id == "__all__":
            self._export([*(self.exported or ()), *more] if (more := _listed(node.value)) is not None else None)

    def _export(self, names: list[str] | None) -> None:
        """``__all__``, if all of it can be read; once a part cannot, nobody knows what is listed."""
        self.is_unlisted = self.is_unlisted or names is None
        self.exported = names
        self.reading.exported = None if self.is_unlisted else names

    def _function(
        self, node: ast.FunctionDef | ast.AsyncFunctionDef, parent: str, visibility: str, *, in_class: bool
    ) -> None:
        marks = read_decorators(node.decorator_list, self.text)
        path = f"{parent}.{node.name}"
        if marks.changes_property:
            self._change_property(path, marks.changes_property)
            return
        skip = in_class and not marks.is_static
        signature = read_signature(node, self.text, skip_first=skip)
        if marks.is_overload:
            self.overloads.setdefault(path, []).append(signature)
            if path in self.seen:
                self._join_overload(path, is_deprecated=marks.deprecated is not None)
                return
        doc, mentions = self._doc(node.body, self._signature_mentions(signature, node.lineno))
        if marks.is_overload and doc is None:
            self.reading.symbols = [s for s in self.reading.symbols if s.path != path]
        if not marks.is_overload and marks.deprecated is None:
            marks.deprecated = deprecated_by_warning(node)
        flags, makes = self._flags_and_makes(node, marks)
        self._keep_left_out(node, path, signature, skip=skip)
        kind = "property" if marks.is_property else "method" if in_class else "function"
        symbol = Symbol(
            path=path, name=node.name, kind=kind, language="python", module=self.module,
            parent=parent, visibility=_visibility(node.name, visibility), file=self.file,
            line=node.lineno, end_line=node.end_lineno or node.lineno,
            signatures=[] if marks.is_property else self.overloads.get(path, [signature]),
            type=signature.returns if marks.is_property else "", flags=flags,
            decorators=marks.shown, doc=marks.with_deprecation(doc), mentions=mentions,
            makes=makes,
        )  # fmt: skip
        if path in self.overloads and path in self.seen:
            self.reading.symbols[self.seen[path]] = symbol
        else:
            self._add(symbol)

    def _flags_and_makes(self, node: ast.FunctionDef | ast.AsyncFunctionDef, marks: Marks) -> tuple[list[str], str]:
        """What its body tells of a function that is no property, too."""
        flags = list(marks.flags)
        if type(node) is ast.AsyncFunctionDef:
            flags.append("async")
        if node.name == "__getattr__" and (answered := names_answered(node)) is not None:
            flags.append("closed")
            self.answered += answered
        if marks.is_property:
            return flags, ""
        body = read_body(node)
        if body.is_generator:
            flags.append("generator")
        return flags, made_type(node, body)

    def _keep_left_out(
        self, node: ast.FunctionDef | ast.AsyncFunctionDef, path: str, signature: Signature, *, skip: bool
    ) -> None:
        """Parameters that no text need tell of, and what becomes of further keywords."""
        plain = [*node.args.posonlyargs, *node.args.args]
        self.reading.left_out[path] = [a.arg for a in plain[:1] if skip]
        if path in self.overloads:  # What carries them out may take more than they tell.
            self.reading.left_out[path] += [p.name for p in signature.parameters]
        if (keywords := keywords_of(node, self.module, self.is_package)) is not None:
            self.reading.keywords[path] = keywords

    def _join_overload(self, path: str, *, is_deprecated: bool) -> None:
        """One deprecated overload of several deprecates only itself."""
        known = self.reading.symbols[self.seen[path]]
        if known.doc is not None and known.doc.deprecated is not None and not is_deprecated:
            doc = msgspec.structs.replace(known.doc, deprecated=None)
            self.reading.symbols[self.seen[path]] = msgspec.structs.replace(known, doc=doc)

    def _change_property(self, path: str, flag: str) -> None:
        index = self.seen.get(path)
        if index is not None and flag not in self.reading.symbols[index].flags:
            self.reading.symbols[index].flags.append(flag)

    def _class(self, node: ast.ClassDef, parent: str, visibility: str, depth: int) -> None:
        path = f"{parent}.{node.name}"
        marks = read_decorators(node.decorator_list, self.text)
        bases = [self.text.of(base) for base in node.bases if not isinstance(base, ast.Starred)]
        flags = [*marks.flags, *class_flags(node, bases)]
        mentions: list[Mention] = []
        for base, expression in zip(bases, node.bases, strict=False):
            self._type_mentions(base, expression.lineno, "base", "base", mentions)
        doc, mentions = self._doc(node.body, mentions)
        inner = _visibility(node.name, visibility)
        symbol = Symbol(
            path=path, name=node.name, kind=class_kind(node.name, flags), language="python",
            module=self.module, parent=parent, visibility=inner, file=self.file, line=node.lineno,
            end_line=node.end_lineno or node.lineno, bases=bases, flags=flags,
            decorators=marks.shown, doc=marks.with_deprecation(doc), mentions=mentions,
            through=[name for decorator in node.decorator_list for name in types_given(decorator)],
        )  # fmt: skip
        if not self._add(symbol) or depth >= MAX_NESTING:
            return
        self._named_fields(node, path, inner)
        self._class_body(node.body, path, inner, flags, depth + 1)
        self._class_signature(path, flags)

    def _named_fields(self, node: ast.ClassDef, path: str, visibility: str) -> None:
        """Fields of a base made by a call of ``namedtuple`` with literal names."""
        for base in node.bases:
            self._tuple_fields(tuple_fields(base) or [], path, visibility, base.lineno)

    def _tuple_fields(self, names: list[str], path: str, visibility: str, line: int) -> None:
        for name in names:
            self._add(
                Symbol(
                    path=f"{path}.{name}", name=name, kind="attribute", language="python",
                    module=self.module, parent=path, visibility=_visibility(name, visibility),
                    file=self.file, line=line, end_line=line, flags=["field"],
                )
            )  # fmt: skip

    def _class_signature(self, path: str, flags: list[str]) -> None:
        """A class is called with its initialiser's parameters, or its fields when generated."""
        symbols = self.reading.symbols
        index = self.seen[path]
        for name in CONSTRUCTORS:
            at = self.seen.get(f"{path}.{name}")
            if at is not None:
                found = [Signature(s.parameters) for s in symbols[at].signatures]
                symbols[index].signatures.extend(found)
                return
        members = [s for s in symbols[index + 1 :] if s.parent == path]
        generated = field_signature(flags, members)
        if generated is not None:
            symbols[index].signatures.append(generated)

    def _class_body(self, body: list[ast.stmt], path: str, visibility: str, flags: list[str], depth: int) -> None:
        for index, node in enumerate(body):
            kind = type(node)
            if kind in _FUNCTIONS:
                self._function(node, path, visibility, in_class=True)  # type: ignore[arg-type]
                if node.name in (*CONSTRUCTORS, "__post_init__"):  # type: ignore[attr-defined]
                    self._instance_attributes(node.body, path, visibility)  # type: ignore[attr-defined]
            elif kind is ast.ClassDef:
                self._class(node, path, visibility, depth)  # type: ignore[arg-type]
            elif kind is ast.Assign or kind is ast.AnnAssign:
                role = "member" if "enum" in flags else "field"
                self._assignment(node, body, index, path, visibility, role)  # type: ignore[arg-type]
            elif (kind is ast.If or kind is ast.Try or kind is ast.With) and depth < MAX_NESTING:
                for block in _blocks_of(node):
                    self._class_body(block, path, visibility, flags, depth + 1)

    def _assignment(
        self, node: ast.Assign | ast.AnnAssign, body: list[ast.stmt], index: int, parent: str,
        visibility: str, role: str,
    ) -> None:  # fmt: skip
        targets = node.targets if isinstance(node, ast.Assign) else [node.target]
        for target in targets:
            names = target.elts if isinstance(target, ast.Tuple) else [target]
            for name in names:
                if isinstance(name, ast.Name):
                    self._variable(name.id, node, body, index, parent, visibility, role)

    def _variable(
        self, name: str, node: ast.Assign | ast.AnnAssign, body: list[ast.stmt], index: int,
        parent: str, visibility: str, role: str,
    ) -> None:  # fmt: skip
        in_class = bool(role)
        if name == "__all__" and not in_class:
            self._export(_listed(node.value))
            return
        if name.startswith("__") or name == "_":
            return
        value = node.value
        annotation = node.annotation if isinstance(node, ast.AnnAssign) else None
        doc, mentions = self._trailing_doc(node, body, index)
        if annotation is None and doc is None and self._names_another(name, value, parent, visibility, in_class):
            return
        type_text = self.text.annotation(annotation) if annotation is not None else ""
        if type_text:
            self._type_mentions(type_text, node.lineno, "type", "type", mentions)
        symbol = Symbol(
            path=f"{parent}.{name}", name=name, kind="variable", language="python", module=self.module,
            parent=parent, visibility=_visibility(name, visibility), file=self.file, line=node.lineno,
            end_line=node.end_lineno or node.lineno, doc=doc, mentions=mentions,
        )  # fmt: skip
        if (fields := tuple_fields(value)) is not None and not in_class:
            signature = Signature([Parameter(field) for field in fields])
            self._add(msgspec.structs.replace(
                symbol, kind="class", flags=["named-tuple"], bases=["NamedTuple"], signatures=[signature]
            ))  # fmt: skip
            self._tuple_fields(fields, symbol.path, symbol.visibility, node.lineno)
            return
        kind, flags = _variable_kind(name, type_text, value, role, in_class)
        self._add(msgspec.structs.replace(
            symbol, kind=kind, type=type_text, value=self.text.value(value) if value is not None else "", flags=flags,
            through=types_given(value) if in_class and value else [],
        ))  # fmt: skip

    def _names_another(self, name: str, value: ast.expr | None, parent: str, visibility: str, in_class: bool) -> bool:
        """Keep a variable as another name of what it is set to; whether it is nothing more."""
        target = dotted(value)
        if not target:
            return False
        self.reading.aliases.append((f"{parent}.{name}", target))
        if in_class:
            return False
        self.imports.setdefault(name, _inside(self.module, target, self.imports))
        return _visibility(name, visibility) == "private"

    def _instance_attributes(self, body: list[ast.stmt], path: str, visibility: str) -> None:
        """``self.x`` with documentation or annotation, set at the initialiser's top level."""
        for index, node in enumerate(body):
            if isinstance(node, ast.Assign | ast.AnnAssign):
                target = node.targets[0] if isinstance(node, ast.Assign) else node.target
                if not (isinstance(target, ast.Attribute) and isinstance(target.value, ast.Name)):
                    continue
                if target.value.id != "self":
                    continue
                doc, mentions = self._trailing_doc(node, body, index)
                annotation = node.annotation if isinstance(node, ast.AnnAssign) else None
                type_text = self.text.annotation(annotation) if annotation is not None else ""
                self._type_mentions(type_text, node.lineno, "type", "type", mentions)
                flags = ["instance"] if doc or type_text else ["instance", "bare"]
                self._add(
                    Symbol(
                        path=f"{path}.{target.attr}", name=target.attr, kind="attribute",
                        language="python", module=self.module, parent=path,
                        visibility=_visibility(target.attr, visibility), file=self.file,
                        line=node.lineno, end_line=node.end_lineno or node.lineno,
                        type=type_text, flags=flags, doc=doc, mentions=mentions,
                    )
                )  # fmt: skip
            elif isinstance(node, ast.If | ast.Try | ast.With):
                for block in _blocks_of(node):
                    self._instance_attributes(block, path, visibility)


def _is_private_path(path: str) -> bool:
    return any(is_private_name(part) for part in path.split("."))


def _visibility(name: str, enclosing: str) -> str:
    if enclosing == "private" or is_private_name(name):
        return "private"
    if name.startswith("__"):
        return "special" if enclosing == "public" else enclosing
    return "public" if enclosing == "special" else enclosing


def _blocks_of(node: ast.stmt) -> Iterable[list[ast.stmt]]:
    """Bodies of conditional code, in which names are defined all the same."""
    if isinstance(node, ast.If):
        return (node.body, node.orelse)
    if isinstance(node, ast.Try):
        return (node.body, *(handler.body for handler in node.handlers), node.orelse, node.finalbody)
    if isinstance(node, ast.With):
        return (node.body,)
    return ()


def _listed(node: ast.expr | None) -> list[str] | None:
    """The names of a literal list, or of a sum of them; None for anything else."""
    if isinstance(node, ast.List | ast.Tuple | ast.Set):
        names = [e.value for e in node.elts if isinstance(e, ast.Constant) and isinstance(e.value, str)]
        return names if len(names) == len(node.elts) else None
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add):
        left, right = _listed(node.left), _listed(node.right)
        return None if left is None or right is None else left + right
    if isinstance(node, ast.Call) and dotted(node.func) in ("list", "sorted", "tuple") and len(node.args) == 1:
        return _listed(node.args[0])
    return None


def _inside(module: str, target: str, imports: dict[str, str]) -> str:
    head, _, rest = target.partition(".")
    base = imports.get(head, f"{module}.{head}")
    return f"{base}.{rest}" if rest else base


def _variable_kind(
    name: str, type_text: str, value: ast.expr | None, role: str, in_class: bool
) -> tuple[str, list[str]]:
    called = dotted(value.func).rpartition(".")[2] if isinstance(value, ast.Call) else ""
    if type_text.endswith("TypeAlias"):
        return "type", []
    if called in _TYPE_VARIABLES:
        return "type", ["variable" if called != "NewType" else "new-type"]
    if role == "member":
        return "constant", ["member"]
    if in_class:
        return "attribute", []
    if name.isupper() or "Final" in type_text:
        return "constant", []
    return "variable", []
