"""Whose turn a finding is."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from pathspec import GitIgnoreSpec

from zarbek.core.material.safe_patterns import spec_of


def owner_of(file: str, owners: Mapping[str, str], default: str) -> str:
    """The team of the last pattern that fits a file (patterns as in gitignore), else the default."""
    for pattern, team in reversed(list(owners.items())):
        if _spec(pattern).match_file(file):
            return team
    return default


@lru_cache(maxsize=1024)
def _spec(pattern: str) -> GitIgnoreSpec:
    return spec_of([pattern])
