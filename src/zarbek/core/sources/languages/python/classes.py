"""What kind of class a definition makes. Sources: Python library reference, dataclasses, enum,
typing (NamedTuple, TypedDict, Protocol), abc."""

from __future__ import annotations

import ast
import re

from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.languages.python.runtime_names import dotted

_BASE_FLAGS = {
    "Enum": "enum", "IntEnum": "enum", "StrEnum": "enum", "Flag": "enum", "IntFlag": "enum",
    "NamedTuple": "named-tuple", "TypedDict": "typed-dict", "Protocol": "protocol",
    "ABC": "abstract", "Exception": "exception", "BaseException": "exception",
    "Warning": "exception", "Generic": "generic",
}  # fmt: skip
_GENERATED = frozenset({"dataclass", "named-tuple", "typed-dict"})


def class_flags(node: ast.ClassDef, bases: list[str]) -> list[str]:
    """What the bases tell of a class: enum, exception, protocol and the like."""
    flags: list[str] = []
    for base in bases:
        head, bracket, _ = base.partition("[")
        name = head.rpartition(".")[2]
        flag = _BASE_FLAGS.get(name)
        if flag is None and name.endswith(("Error", "Exception", "Warning")):
            flag = "exception"
        if flag and flag not in flags:
            flags.append(flag)
        if bracket and flag == "protocol" and "generic" not in flags:
            flags.append("generic")
    for keyword in node.keywords:
        value = keyword.value
        if keyword.arg == "metaclass" and getattr(value, "attr", getattr(value, "id", "")) == "ABCMeta":
            flags.append("abstract")
        if keyword.arg == "total" and isinstance(value, ast.Constant) and value.value is False:
            flags.append("partial")
    return flags


def class_kind(name: str, flags: list[str]) -> str:
    """enum, exception or class."""
    if "enum" in flags:
        return "enum"
    if "exception" in flags:
        return "exception"
    return "class"


def field_signature(flags: list[str], members: list[Symbol]) -> Signature | None:
    """The generated initialiser of a class whose fields are its parameters, else None."""
    if not _GENERATED.intersection(flags):
        return None
    kind = "keyword-only" if "keyword-only" in flags or "typed-dict" in flags else "positional"
    fields = [
        Parameter(m.name, kind, m.type, _field_default(m.value))
        for m in members
        if m.kind == "attribute" and m.type and not m.type.startswith(("ClassVar", "typing.ClassVar"))
    ]
    return Signature(fields)


def tuple_fields(node: ast.expr | None) -> list[str] | None:
    """The names of a tuple's fields where a call makes its class of literal ones: ``namedtuple("Tide", "at height")``
    and ``NamedTuple("Tide", [("at", int)])``; None for anything else."""
    if not isinstance(node, ast.Call) or len(node.args) < 2:
        return None
    if dotted(node.func).rpartition(".")[2] not in ("namedtuple", "NamedTuple"):
        return None
    names = node.args[1]
    if isinstance(names, ast.Constant) and isinstance(names.value, str):
        return names.value.replace(",", " ").split()
    if not isinstance(names, ast.List | ast.Tuple):
        return None
    firsts = [e.elts[0] if isinstance(e, ast.Tuple) and e.elts else e for e in names.elts]
    found = [f.value for f in firsts if isinstance(f, ast.Constant) and isinstance(f.value, str)]
    return found if len(found) == len(firsts) else None


_FIELD_DEFAULT = re.compile(r"(?:dataclasses\.)?field\(.*?\b(default|default_factory)=([^,()]+(?:\([^()]*\))?)")


def _field_default(value: str) -> str:
    """What a caller gets who leaves the field out: ``field(default_factory=list)`` is ``list()``."""
    if not value.startswith(("field(", "dataclasses.field(")):
        return value
    match = _FIELD_DEFAULT.match(value)
    if match is None:
        return ""
    return match[2].strip() + ("()" if match[1] == "default_factory" else "")
