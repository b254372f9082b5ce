"""Where in a page's text its elements stand: a parser that mends markup does not say."""

from __future__ import annotations

import re
from bisect import bisect_right
from functools import cache, cached_property
from html import escape, unescape
from typing import NamedTuple

#: Each costs a look through the rest of the text.
_MISSES = 8
_LINE = re.compile("\n")


class Position(NamedTuple):
    """line, column: from 1; a column of 0 where only a line near it is known."""

    line: int
    column: int


class Positions:
    """Where attributes with their values stand in a page's text. Cost: linear in the text for each attribute."""

    def __init__(self, text: str) -> None:
        self.text = text
        self._offsets: dict[str, dict[str, list[int]]] = {}

    @cached_property
    def lower(self) -> str:
        """The text in lower case."""
        return self.text.lower()

    @cached_property
    def lines(self) -> list[int]:
        """Where each line begins."""
        return [0, *(match.end() for match in _LINE.finditer(self.text))]

    def has(self, sign: str) -> bool:
        """Whether a text in lower case stands in the page, in any case."""
        return sign in self.lower

    def of(self, attribute: str) -> PositionsOf:
        """Finds the values of an attribute in the order of the text."""
        return PositionsOf(self, attribute)

    def offsets(self, attribute: str) -> dict[str, list[int]]:
        """Each value of an attribute to where it stands, however it is written."""
        found = self._offsets.get(attribute)
        if found is None:
            is_small = self.lower.count(attribute) == self.text.count(attribute)
            found = self._offsets[attribute] = _offsets_of(self.text, attribute, is_small=is_small)
        return found

    def times(self, attribute: str, value: str) -> int:
        """How often an attribute with a value is written; 0 where it is written in some other way."""
        return len(self.offsets(attribute).get(value, ()))

    def second(self, attribute: str, value: str) -> int:
        """The line of the second attribute with a value, from 1; 0 where it is written once."""
        offsets = self.offsets(attribute).get(value, ())
        return bisect_right(self.lines, offsets[1]) if len(offsets) > 1 else 0


class PositionsOf:
    """The places of one attribute of a page. What is written as most are is looked for in the text itself, until
    several are not there: that costs less than a table of all."""

    def __init__(self, page: Positions, attribute: str) -> None:
        self._page, self._attribute, self._begin = page, attribute, f'{attribute}="'
        self._misses, self._at, self._line, self._begins = 0, -1, 1, 0

    def next(self, value: str) -> Position:
        """The next place of the attribute with a value, after the last one that was asked for; where none is found,
        the line of that."""
        at = -1
        if self._misses < _MISSES:
            written = escape(value, quote=False) if "&" in value else value
            at = self._page.text.find(f'{self._begin}{written}"', self._at + 1)
        if at < 0:
            self._misses += 1
            offsets = self._page.offsets(self._attribute).get(value, ())
            n = bisect_right(offsets, self._at)
            if n == len(offsets):
                return Position(self._line, 0)
            at = offsets[n]
        passed = self._page.text.count("\n", max(self._at, 0), at)
        if passed:
            self._line += passed
            self._begins = self._page.text.rfind("\n", 0, at) + 1
        self._at = at
        return Position(self._line, at - self._begins + 1)


def _offsets_of(text: str, attribute: str, *, is_small: bool) -> dict[str, list[int]]:
    """Each value of an attribute to where it stands. is_small: the name is written in lower case everywhere."""
    found: dict[str, list[int]] = {}
    for match in _pattern(attribute, is_small).finditer(text):
        double, single, bare = match.groups()
        value = double if double is not None else single if single is not None else bare
        if "&" in value:
            value = unescape(value)
        found.setdefault(value, []).append(match.start())
    return found


@cache
def _pattern(attribute: str, is_small: bool) -> re.Pattern[str]:
    """An attribute with its value (HTML, section 13.1.2.3). A name in one case is looked for much faster."""
    value = r"""\s{0,9}=\s{0,9}(?:"([^"]*)"|'([^']*)'|([^\s"'>]+))"""
    return re.compile(rf"{attribute}(?<=[\s\"'/]{attribute}){value}", 0 if is_small else re.IGNORECASE)
