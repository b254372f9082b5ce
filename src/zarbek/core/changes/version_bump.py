"""What version number a set of changes asks for. Source: Semantic Versioning 2.0.0, items 4 to 8."""

from __future__ import annotations

from collections.abc import Iterable

from zarbek.core.changes.change import Change, Level
from zarbek.core.linking.versions import numbers_of
from zarbek.core.model.example import EXAMPLE


def level_of(changes: Iterable[Change]) -> Level:
    """major for what breaks callers, minor for what is new or deprecated, patch for the rest."""
    level: Level = "none"
    for change in changes:
        if change.breaks:
            return "major"
        is_code = change.symbol_kind != EXAMPLE  # A test binds nobody.
        if is_code and change.kind in ("added", "deprecated", "signature", "moved"):
            level = "minor"
        elif level == "none":
            level = "patch"
    return level


def promised_level(old: str, new: str) -> Level:
    """What the step from one number to the next promises; none where the numbers do not tell.

    Before 1.0.0 the second number takes the place of the first (item 4, and common practice).
    """
    before, after = numbers_of(old), numbers_of(new)
    if before is None or after is None or after <= before:
        return "none"
    if after[0] != before[0]:
        return "major"
    if after[1] != before[1]:
        return "major" if before[0] == 0 else "minor"
    return "minor" if before[0] == 0 else "patch"


def suggest_version(old: str, level: Level) -> str:
    """The next number after the old one; empty where that has no number to count on from."""
    numbers = numbers_of(old)
    if numbers is None:
        return ""
    major, minor, patch = numbers
    if level == "none":
        return f"{major}.{minor}.{patch}"
    if major == 0:
        return f"0.{minor + 1}.0" if level == "major" else f"0.{minor}.{patch + 1}"
    return {"major": f"{major + 1}.0.0", "minor": f"{major}.{minor + 1}.0"}.get(level, f"{major}.{minor}.{patch + 1}")
