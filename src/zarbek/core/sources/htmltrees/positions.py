"""Where in a page's text its elements stand: a parser that mends markup does not say."""

from __future__ import annotations

from html import escape


class Positions:
    """Finds values of attributes in the order in which they stand in a page's text. Cost: by the text between two."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._at, self._line, self._begins = 0, 1, 0

    def find(self, attribute: str, value: str) -> tuple[int, int]:
        """(line, column) of the next attribute with a value, from 1; where it is written in another way than most,
        those of the last one that was found, with a column of 0."""
        text, after = self._text, self._at
        at = text.find(f'{attribute}="{value}"', after)
        if at < 0:
            for spelt in _other_ways(attribute, value):
                at = text.find(spelt, after)
                if at >= 0:
                    break
            else:
                return self._line, 0
        passed = text.count("\n", after, at)
        if passed:
            self._line += passed
            self._begins = text.rfind("\n", after, at) + 1
        self._at = at + 1
        return self._line, at - self._begins + 1


def _other_ways(attribute: str, value: str) -> list[str]:
    spelt = escape(value, quote=False)
    ways = [f'{attribute}="{spelt}"', f"{attribute}='{value}'", f"{attribute}='{spelt}'", f"{attribute}={spelt}"]
    return [*ways, f'{attribute.upper()}="{spelt}"', f"{attribute.upper()}={spelt}"]
