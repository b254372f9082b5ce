"""Qualified names in the spelling of any language, and the one form in which they are compared.

A key is a name with ``.`` between its parts and without parameter lists: ``core::option::Option``
and ``core.option.Option`` have the same key; overloads of one function have one key.
"""

from __future__ import annotations

import re
from functools import lru_cache

#: What makes the objects of a class, in the order in which it is looked for (Python data model, 3.3.1).
CONSTRUCTORS = ("__init__", "__new__")

_LAST = re.compile(r"(?s)(.*)(::|[./#])")
#: Names of C++ that hold signs which elsewhere separate or open something.
_OPERATOR = re.compile(r"(?<!\w)operator\s*(\(\)|\[\]|->\*?|<=>|[<>=!+\-*/%^&|~,]+)")
#: Operations by method and path; brackets and dots in a path are its own.
_OPERATION = re.compile(r"(?:[\w-]+\.)*[A-Z]{3,} /")
_INNER_NAMES = frozenset({"detail", "details", "internal", "internals", "impl", "implementation"})
_WITH_INNER_NAMES = frozenset({"c", "cpp", "rust"})
_OPERATOR_KEYS = {"()": "call", "[]": "index"}


@lru_cache(maxsize=2**16)
def key_of(name: str) -> str:
    """The key of a qualified name: ``dealii::Point::operator()(int)`` is ``dealii.Point.operator call``."""
    if name.isidentifier():
        return name
    if "/" in name and _OPERATION.match(name):
        return name
    if "operator" in name:
        name = _OPERATOR.sub(_operator_key, name, count=1)
    head, paren, _ = name.partition("(")
    if paren:
        name = head
    if "::" in name:
        name = name.replace("::", ".")
    return name.replace("#", ".").rstrip("!") if "#" in name or "!" in name else name


def _operator_key(match: re.Match[str]) -> str:
    return "operator " + _OPERATOR_KEYS.get(match[1], match[1])


def enclosing_of(name: str) -> str:
    """The name without its last part, in its own spelling; empty for a single part."""
    head = name.partition("(")[0]
    match = _LAST.match(head)
    return match[1] if match else ""


def lies_in(path: str, outer: str) -> bool:
    """Whether a qualified name is another, or that of something in it: ``p.xs`` does not lie in ``p.x``."""
    following = path[len(outer) : len(outer) + 1]
    return path.startswith(outer) and not (outer and (following.isalnum() or following == "_"))


def lies_inside(path: str, outer: str) -> bool:
    """Whether a qualified name is that of something in another: a function of Rust may share its name with a module."""
    return lies_in(path, outer) and key_of(path) != key_of(outer)


def is_inner_name(path: str, language: str, *, is_namespace: bool = False) -> bool:
    """Whether a qualified name says that what it names is for its project alone, though others can reach it: in C,
    C++ and Rust by the custom of inner namespaces, and of two underscores in a name; in C and C++ of one that it
    begins with (C17, 7.1.3; C++20, [lex.name])."""
    if language not in _WITH_INNER_NAMES:
        return False
    names = key_of(path).split(".")
    if language != "rust" and names[-1].startswith("_"):
        return True
    outer = names if is_namespace else names[:-1]
    return "__" in names[-1].strip("_") or any(map(is_inner_part, outer))


def is_inner_part(name: str) -> bool:
    """Whether a namespace of this name holds what is nobody's business, by custom."""
    return name in _INNER_NAMES or name.startswith("_")


def topic_path(name: str) -> str:
    """The path of a group or page of documentation, which no element of code can have, by its identifier."""
    return f"topic:{name}"


def first_part(name: str) -> str:
    """The first part of a qualified name in any spelling."""
    return re.split(r"[./:#]", name, maxsplit=1)[0]


def parameter_types(name: str) -> tuple[str, ...] | None:
    """Simple names of the types in a name's parameter list; None for a name without one.

    ``java.util.List.add(int, java.util.List<E>...)`` gives ``("int", "List[]")``.
    """
    if "operator" in name:
        name = _OPERATOR.sub("operator", name, count=1)
    _, paren, rest = name.partition("(")
    if not paren:
        return None
    rest = rest.rpartition(")")[0] if ")" in rest else rest
    return tuple(simple_type(part) for part in split_parts(rest) if part.strip())


_GENERIC = re.compile(r"<[^<>]*>")
_DROPPED = re.compile(
    r"@[\w.]+(?:\([^()]*\))?|\b(?:final|const|volatile|in|out|ref|params|this|struct|typename|class|enum)\b"
)
_SPACED = re.compile(r"\s+")


@lru_cache(maxsize=2**14)
def simple_type(text: str) -> str:
    """A parameter's type without generics, qualification, marks and name: ``final List<E> a`` is ``List``."""
    while "<" in text:
        shorter = _GENERIC.sub("", text)
        if shorter == text:
            break
        text = shorter
    text = _DROPPED.sub(" ", text).replace("...", "[]").replace("&", " ").replace("*", " ").replace("?", " ")
    text = text.replace(" []", "[]").replace(" [", "[")
    words = _SPACED.split(text.strip())
    name = words[0] if words else ""
    arrays = "[]" * name.count("[")
    if not arrays and len(words) > 1 and words[-1].endswith("[]"):
        arrays = "[]" * words[-1].count("[]")
    base = re.split(r"::|[.$]", name.partition("[")[0])[-1]
    return base + arrays


def split_parts(text: str, separator: str = ",") -> list[str]:
    """Text cut at separators that stand in no bracket."""
    if separator not in text:
        return [text]
    parts, depth, start = [], 0, 0
    previous = ""
    for at, sign in enumerate(text):
        if sign in "([{<":
            depth += 1
        elif sign in ")]}" or (sign == ">" and previous not in "-="):
            depth -= 1
        elif sign == separator and depth <= 0:
            parts.append(text[start:at])
            start = at + 1
        previous = sign
    parts.append(text[start:])
    return parts
