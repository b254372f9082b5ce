"""What guides take from other files: parts of text, and pieces of code by region, lines or element.

A line ``::: include FILE`` stands for the text of a file. A block of code whose first line says ``from=FILE``, maybe
with ``region=NAME`` or ``lines=3-9``, or ``symbol=NAME``, shows what stands there now. Regions begin with a comment
``region NAME`` and end with ``endregion``, as editors fold them.
"""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from textwrap import dedent
from typing import NamedTuple
from urllib.parse import unquote

from zarbek.core.model.finding import Finding

#: How deep parts lie in one another, how many one page takes, and how much that is, in characters.
MAX_DEPTH, MAX_PARTS, MAX_TEXT = 8, 200, 1_000_000
_INCLUDE = re.compile(r"^:{3,}[ \t]*include[ \t]+(\S+)[ \t]*$")
_CLOSES = re.compile(r"^:{3,}[ \t]*$")
_FENCE = re.compile(r"^([ \t]*)(`{3,}|~{3,})([^`\n]*)$")
_SETTING = re.compile(r"(?:^|\s)(from|region|lines|symbol)=(\S+)")
_REGION = re.compile(r"\bregion[ \t:]+([\w.-]+)")
_END = re.compile(r"\bend[ -]?region\b")
_LINES = re.compile(r"(\d+)(?:-(\d+))?\Z")


class CodePlace(NamedTuple):
    """Where an element stands: lines from 1, inclusive."""

    file: str
    line: int
    end_line: int


@dataclass(slots=True)
class Parts:
    """Brings what guides take. load: the text of a file of the source, None where there is none that may be read.
    place_of: where an element of the project stands."""

    load: Callable[[str], str | None]
    place_of: Callable[[str], CodePlace | None]


@dataclass(slots=True)
class Spliced:
    """A guide with its parts. lines: of each line of the text the line of the guide's own file that it stands at; empty
    where it is as it was written."""

    text: str
    lines: list[int]
    findings: list[Finding] = field(default_factory=list)


def splice(raw: str, *, file: str, path: str, parts: Parts) -> Spliced:
    """A guide in Markdown with what it takes from other files. file: as it appears in findings; path: of the page."""
    if "include" not in raw and "from=" not in raw and "symbol=" not in raw:
        return Spliced(raw, [])
    splicer = Splicer(file, path, parts)
    splicer.take(raw, file, None, ())
    text = "\n".join(line for line, _ in splicer.out)
    return Spliced(text, [number for _, number in splicer.out] if text != raw else [], splicer.findings)


