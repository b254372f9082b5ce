"""Whether a type became wider or narrower, as far as its text tells."""

from __future__ import annotations

import re
from typing import Literal

from zarbek.core.changes.compatibility_rules import CompatibilityRules
from zarbek.core.model.naming import split_parts

Direction = Literal["same", "wider", "narrower", "other", "unsure", "told"]
_BLANKS = re.compile(r"\s+")
_OPTIONAL = re.compile(r"^(?:typing\.)?Optional\[(.*)\]$", re.DOTALL)
_UNION = re.compile(r"^(?:typing\.)?Union\[(.*)\]$", re.DOTALL)
_TYPING = re.compile(r"\b(?:typing|typing_extensions|collections\.abc|t|_t)\.(?=[A-Z])")
_GENERIC = re.compile(r"\b(?:List|Dict|Tuple|Set|FrozenSet|Type)\b")
_ANYTHING = frozenset({"Any", "typing.Any", "object", "any", "unknown", "Object", "dynamic"})
#: A parameter of the left type takes the right one too (PEP 484, "The numeric tower").
_TOWER = {("int", "float"), ("float", "complex"), ("int", "complex"), ("bool", "int")}


#: Words of a type by which it takes and gives the same values as without them.
_MANNER = re.compile(r"\b(?:const|typename|struct|class|enum|volatile|mut|final|readonly)\b|&|'[a-z_]\w*\s*,?\s*")
_WORD = re.compile(r"[A-Za-z_$][\w$]*")
_ARGUMENTS = re.compile(r"<[^<>]*>|\[[^\[\]]*\]")
#: Types whose names say all.
_PLAIN = frozenset(
    "int str bytes float bool complex list dict tuple set frozenset None string number boolean bigint symbol undefined "
    "null void any unknown object never Array Promise".split()
)


def direction_of(old: str, new: str, callers: CompatibilityRules) -> Direction:
    """How the values of the new type relate to those of the old one; ``told`` if there was no type, ``unsure``
    if their text does not tell."""
    old, new = spelt(old, callers), spelt(new, callers)
    direction = _direction_of(old, new, callers)
    return "unsure" if direction == "other" and not _is_telling(old, new, callers) else direction


def _is_telling(old: str, new: str, callers: CompatibilityRules) -> bool:
    """Whether two different types are known to differ by their texts."""
    words = {*_WORD.findall(old), *_WORD.findall(new)}
    if not words.isdisjoint(callers.aliased):
        return False
    if callers.structural and not words <= _PLAIN:
        return False
    return _bare(old) != _bare(new)


def _bare(text: str) -> str:
    """A type without its arguments and the manner in which it is handed over."""
    return "".join(without_arguments(_MANNER.sub(" ", text)).split())


def without_arguments(text: str) -> str:
    """``List<int>`` as ``List``."""
    while "(" not in text and (shorter := _ARGUMENTS.sub("", text)) != text:
        text = shorter
    return text


def _direction_of(old: str, new: str, callers: CompatibilityRules) -> Direction:
    if old == new:
        return "same"
    if not old or not new:
        return "told"
    before, after = _alternatives(old, callers), _alternatives(new, callers)
    if before == after:
        return "same"
    if before == {"Any"} and callers.aliases:
        return "told"  # As good as no type (PEP 484, "The Any type").
    if before < after or after & _ANYTHING:
        return "wider"
    if after < before or before & _ANYTHING:
        return "narrower"
    if len(before) == 1 == len(after):
        pair = (next(iter(before)), next(iter(after)))
        if pair in _TOWER:
            return "wider"
        if pair[::-1] in _TOWER:
            return "narrower"
    return "other"


_QUALIFIER = re.compile(r"(?<![\w.])(?:[A-Za-z_]\w*(?:\.|::))+(?=[A-Za-z_])")


def spelt(text: str, callers: CompatibilityRules) -> str:
    """A type in one spelling: without blanks and quotes, by its last name, as imports come and go; old generic
    aliases as what they stand for (PEP 585)."""
    plain = _QUALIFIER.sub("", _BLANKS.sub(" ", text).strip().strip("\"'"))
    if "interface" in plain:  # Go specification, "Predeclared identifiers".
        plain = re.sub(r"\binterface ?\{ ?\}", "any", plain)
    if callers.aliases:
        plain = _TYPING.sub("", plain)
        plain = _GENERIC.sub(lambda m: m[0].lower(), plain)
    return plain


def _alternatives(text: str, callers: CompatibilityRules) -> frozenset[str]:
    """The types of a union; a type that may be absent has that as one of them."""
    if match := _OPTIONAL.match(text):
        return _alternatives(match[1].strip(), callers) | {"None"}
    if match := _UNION.match(text):
        parts = split_parts(match[1])
    elif callers.union == "?" and text.endswith("?"):
        return frozenset({text[:-1], "null"})
    elif callers.union == "!":  # What is not marked as never null may be null.
        return frozenset({text[:-1]}) if text.endswith("!") else frozenset({text, "null"})
    elif callers.union == "|":
        parts = split_parts(text, "|")
    else:
        parts = [text]
    found: set[str] = set()
    for part in parts:
        cleaned = part.strip()
        if cleaned and cleaned != text:
            found |= _alternatives(cleaned, callers)
        elif cleaned:
            found.add(cleaned)
    return frozenset(found)
