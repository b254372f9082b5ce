"""Declarations of Python as texts write them: with what is optional in brackets, and words before them that say what
they are. Source: The Python Language Reference, sections 8.7 and 8.8; notation of signatures: section 1.2."""

from __future__ import annotations

import ast
import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_WORDS = (
    "abstract", "abstractmethod", "async", "attribute", "awaitable", "class", "classmethod", "coroutine", "data",
    "decorator", "exception", "final", "function", "method", "property", "static", "staticmethod", "type",
)  # fmt: skip
#: Those that only what can be called has before its name.
_CALLED = frozenset({"abstractmethod", "function", "method", "decorator", "classmethod", "staticmethod"})
_TEXT = re.compile(
    rf"(?P<words>(?:(?:{'|'.join(_WORDS)})\s+)*)(?P<decorates>@?)(?P<name>[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*)\s*"
    r"(?P<parameters>\(.*\))?(?:\s*(?:->|\u2192)\s*(?P<returns>.+?))?(?:\s*:\s*(?P<type>[^=]+?))?(?:\s*=\s*(?P<value>.+))?"
)
_OPTIONAL = re.compile(r"\[\s*,?\s*|\]")

#: How people write that there are more parameters, and names of several words.
_AND_SO_ON = re.compile(r"(?:,\s*)?(?<!=)\.\.\.(?=\s*(?:,|$|\]))")
_HYPHEN = re.compile(r"(?<=[a-z])-(?=[a-z])")


def python_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its module and class."""
    told = python_source(text, owner.kind)
    if told is None:
        return None
    _, source = told
    outer = (*filter(None, owner.package.split(".")), *owner.names)
    if not owner.is_type:
        module = ".".join(outer)
        return Form(f"{module.replace('.', '/') or 'x'}.py", "", source, "", module)
    lines = [f"class {owner.names[-1]}:", *(f"    {line}" for line in source.split("\n"))]
    return Form("x.py", lines[0], "\n".join(lines[1:]), "", ".".join(outer[:-1]))


def python_source(text: str, kind: str) -> tuple[str, str] | None:
    """The qualified name as it is written, and the declaration in the language's own form; None where a text is none.
    kind: of what it stands in: empty, ``module``, or of a type."""
    match = _TEXT.fullmatch(text)
    if match is None:
        return None
    words, name = match["words"].split(), match["name"]
    last = name.rpartition(".")[2]
    is_class = not {"class", "exception"}.isdisjoint(words)
    if is_class:
        base = "(Exception)" if "exception" in words else ""
        if match["parameters"] is None:
            return name, f"class {last}{base}: ..."
        return name, f"class {last}{base}:\n    def __init__(self{_parameters(match['parameters'], ', ')}): ..."
    if match["parameters"] is not None or match["decorates"] or not _CALLED.isdisjoint(words):
        return name, _function(last, words, match["parameters"], match["returns"], is_member=kind not in ("", "module"))
    if "property" in words:
        return name, f"@property\ndef {last}(self){_returns(match['type'] or match['returns'])}: ..."
    told = match["type"] or ""
    return name, f"{last}: {told}" if told and _is_expression(told) else f"{last} = ..."


def _function(name: str, words: list[str], parameters: str | None, returns: str | None, *, is_member: bool) -> str:
    before, first = "", ""
    if is_member:
        is_static = not {"static", "staticmethod"}.isdisjoint(words)
        before = "@classmethod\n" if "classmethod" in words else "@staticmethod\n" if is_static else ""
        first = "" if is_static else "cls" if "classmethod" in words else "self"
    begin = "async def" if not {"async", "coroutine"}.isdisjoint(words) else "def"
    rest = _parameters(parameters, ", " if first else "")
    return f"{before}{begin} {name}({first}{rest}){_returns(returns)}: ..."


def _returns(text: str | None) -> str:
    return f" -> {text}" if text and _is_expression(text) else ""


def _parameters(text: str | None, before: str) -> str:
    """A list of parameters that can be parsed, or nothing."""
    inner = (text or "()")[1:-1].strip().strip(",")
    plain = _HYPHEN.sub("_", _AND_SO_ON.sub("", inner)).strip(", ")
    for spelt in (inner, _with_defaults(inner), plain, _with_defaults(plain)):
        if spelt and _parses(f"def f({spelt}): ..."):
            return before + spelt
        if spelt and before and _parses(f"def f(self, {spelt}): ..."):
            return before + spelt
    return ""


def _with_defaults(text: str) -> str:
    """``a[, b[, c]]`` as ``a, b=..., c=...`` (what is optional has a default, whatever it is)."""
    parts, depth, at = list[str](), 0, 0
    for sign in _OPTIONAL.finditer(text):
        parts.append(_optional(text[at : sign.start()]) if depth else text[at : sign.start()])
        if sign[0].startswith("["):
            parts.append(", ")
            depth += 1
        else:
            depth -= 1
        at = sign.end()
    parts.append(text[at:])
    return re.sub(r"(?:\s*,)+\s*", ", ", "".join(parts)).strip(", ")


def _optional(text: str) -> str:
    names = (part.strip() for part in text.split(","))
    return ", ".join(name if "=" in name or name.startswith("*") or not name else f"{name}=..." for name in names)


def _is_expression(text: str) -> bool:
    return _parses(f"x: {text}")


def _parses(source: str) -> bool:
    try:
        ast.parse(source)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False
    return True
