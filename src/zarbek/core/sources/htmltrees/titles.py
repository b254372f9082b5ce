"""What a program adds to the titles of a tree's pages."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence

import msgspec

#: Where an addition may begin, and where one before the page's own words may end.
_BEFORE_ADDITION = re.compile(r"\s+[-–—|·»«/(\[]|:\s|\s*[|»—–]")
_AFTER_ADDITION = re.compile(r"\s+(?:--|[-–—|·»])\s+|:\s+|\s*[|»—–]\s*")
#: In so large a part of the titles stands what is no page's own: a tree may have several parts, each with a name.
_SHARE, _FEWEST = 0.2, 3


class TitleFrame(msgspec.Struct, frozen=True):
    """What many titles of a tree begin and end with, the longest first."""

    beginnings: list[str] = []
    ends: list[str] = []

    def own_part(self, title: str) -> str:
        """A title without what others have, too; the whole where nothing else is left."""
        own = title.removesuffix(next(filter(title.endswith, self.ends), ""))
        if any(beginning.startswith(own) for beginning in self.beginnings):
            own = title  # What ends like others is all that it says itself.
        own = own.removeprefix(next(filter(own.startswith, self.beginnings), ""))
        return own.strip() or title


def frame_of(titles: Sequence[str]) -> TitleFrame:
    """The frame of a tree's titles, from some of them; an empty one where they have nothing in common."""
    least = max(_FEWEST, len(titles) * _SHARE)
    ends = _common((title[m.start() :] for title in titles for m in _BEFORE_ADDITION.finditer(title)), least)
    beginnings = _common((title[: m.end()] for title in titles for m in _AFTER_ADDITION.finditer(title)), least)
    return TitleFrame(beginnings, ends)


def _common(parts: Iterable[str], least: float) -> list[str]:
    return sorted((part for part, count in Counter(parts).items() if count >= least), key=len, reverse=True)
