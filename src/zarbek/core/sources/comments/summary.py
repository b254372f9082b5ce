"""The first sentence of doc text, which is its summary."""

from __future__ import annotations

import re

_END = re.compile(r"[.!?][\"')\]*`]*(?=\s+[A-Z`\[(\"'*<]|\s*$)")
_ABBREVIATION = re.compile(r"(?:\b(?:e\.g|i\.e|etc|cf|vs|approx|resp|incl|Dr|Mr|Ms|No|Fig|al)|\b[A-Z])\.$")
_NOT_PROSE = ("```", "- ", "1. ", "> ", "| ", "#")


def split_summary(text: str) -> tuple[str, str]:
    """(summary, rest) of CommonMark text: its first sentence, if it begins with prose."""
    text = text.strip()
    if not text or text.startswith(_NOT_PROSE):
        return "", text
    paragraph, _, rest = text.partition("\n\n")
    for match in _END.finditer(paragraph):
        end = match.end()
        head = paragraph[:end]
        if _ABBREVIATION.search(head) or head.count("`") % 2 or head.count("[") != head.count("]"):
            continue
        more = paragraph[end:].strip()
        return _fold(head), "\n\n".join(filter(None, (more, rest.strip())))
    return _fold(paragraph), rest.strip()


def _fold(text: str) -> str:
    return " ".join(text.split())
