"""Writing on a terminal, and the same words in pipes."""

from __future__ import annotations

from typing import TextIO

from rich.console import Console
from rich.padding import Padding
from rich.text import Text

from zarbek.cli.lines import Part

#: Tables in pipes are wide: a program reads them, or a pager that scrolls.
_PIPE_COLUMNS = 240


class _Piped(Console):
    """Leaves it to main what a closed pipe means."""

    def on_broken_pipe(self) -> None:
        raise BrokenPipeError


def console_for(out: TextIO) -> Console:
    """A console on a stream, without colours in pipes, and never cutting lines there.

    Names, paths and texts come from anywhere: nothing in a string is taken for a style or a picture.
    """
    width = None if out.isatty() else _PIPE_COLUMNS
    return _Piped(file=out, highlight=False, markup=False, emoji=False, soft_wrap=not out.isatty(), width=width)


def titled(title: str, rest: str = "") -> Text:
    """A headline: its title in bold, the rest as it is."""
    return Text.assemble((title, "bold"), rest)


def print_indented(text: Text, columns: int, console: Console) -> None:
    """Text under an indent that its further lines keep; in pipes, one line."""
    if console.is_terminal:
        console.print(Padding(text, (0, 0, 0, columns), expand=False))
    else:
        console.print(Text(" " * columns) + text)


class TerminalLines:
    """Lines on a terminal, with their styles."""

    def __init__(self, out: TextIO) -> None:
        self._console = console_for(out)

    def write(self, *parts: Part, indent: int = 0) -> None:
        """One line; what is too long goes on below under the same indent."""
        print_indented(Text.assemble(*parts), indent, self._console)
