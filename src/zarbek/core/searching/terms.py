"""Names cut into the terms that people type. Index and query use the same cuts."""

from __future__ import annotations

import re

_PARTS = re.compile(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+|\d+|[^\W\d_a-zA-Z]+")
MAX_GRAM = 24


def split_words(text: str) -> list[str]:
    """Lower-case parts of names in camelCase, snake_case and dotted form, in order."""
    return [part.lower() for part in _PARTS.findall(text)]


def edge_grams(name: str) -> list[str]:
    """Every beginning of a name and of the rest after each of its parts, in lower case."""
    lowered = name.lower()
    starts = {0, *(m.start() for m in _PARTS.finditer(name))}
    grams: dict[str, None] = {}
    for start in sorted(starts):
        rest = lowered[start : start + MAX_GRAM]
        for end in range(1, len(rest) + 1):
            grams[rest[:end]] = None
    return list(grams)


def prose_words(text: str) -> list[str]:
    """The words of a text, in small letters."""
    return re.findall(r"\w+", text.lower())
