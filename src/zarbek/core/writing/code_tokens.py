"""Code as spans with a class for each token, and links at its names; what is made here has not passed the sanitiser."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from html import escape
from typing import Any, NamedTuple

from pygments.lexers import get_lexer_by_name
from pygments.token import STANDARD_TYPES
from pygments.util import ClassNotFound

from zarbek.core.sources.markup.code_names import QUALIFIED
from zarbek.core.writing.shown import Shown, tags_of

#: Of a block whose tokens have classes, in characters.
MAX_CODE = 100_000
_LINES = re.compile(r"[^\n]*\n|[^\n]+")
#: What an address in text becomes; None leaves plain words.
Resolve = Callable[[str], Shown | None]
#: Languages of which nearly every portal shows code.
_USUAL = ("python", "pycon", "java", "kotlin", "c", "cpp", "csharp", "javascript", "typescript", "go", "rust", "json",
          "yaml", "bash", "console", "sql", "xml")  # fmt: skip


@lru_cache(maxsize=64)
def lexer_of(language: str) -> Any:
    """What tells the tokens of a language apart, by the name that code blocks give it; None where nobody can."""
    try:
        return get_lexer_by_name(language)
    except ClassNotFound:
        return None


def is_known(language: str) -> bool:
    """Whether the tokens of a language, by the name that code blocks give it, can be told apart."""
    return bool(language) and lexer_of(language) is not None


def prepare_highlighting() -> None:
    """Make what each language's highlighting needs: half a second that no first reader should wait."""
    for language in _USUAL:
        if (lexer := lexer_of(language)) is not None:
            list(lexer.get_tokens_unprocessed("0"))


class CodeLink(NamedTuple):
    """A name in code that is linked. start, end: offsets in characters."""

    start: int
    end: int
    shown: Shown


def links_in(code: str, resolve: Resolve) -> Iterator[CodeLink]:
    """The qualified names of some code that lead somewhere, as ``resolve`` has them for ``code:NAME``."""
    for found in QUALIFIED.finditer(code):
        shown = resolve("code:" + found[0])
        if shown is not None and shown.href:
            yield CodeLink(found.start(), found.end(), shown)


def code_lines(code: str, language: str, links: Iterable[CodeLink]) -> str:
    """The inside of such a block, which has not passed the sanitiser."""
    return "".join(_marked(_tokens(code, language), sorted(links)))


def _tokens(code: str, language: str) -> Iterator[tuple[str, str]]:
    """(class, text) of each token."""
    lexer = lexer_of(language) if language and len(code) <= MAX_CODE else None
    if lexer is None:
        yield "", code
        return
    for kind, text in spans_of(code, lexer):
        yield _class_of(kind), text


def spans_of(code: str, lexer: Any) -> Iterator[tuple[Any, str]]:
    """(kind, text) of each token, in order; together they are the code."""
    return ((kind, text) for _, kind, text in lexer.get_tokens_unprocessed(code))


def _class_of(kind: Any) -> str:
    while kind not in STANDARD_TYPES and kind.parent is not None:
        kind = kind.parent
    return str(STANDARD_TYPES.get(kind, ""))


def marked_lines(tokens: Iterable[tuple[Any, str]], links: list[CodeLink]) -> list[str]:
    """Each line of some code by itself, which has not passed the sanitiser. tokens: as ``spans_of`` gives them; links:
    sorted, none over the end of a line."""

    def pieces() -> Iterator[tuple[str, str]]:
        for kind, text in tokens:
            name = _class_of(kind)
            for piece in _LINES.findall(text):
                body = piece.rstrip("\n")
                yield name, body
                if body != piece:
                    yield "", "\n"

    return "".join(_marked(pieces(), links)).split("\n")


def _marked(tokens: Iterable[tuple[str, str]], links: list[CodeLink]) -> Iterator[str]:
    """Tokens with links around one or several of them, or around a part of one."""
    at, until, closing = 0, 0, ""
    pending = list(reversed(links))
    for name, text in tokens:
        begin, stop = at, at + len(text)
        while at < stop:
            if closing and at >= until:
                yield closing
                closing = ""
            while not closing and pending and pending[-1].start <= at:
                link = pending.pop()
                if link.start == at < link.end:
                    opening, closing = tags_of(link.shown)
                    until = link.end
                    yield opening
            following = until if closing else pending[-1].start if pending else stop
            end = min(stop, following)
            yield _spanned(name, text[at - begin : end - begin])
            at = end
    yield closing


def _spanned(name: str, text: str) -> str:
    if not text:
        return ""
    return f'<span class="{name}">{escape(text, quote=False)}</span>' if name else escape(text, quote=False)
