"""What decorators say to a reader."""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass, field

import msgspec

from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.languages.python.signatures import SourceText
from zarbek.core.sources.markup.rst import deprecates_all

_PROPERTIES = frozenset(
    {"property", "cached_property", "memoized_property", "hybrid_property", "abstractproperty",
     "non_memoized_property", "classproperty", "lazyproperty"}
)  # fmt: skip
_FLAGS = {
    "staticmethod": "static", "classmethod": "classmethod", "abstractmethod": "abstract",
    "abstractproperty": "abstract", "final": "final", "override": "override",
    "contextmanager": "context manager", "asynccontextmanager": "context manager",
    "runtime_checkable": "runtime checkable", "cached_property": "cached",
}  # fmt: skip
_DATACLASSES = frozenset({"dataclass", "define", "frozen", "attrs", "dataclasses.dataclass"})
_CHANGES = {"setter": "settable", "deleter": "deletable", "expression": "expression", "comparator": "comparator"}


@dataclass(slots=True)
class Marks:
    """What the decorators of a function or class say of it."""

    flags: list[str] = field(default_factory=list)
    shown: list[str] = field(default_factory=list)
    is_property: bool = False
    is_static: bool = False
    is_overload: bool = False
    #: A flag for the property that this function changes, or empty.
    changes_property: str = ""
    deprecated: Deprecation | None = None

    def with_deprecation(self, doc: Doc | None) -> Doc | None:
        """A doc text with the deprecation of the decorator, unless it tells of one itself."""
        if self.deprecated is None or (doc is not None and doc.deprecated is not None):
            return doc
        return msgspec.structs.replace(doc or Doc(), deprecated=self.deprecated)


def read_decorators(nodes: list[ast.expr], text: SourceText) -> Marks:
    """Decorators that mean something become marks; the others are shown."""
    marks = Marks()
    for node in nodes:
        call = node if isinstance(node, ast.Call) else None
        target = call.func if call else node
        name = target.attr if isinstance(target, ast.Attribute) else getattr(target, "id", "")
        if isinstance(target, ast.Attribute) and name in _CHANGES:
            marks.changes_property = _CHANGES[name]
        elif name == "overload":
            marks.is_overload = True
        elif name == "deprecated":
            marks.deprecated = _read_deprecated(call)
        elif name in _PROPERTIES or name.endswith("_property"):
            marks.is_property = True
            if flag := _FLAGS.get(name):
                marks.flags.append(flag)
        elif name in _DATACLASSES:
            marks.flags.append("dataclass")
            marks.flags += _dataclass_options(call)
        elif flag := _FLAGS.get(name):
            marks.flags.append(flag)
            marks.is_static = marks.is_static or flag == "static"
        else:
            marks.shown.append("@" + text.of(node))
    return marks


def _read_deprecated(call: ast.Call | None) -> Deprecation:
    """``@deprecated("message")`` of PEP 702; a version as first argument is common too."""
    strings = [a.value for a in (call.args if call else []) if isinstance(a, ast.Constant)]
    texts = [s for s in strings if isinstance(s, str)]
    since = texts.pop(0) if len(texts) > 1 and texts[0][:1].isdigit() else ""
    message = texts[0] if texts else ""
    return Deprecation(since, message, find_instead(message))


def _dataclass_options(call: ast.Call | None) -> list[str]:
    names = {"frozen": "frozen", "kw_only": "keyword-only"}
    return [
        names[k.arg]
        for k in (call.keywords if call else [])
        if k.arg in names and isinstance(k.value, ast.Constant) and k.value.value is True
    ]


_WARNINGS = ("DeprecationWarning", "FutureWarning")
_PLACEHOLDER = re.compile(r"%[sr]|\{[^{}]*\}")


def deprecated_by_warning(node: ast.FunctionDef | ast.AsyncFunctionDef) -> Deprecation | None:
    """A warning of deprecation that is raised unconditionally at the start of a body; None for none."""
    for statement in node.body:
        if isinstance(statement, ast.Import | ast.ImportFrom):
            continue
        value = statement.value if isinstance(statement, ast.Expr) else None
        if isinstance(value, ast.Constant):
            continue  # The documentation.
        return _warned(value) if isinstance(value, ast.Call) else None
    return None


def module_deprecated_by_warning(tree: ast.Module) -> Deprecation | None:
    """A warning of a module's own deprecation that is raised whenever it is imported; None for none."""
    calls = (s.value for s in tree.body if isinstance(s, ast.Expr) and isinstance(s.value, ast.Call))
    told = (found for call in calls if (found := _warned(call)) is not None)
    return next((d for d in told if re.search(r"\b(module|package)\b", d.text)), None)


def _warned(call: ast.Call) -> Deprecation | None:
    if not _is_warning(call):
        return None
    words = "".join(c.value for a in call.args[:1] for c in ast.walk(a)
                    if isinstance(c, ast.Constant) and isinstance(c.value, str))  # fmt: skip
    text = " ".join(words.split())
    if not text or _PLACEHOLDER.search(text) or not deprecates_all(text, is_first=True):
        return None
    return Deprecation(text=text, instead=find_instead(text))


def _is_warning(call: ast.Call) -> bool:
    """Whether a call warns of what is deprecated, by the category that it is given or by a name of a project's own."""
    name = _last_name(call.func)
    if "deprecat" in name.lower() and "warn" in name.lower():
        return True
    given = [*call.args, *(k.value for k in call.keywords)]
    return name == "warn" and any(_last_name(a).endswith(_WARNINGS) for a in given)


def _last_name(node: ast.expr) -> str:
    return node.attr if isinstance(node, ast.Attribute) else str(getattr(node, "id", ""))
