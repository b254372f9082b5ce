"""Names cut into the terms that people type. Index and query use the same cuts."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from itertools import chain

_PARTS = re.compile(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z]+|[A-Z]+|\d+|[^\W\d_a-zA-Z]+")
MAX_GRAM = 24


def split_words(text: str) -> list[str]:
    """Lower-case parts of names in camelCase, snake_case and dotted form, in order."""
    return [part.lower() for part in _PARTS.findall(text)]


def words_of(names: Iterable[str]) -> list[str]:
    """What ``split_words`` gives of several names, each part once, in order. The names of one element share most of
    what stands between their dots, and those of one release much."""
    segments = dict.fromkeys(chain.from_iterable(name.split(".") for name in names))
    return list(dict.fromkeys(chain.from_iterable(map(_words_of_segment, segments))))


@lru_cache(maxsize=2**14)
def _words_of_segment(segment: str) -> tuple[str, ...]:
    return tuple(split_words(segment))


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
