"""Code with classes for its tokens and links at its names, as safe HTML."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from html import escape
from typing import NamedTuple

from pygments.token import STANDARD_TYPES

from zarbek.core.writing.html import MAX_CODE, SafeHtml, Shown, lexer_of, sanitise, tags_of


class CodeLink(NamedTuple):
    """A name in code that is linked. start, end: offsets in characters."""

    start: int
    end: int
    shown: Shown


def linked_code(code: str, language: str, links: Iterable[CodeLink]) -> SafeHtml:
    """A block of code; links that overlap one before are left out. Unknown languages and huge blocks have no classes
    for their tokens."""
    return sanitise(f'<pre class="code" tabindex="0"><code>{code_lines(code, language, links)}</code></pre>\n')


def code_lines(code: str, language: str, links: Iterable[CodeLink]) -> str:
    """The inside of such a block, which has not passed the sanitiser."""
    return "".join(_marked(_tokens(code, language), sorted(links)))


def _tokens(code: str, language: str) -> Iterator[tuple[str, str]]:
    """(class, text) of each token."""
    lexer = lexer_of(language) if len(code) <= MAX_CODE else None
    if lexer is None:
        yield "", code
        return
    for _, kind, text in lexer.get_tokens_unprocessed(code):
        while kind not in STANDARD_TYPES and kind.parent is not None:
            kind = kind.parent
        yield STANDARD_TYPES.get(kind, ""), text


def _marked(tokens: Iterable[tuple[str, str]], links: list[CodeLink]) -> Iterator[str]:
    at, pending = 0, list(reversed(links))
    for name, text in tokens:
        begin, stop = at, at + len(text)
        while at < stop:
            while pending and pending[-1].start < at:
                pending.pop()
            if pending and pending[-1].start < stop:
                link = pending.pop()
                end = min(link.end, stop)
                opening, closing = tags_of(link.shown)
                yield _spanned(name, text[at - begin : link.start - begin])
                yield opening + _spanned(name, text[link.start - begin : end - begin]) + closing
                at = end
            else:
                yield _spanned(name, text[at - begin :])
                at = stop


def _spanned(name: str, text: str) -> str:
    if not text:
        return ""
    return f'<span class="{name}">{escape(text, quote=False)}</span>' if name else escape(text, quote=False)
