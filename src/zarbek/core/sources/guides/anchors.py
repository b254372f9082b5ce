"""The places of headings."""

from __future__ import annotations

import re

_SLUG = re.compile(r"[^\w\- ]+")


def anchor_of(title: str, taken: dict[str, int]) -> str:
    """A heading's fragment: lower case, words joined by hyphens; repeats are numbered from 1."""
    base = _SLUG.sub("", title.strip().lower()).replace(" ", "-") or "section"
    count = taken.get(base, 0)
    taken[base] = count + 1
    return f"{base}-{count}" if count else base
