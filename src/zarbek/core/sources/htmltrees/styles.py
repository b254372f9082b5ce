"""What a style sheet loads. Source: CSS Syntax Level 3 (W3C), sections 4.3.6 and 5; Cascading Level 5, section 2."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

import tinycss2


class Loaded(NamedTuple):
    """An address as it is written, and its line from 1."""

    address: str
    line: int


def loaded_by(css: str) -> Iterator[Loaded]:
    """Pictures, fonts and sheets that a style sheet asks for, in its order."""
    return _in(tinycss2.parse_component_value_list(css, skip_comments=True))


def _in(tokens: Iterable[Any]) -> Iterator[Loaded]:
    is_import = False
    for token in tokens:
        if token.type == "url" or (is_import and token.type == "string"):
            yield Loaded(token.value, token.source_line)
        elif token.type == "function" and token.lower_name == "url":
            yield from (Loaded(t.value, t.source_line) for t in token.arguments if t.type == "string")
        elif token.type == "function":
            yield from _in(token.arguments)
        elif token.type in ("{} block", "[] block", "() block"):
            yield from _in(token.content)
        if token.type != "whitespace":
            is_import = token.type == "at-keyword" and token.lower_value == "import"
