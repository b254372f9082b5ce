"""Patterns that material brings, matched in time that grows with the text alone.

They are those of gitignore; RE2 matches them without going back, however they are written.
"""

from __future__ import annotations

from collections.abc import Iterable

from pathspec import GitIgnoreSpec

MAX_PATTERN_CHARS = 1000


def spec_of(patterns: Iterable[str]) -> GitIgnoreSpec:
    """Patterns that are too long fit nothing."""
    return GitIgnoreSpec.from_lines([p for p in patterns if len(p) <= MAX_PATTERN_CHARS], backend="re2")
