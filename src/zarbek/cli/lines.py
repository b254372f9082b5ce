"""Lines of parts, each with a style: a terminal shows the styles, a pipe gets the words.

What draws on a terminal takes as long to load as a whole search, so that a pipe does without.
"""

from __future__ import annotations

from importlib import import_module
from typing import Protocol, TextIO, cast

#: Text, or text with a style.
Part = str | tuple[str, str]
#: Moves the cursor or rings, whoever wrote it into a name.
_CONTROLS = dict.fromkeys((7, 8, 11, 12, 13))


class Lines(Protocol):
    """Where lines are written."""

    def write(self, *parts: Part, indent: int = 0) -> None:
        """One line; what is too long for a terminal goes on below under the same indent."""


class PlainLines:
    """Lines in a pipe, never cut."""

    def __init__(self, out: TextIO) -> None:
        self._out = out

    def write(self, *parts: Part, indent: int = 0) -> None:
        """One line without its styles."""
        text = "".join(part if isinstance(part, str) else part[0] for part in parts)
        self._out.write(" " * indent + text.translate(_CONTROLS) + "\n")


def lines_for(out: TextIO) -> Lines:
    """The lines of a stream, by whether a terminal shows them."""
    if not out.isatty():
        return PlainLines(out)
    return cast(Lines, import_module("zarbek.cli.terminal").TerminalLines(out))
