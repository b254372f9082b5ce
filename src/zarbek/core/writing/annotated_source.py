"""A file as rows: the prose of its comments, and the code that it stands at, in every language."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from pygments.lexers import get_lexer_for_filename
from pygments.token import Comment, String, Token
from pygments.util import ClassNotFound

from zarbek.core.writing.code_tokens import MAX_CODE, CodeLink, lexer_of, marked_lines, spans_of
from zarbek.core.writing.html import SafeHtml, sanitise

#: What a line is: words alone, documentation of what stands above it among them, or code.
Kind = Literal["comment", "docstring", "code", "blank"]
#: What stands before a declaration and belongs to it.
_ABOVE = ("@", "#[", "[")
_SIGNS = re.compile(
    r"^\s*(?:/\*+!?|\*+/|\*|//[/!]?|#+|--+|;+|%+|<!--|\"\"\"|''')?[ \t]?|\s*(?:\*+/|-->|\"\"\"|''')\s*$"
)


@dataclass(slots=True)
class Part:
    """Lines of one kind. line: the first, from 1. html: of each line. is_words: whether the annotated page says it
    as prose instead."""

    line: int
    lines: list[str]
    is_words: bool


@dataclass(slots=True)
class Row:
    """line: the first, from 1. starts: lines of the declarations that begin here. words: what comments say that are
    no documentation of these, without their signs. parts: all of its lines, in order."""

    line: int
    starts: list[int] = field(default_factory=list)
    words: str = ""
    parts: list[Part] = field(default_factory=list)


def lexer_for(file: str, language: str) -> Any:
    """What tells the tokens of a file apart: by its language, else by its name; None where nobody can."""
    found = lexer_of(language)
    if found is not None:
        return found
    try:
        return get_lexer_for_filename(file)
    except ClassNotFound:
        return None


def annotate(text: str, lexer: Any, documented: dict[int, bool], links: Iterable[CodeLink]) -> list[Row]:
    """The rows of a file. documented: line of each declaration to whether its documentation is told beside it.
    Longer texts than can be read as tokens in time are told by their declarations alone."""
    tokens = list(spans_of(text, lexer)) if lexer is not None and len(text) <= MAX_CODE else [(Token, text)]
    html = marked_lines(tokens, sorted(links))
    lines = text.split("\n")
    kinds = _kinds(tokens, lines)
    cuts = _cuts(lines, kinds, documented)
    begins = sorted(cuts)
    rows = []
    for begin, end in zip(begins, [*begins[1:], len(lines)], strict=True):
        row = Row(begin + 1, cuts[begin])
        row.parts = list(_parts(begin, end, kinds, html))
        is_told = any(documented[start] for start in row.starts)
        row.words = "" if is_told else _words(lines, kinds, begin, end)
        rows.append(row)
    return rows


def _kinds(tokens: Sequence[tuple[Any, str]], lines: list[str]) -> list[Kind]:
    kinds: list[Kind] = ["blank"] * len(lines)
    row = 0
    for kind, text in tokens:
        own = _kind_of(kind, text)
        for number, piece in enumerate(text.split("\n")):
            row += number > 0
            if piece.strip() and kinds[row] != "code":
                kinds[row] = own
    return kinds


def _kind_of(kind: Any, text: str) -> Kind:
    if kind in String.Doc:
        return "comment" if text.lstrip().startswith("/") else "docstring"
    is_comment = kind in Comment and kind not in Comment.Preproc and kind not in Comment.PreprocFile
    return "comment" if is_comment else "code"


def _cuts(lines: list[str], kinds: list[Kind], documented: dict[int, bool]) -> dict[int, list[int]]:
    """Where rows begin, from 0, with the declarations that begin there."""
    cuts: dict[int, list[int]] = {0: []}
    for start in sorted(documented):
        at = min(start - 1, len(lines) - 1)
        while at > 0 and (kinds[at - 1] == "comment" or lines[at - 1].lstrip().startswith(_ABOVE)):
            at -= 1
        cuts.setdefault(at, []).append(start)
    for at, kind in enumerate(kinds):
        if kind == "comment" and at and kinds[at - 1] != "comment":
            cuts.setdefault(at, [])
    return cuts


def _parts(begin: int, end: int, kinds: list[Kind], html: list[str]) -> Iterator[Part]:
    at = begin
    while at < end:
        is_words = kinds[at] in ("comment", "docstring")
        after = at + 1
        while after < end and (kinds[after] == "blank" or (kinds[after] in ("comment", "docstring")) == is_words):
            after += 1
        yield Part(at + 1, html[at:after], is_words)
        at = after


def _words(lines: list[str], kinds: list[Kind], begin: int, end: int) -> str:
    told = [_SIGNS.sub("", lines[at]) for at in range(begin, end) if kinds[at] in ("comment", "docstring")]
    return re.sub(r"\n{3,}", "\n\n", "\n".join(told)).strip()


def part_html(part: Part) -> SafeHtml:
    """The lines of a part as one block of code."""
    return sanitise(f'<pre class="code"><code>{chr(10).join(part.lines)}</code></pre>')
