"""A test that is an example, as it is found in a source file."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from textwrap import dedent

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.example import ExamplePart
from zarbek.core.model.mention import Mention

#: Of the parts of one test, and of their text in characters; where it goes beyond, a sign says so.
MAX_PARTS, MAX_TEXT = 400, 20_000
LEFT_OUT = "…"
#: The mark by which a documentation comment makes a test an example, with a title if one follows.
_MARK = re.compile(
    r"^(?P<begin>[ \t]*(?:[*/!#]+[ \t]*)?)(?:[@\\]example\b|:example:|<example[ \t]*/>)"
    r"[ \t]*(?P<title>.*?)[ \t]*(?:\*/[ \t]*)?$",
    re.MULTILINE,
)


@dataclass(slots=True)
class FoundTest:
    """names: what holds it, and its own name. title: as its source says it, or empty. mentions: of its text, and of
    what its code calls. setting: what is set up for it."""

    names: list[str]
    framework: str
    line: int
    end_line: int
    title: str = ""
    doc: Doc | None = None
    mentions: list[Mention] = field(default_factory=list)
    setting: list[ExamplePart] = field(default_factory=list)
    parts: list[ExamplePart] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Marked:
    """A comment with a mark. text: without it, of as many lines."""

    is_example: bool
    title: str
    text: str


def find_mark(comment: str) -> Marked:
    """Whether a documentation comment makes its test an example, and what is left of it."""
    found = _MARK.search(comment)
    if found is None:
        return Marked(False, "", comment)
    ends = "*/" if comment.rstrip().endswith("*/") and "*/" in found[0] else ""
    text = comment[: found.start()] + found["begin"] + ends + comment[found.end() :]
    return Marked(True, found["title"].removesuffix("*/").strip(), text)


def joined_parts(parts: Iterable[ExamplePart]) -> list[ExamplePart]:
    """Steps that follow one another as one."""
    found: list[ExamplePart] = []
    for part in parts:
        last = found[-1] if found else None
        if last is not None and part.kind == last.kind != "outcome":
            gap = part.line - last.line - last.text.count("\n") - 1
            text = last.text + "\n" * (2 if gap > 0 else 1) + part.text
            found[-1] = ExamplePart(last.kind, text, line=last.line)
        else:
            found.append(part)
    return list(_bounded(found))


def _bounded(parts: list[ExamplePart]) -> Iterator[ExamplePart]:
    left = MAX_TEXT
    for number, part in enumerate(parts):
        size = len(part.text) + len(part.result)
        if number >= MAX_PARTS or size > left:
            begun = part.text[:left].rpartition("\n")[0] if part.kind != "outcome" and number < MAX_PARTS else ""
            yield ExamplePart("step", f"{begun}\n{LEFT_OUT}".lstrip(), line=part.line)
            return
        left -= size
        yield part


def lines_between(lines: list[str], first: int, last: int) -> str:
    """Lines of a file, from 1 and inclusive, without the indentation that they share."""
    if first == last:
        return "".join(lines[first - 1 : last]).expandtabs(4).lstrip(" ")
    return dedent("\n".join(lines[first - 1 : last]).expandtabs(4)).strip("\n")
