"""Which language a tree's code is in: the one whose reader knows most of what its pages declare."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.page_symbols import symbols_of
from zarbek.core.sources.htmltrees.structured_data import page_data

#: Those whose declarations can be told apart from one another and from prose, in this order, with what a page that has
#: one says.
_SIGNS = {
    "java": re.compile(r"\b(?:public|protected|interface|class|enum|extends|throws|static)\b"),
    "cpp": re.compile(r"::|[;*&]|\b(?:void|int|char|const|class|struct|template|typedef|define)\b"),
    "python": re.compile(r"\("),
    "rust": re.compile(r"\b(?:fn|impl|trait|mod|crate)\b"),
    "csharp": re.compile(r"\{ ?[gs]et;|\b(?:sealed|override|delegate|namespace|Namespace|readonly)\b"),
    "go": re.compile(r"\bfunc\b"),
    "kotlin": re.compile(r"\b(?:fun|val)\b"),
    "typescript": re.compile(r"\)\s*:\s*\w|\b(?:string|number|boolean|interface)\b"),
}
LANGUAGES = tuple(_SIGNS)
#: What pages say for programs, to the languages that are read here.
_CALLED = {"c++": "cpp", "c#": "csharp", "c": "c", "golang": "go", **{language: language for language in LANGUAGES}}
#: Kinds that C qualifies, too.
_WITHOUT_SCOPES = frozenset({"member", "field"})
#: Fewer say nothing; so many in so many pages, and so many times what others know, are enough.
_FEWEST, _MANY, _TIMES, _PAGES = 3, 40, 2, 10
#: So many of a page's places are looked at.
_PLACES = 50


class Sample(NamedTuple):
    """One page of a tree."""

    document: LexborHTMLParser
    text: str
    file: str
    title: str


def language_of_code(samples: Sequence[Sample]) -> str:
    """The language of what some pages of a tree declare; empty where they declare nothing that is known."""
    if told := _said_by(samples):
        return told
    votes = _Votes()
    for sample in samples:
        votes.count(sample)
        if votes.are_plain:
            break
    return votes.language


def _said_by(samples: Sequence[Sample]) -> str:
    """What at least half of the pages say themselves."""
    said = Counter(_CALLED.get(page_data(document, text).code, "") for document, text, _, _ in samples)
    language, times = max(said.items(), key=lambda item: item[1], default=("", 0))
    return language if 2 * times >= len(samples) else ""


class _Votes:
    """How many declarations, and pages with one, are of each language; scopes tell C++ from C."""

    def __init__(self) -> None:
        self._counts, self._pages = dict.fromkeys(LANGUAGES, 0), Counter[str]()
        self._has_scopes = False

    def count(self, sample: Sample) -> None:
        """Count what a page declares in the languages that are still possible."""
        document, text, file, title = sample
        words = document.body.text(separator=" ") if document.body is not None else ""
        for language in (language for language in self._counts if _SIGNS[language].search(words)):
            found = symbols_of(document, text, file, language, title, most=_PLACES)
            self._counts[language] += len(found)
            self._pages[language] += bool(found)
            if language == "cpp":
                scoped = (symbol.path for symbol in found if symbol.kind not in _WITHOUT_SCOPES)
                self._has_scopes |= any("::" in path for path in scoped)
        others = (count for language, count in self._counts.items() if language != self._best)
        if self._pages[self._best] >= _PAGES and self._counts[self._best] > _MANY + _TIMES * max(others, default=0):
            self._counts = {self._best: self._counts[self._best]}  # Nothing that follows makes it another one.

    @property
    def _best(self) -> str:
        return max(self._counts, key=lambda language: self._counts[language])

    @property
    def are_plain(self) -> bool:
        """Whether no further page can change what the language is."""
        return len(self._counts) == 1 and (self._best != "cpp" or self._has_scopes)

    @property
    def language(self) -> str:
        """The one of most declarations; empty where there are few."""
        if self._counts[self._best] < _FEWEST:
            return ""
        return "c" if self._best == "cpp" and not self._has_scopes else self._best
