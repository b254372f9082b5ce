"""Rosters that were kept."""

from __future__ import annotations

from pathlib import Path

from crewroster.roster import Roster


def read_json(path: Path) -> Roster:
    """Read what :func:`crewroster.export.write_json` wrote.

    Args:
        path: The file.

    Returns:
        The roster.
    """
    return Roster()
