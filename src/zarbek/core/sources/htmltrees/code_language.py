"""Which language a tree's code is in: the one whose reader knows most of what its pages declare."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.page_symbols import symbols_of

#: Those whose declarations can be told apart from one another and from prose, in this order.
LANGUAGES = ("java", "cpp", "python")
#: Kinds that C qualifies, too.
_WITHOUT_SCOPES = frozenset({"member", "field"})
#: Fewer say nothing; so many in so many pages, and so many times what others know, are enough.
_FEWEST, _MANY, _TIMES, _PAGES = 3, 40, 2, 10


class Sample(NamedTuple):
    """One page of a tree."""

    document: LexborHTMLParser
    text: str
    file: str
    title: str


def language_of_code(samples: Sequence[Sample]) -> str:
    """The language of what some pages of a tree declare; empty where they declare nothing that is known."""
    counts = dict.fromkeys(LANGUAGES, 0)
    pages = Counter[str]()
    has_scopes = False
    for document, text, file, title in samples:
        for language in counts:
            found = symbols_of(document, text, file, language, title)
            counts[language] += len(found)
            pages[language] += bool(found)
            if language == "cpp":
                has_scopes |= any("::" in symbol.path for symbol in found if symbol.kind not in _WITHOUT_SCOPES)
        best = max(counts, key=lambda language: counts[language])
        if pages[best] >= _PAGES and all(counts[best] > _MANY + _TIMES * count for language, count in counts.items() if language != best):
            counts = {best: counts[best]}  # Nothing that follows makes it another one.
            if best != "cpp" or has_scopes:
                break
    if counts[best] < _FEWEST:
        return ""
    return "c" if best == "cpp" and not has_scopes else best
