"""A file as rows: the prose of its comments, and the code that it stands at, in every language."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import accumulate
from typing import Any, Literal

from pygments.lexers import get_lexer_for_filename
from pygments.token import Comment, String, Token
from pygments.util import ClassNotFound

from zarbek.core.writing.code_tokens import MAX_CODE, CodeLink, lexer_of, marked_lines, spans_of
from zarbek.core.writing.html import SafeHtml, sanitise

#: So many characters of a file are shown at once; the rest is asked for after it.
WINDOW = 12_000
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


#: Kind and text of each token.
Tokens = list[tuple[Any, str]]


def tokens_of(text: str, lexer: Any) -> Tokens:
    """The tokens of a text, all of it one where nobody can tell them apart, or not in time."""
    return list(spans_of(text, lexer)) if lexer is not None and len(text) <= MAX_CODE else [(Token, text)]


def end_of_window(lines: list[str], begin: int, outermost: Iterable[int]) -> int:
    """Where to end a window of a file that begins at a line, both from 1, the end not in it: at an outermost
    declaration once it is WINDOW characters long, so that its tokens are those of the whole file.

    outermost: lines at which such declarations begin, sorted.
    """
    sizes = accumulate(len(line) + 1 for line in lines[begin - 1 :])
    least = next((begin + n for n, size in enumerate(sizes) if size > WINDOW), len(lines) + 1)
    return next((line for line in outermost if line > least), len(lines) + 1) if least <= len(lines) else least


def annotate(
    tokens: Tokens, documented: Mapping[int, bool], links: Iterable[CodeLink], first: int = 1
) -> list[Row]:  # fmt: skip
    """The rows of a file, or of a window of it. documented: line of each declaration to whether its documentation is
    told beside it; links: by their offsets in the text; first: the line at which the text begins, from 1."""
    html = marked_lines(tokens, sorted(links))
    lines = "".join(text for _, text in tokens).split("\n")
    kinds = _kinds(tokens, lines)
    cuts = _cuts(lines, kinds, [line - first + 1 for line in documented if first <= line < first + len(lines)])
    begins = sorted(cuts)
    rows = []
    for begin, end in zip(begins, [*begins[1:], len(lines)], strict=True):
        row = Row(begin + first, [start + first - 1 for start in cuts[begin]])
        row.parts = [Part(p.line + first - 1, p.lines, p.is_words) for p in _parts(begin, end, kinds, html)]
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


def _cuts(lines: list[str], kinds: list[Kind], documented: Iterable[int]) -> dict[int, list[int]]:
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