class Splicer:
    """Collects the parts of one guide, and what is wrong with them."""

    def __init__(self, file: str, path: str, parts: Parts) -> None:
        self._file, self._path, self._parts = file, path, parts
        self.out: list[tuple[str, int]] = []
        self.findings: list[Finding] = []
        self.taken = 0
        self._size = 0

    def take(self, raw: str, file: str, at: int | None, above: tuple[str, ...]) -> None:
        """A text, as it is in a file. at: the line of the guide that takes it, None for its own."""
        lines = raw.split("\n")
        number, fence = 0, ""
        while number < len(lines):
            line = lines[number]
            here = at if at is not None else number + 1
            number += 1
            opened = _FENCE.match(line)
            if fence:
                fence = "" if opened and opened[2].startswith(fence) and not opened[3].strip() else fence
            elif found := _INCLUDE.match(line):
                number += number < len(lines) and bool(_CLOSES.match(lines[number]))
                self._include(found[1], file, here, above)
                continue
            elif opened:
                fence = opened[2]
                settings = dict(_SETTING.findall(opened[3]))
                if "from" in settings or "symbol" in settings:
                    number = _after(lines, number, fence)
                    self._code(line, opened, settings, file, here)
                    fence = ""
                    continue
            self._add(line, here)

    def has_room(self, text: str) -> bool:
        """Whether some text more is not too much for the guide."""
        self._size += len(text)
        return self._size <= MAX_TEXT

    def _add(self, line: str, here: int) -> None:
        self._size += len(line)
        if self._size <= MAX_TEXT:
            self.out.append((line, here))

    def _include(self, name: str, file: str, here: int, above: tuple[str, ...]) -> None:
        wanted = joined(file, name)
        if wanted in (*above, file):
            self._tell(here, name, f"{name} is a part of itself.")
            return
        text = self.load_part(wanted, name, here) if len(above) < MAX_DEPTH else None
        if text is not None:
            self.take(text, wanted, here, (*above, file))

    def load_part(self, wanted: str, name: str, here: int) -> str | None:
        """The text of a file of the source, by its path; None, which is told, where there is none. name: as
        written, at a line of the guide."""
        self.taken += 1
        if self.taken > MAX_PARTS:
            self._tell(here, name, f"The guide takes more than {MAX_PARTS} parts; {name} is left out.")
            return None
        text = self._parts.load(wanted) if not wanted.startswith("..") else None
        if text is None:
            self._tell(here, name, f"There is no file {name} to take a part of.")
        return text

    def _code(self, line: str, opened: re.Match[str], settings: dict[str, str], file: str, here: int) -> None:
        code = self.code_of(settings, file, here)
        self._add(line, here)
        for each in (code or "").split("\n") if code else ():
            self._add(opened[1] + each, here)
        self._add(opened[1] + opened[2], here)

    def code_of(self, settings: dict[str, str], file: str, here: int) -> str | None:
        """The code that some settings ask for in a file, at a line of the guide; None, which is told, for none."""
        symbol, name = settings.get("symbol"), settings.get("from", "")
        region, lines = settings.get("region"), settings.get("lines")
        place = self._parts.place_of(symbol) if symbol else None
        if symbol and place is None:
            self._tell(here, symbol, f"There is no {symbol} to show.")
            return None
        wanted, name = (place.file, place.file) if place is not None else (joined(file, name), name)
        text = self.load_part(wanted, name, here)
        if text is None:
            return None
        held = text.expandtabs(4).split("\n")
        found = (
            held[place.line - 1 : place.end_line] if place is not None
            else region_of(held, region) if region else _range_of(held, lines) if lines else held
        )  # fmt: skip
        if found is None:
            told = f"region {region}" if region else f"lines {lines}"
            self._tell(here, region or lines or "", f"{name} has no {told}.")
            return None
        return dedent("\n".join(found)).strip("\n")

    def _tell(self, line: int, text: str, message: str) -> None:
        self.findings.append(
            Finding("dangling/block", "error", self._path, message, subject_kind="page", file=self._file, line=line,
                    text=text, target=text)
        )  # fmt: skip


def region_of(lines: list[str], name: str) -> list[str] | None:
    """The lines of a region without its marks, and without those of regions in it; None where there is none."""
    begin = next((n for n, line in enumerate(lines) if (m := _REGION.search(line)) and m[1] == name
                  and _is_comment(line) and not _END.search(line)), None)  # fmt: skip
    if begin is None:
        return None
    depth = 1
    found: list[str] = []
    for line in lines[begin + 1 :]:
        if _END.search(line):
            depth -= 1
            if not depth:
                return found
        elif _REGION.search(line) and _is_comment(line):
            depth += 1
        else:
            found.append(line)
    return None


def _is_comment(line: str) -> bool:
    return line.lstrip().startswith(("#", "//", "--", "/*", "<!--", ";", "%", "*"))


def _range_of(lines: list[str], told: str) -> list[str] | None:
    found = _LINES.match(told)
    if found is None or not 0 < int(found[1]) <= len(lines):
        return None
    return lines[int(found[1]) - 1 : int(found[2] or found[1])]


def _after(lines: list[str], number: int, fence: str) -> int:
    """The line behind the end of a block of code."""
    for at in range(number, len(lines)):
        closed = _FENCE.match(lines[at])
        if closed and closed[2].startswith(fence) and not closed[3].strip():
            return at + 1
    return len(lines)


def joined(file: str, name: str) -> str:
    """The path of a file that another names; one that begins with ``/`` is below the source's root."""
    base = "" if name.startswith("/") else posixpath.dirname(file)
    return posixpath.normpath(posixpath.join(base, unquote(name).lstrip("/")))
