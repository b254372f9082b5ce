"""Texts that are written once and used by name in many descriptions: ``{block NAME}``."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

_USE = re.compile(r"\{block ([\w.-]+)\}")
#: A block may use others; so many after one another are followed.
MAX_CHAIN = 8
MAX_TEXT = 200_000


class Block(NamedTuple):
    """A named text, and where it begins."""

    text: str
    file: str
    line: int


def block_name(name: str) -> str:
    """What a block is called as an element, so that no table has its name."""
    return f"{{{name}}}"


def used_in(text: str) -> list[str]:
    """The blocks that a text names itself, each once, in order."""
    return list(dict.fromkeys(_USE.findall(text)))


class BlockTexts:
    """Texts with blocks in their places."""

    def __init__(self, blocks: Mapping[str, Block]) -> None:
        self._blocks = blocks
        self._made: dict[str, str] = {}

    def fill(self, text: str, chain: tuple[str, ...] = ()) -> str:
        """A text with its blocks. One that is not there, that is used within itself, that stands behind too many
        others, or with which the text would grow too long, stays as it is written."""
        size = len(text)
        parts, at = [], 0
        for found in _USE.finditer(text):
            said = self._text_of(found[1], chain)
            if said is None or size + len(said) > MAX_TEXT:
                continue
            size += len(said)
            parts += [text[at : found.start()], said]
            at = found.end()
        return "".join([*parts, text[at:]])

    def _text_of(self, name: str, chain: tuple[str, ...]) -> str | None:
        block = self._blocks.get(name)
        if block is None or name in chain or len(chain) >= MAX_CHAIN:
            return None
        if name not in self._made:
            self._made[name] = self.fill(block.text, (*chain, name)).strip()
        return self._made[name]
