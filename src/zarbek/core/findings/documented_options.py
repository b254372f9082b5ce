"""Options that a text tells of one by one, as ``options.name``, against what the signature says of them."""

from __future__ import annotations

import re
from collections.abc import Iterator

from zarbek.core.model.symbol import Parameter, Signature

_KEY = re.compile(r"(?:readonly\s+)?(?:\"([^\"]+)\"|'([^']+)'|([\w$]+))\s*\??\s*(?=[:=,;}(]|$)")
_WORDS = re.compile(r"[A-Za-z_$][\w$]*")
#: Types of the language's library that leave the options of another as they are, or leave some out.
_WRAPPERS = frozenset({"Partial", "Required", "Readonly", "NonNullable"})
_NOTHING = frozenset({"undefined", "null", "boolean", "number", "string", "true", "false", "void"})


def parameter_of(bag: str, signature: Signature) -> Parameter | None:
    """The parameter that a text calls by a name: the one of that name, else the only one that is taken apart."""
    named = [p for p in signature.parameters if p.name == bag]
    apart = [p for p in signature.parameters if p.name.startswith("{")]
    found = named or apart
    return found[0] if len(found) == 1 and found[0].kind != "variadic" else None


def keys_of(text: str) -> frozenset[str] | None:
    """Names in a pattern or type as ``{a, b: number}``; None where it may have others, or is none."""
    text = text.strip()
    if not (text.startswith("{") and text.endswith("}")):
        return None
    found: set[str] = set()
    for part in _parts(text[1:-1]):
        match = _KEY.match(part)
        if match is None:
            return None
        found.add(next(filter(None, match.groups())))
    return frozenset(found) if found else None


def _parts(text: str) -> Iterator[str]:
    """What stands between the separators outside of all brackets."""
    depth, start, before = 0, 0, ""
    for at, char in enumerate(text):
        if char in "{[(<":
            depth += 1
        elif char in "}])" or (char == ">" and before != "="):
            depth -= 1
        elif char in ",;" and depth == 0:
            yield text[start:at].strip()
            start = at + 1
        before = char
    if rest := text[start:].strip():
        yield rest


def types_in(text: str) -> list[str] | None:
    """The named types whose members together are the options of a type; None where it may have others."""
    if re.search(r"[^\w$\s|&<>,.]", text) or re.search(r"<[^<>]*,", text):
        return None
    names = [w for w in _WORDS.findall(text) if w not in _WRAPPERS and w not in _NOTHING]
    return names if names and all(name[0].isupper() for name in names) else None
