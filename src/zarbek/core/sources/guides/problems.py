"""What of a guide could not be read."""

from __future__ import annotations

from typing import NamedTuple


class Problem(NamedTuple):
    """A part that could not be read. line: of the file, 1 where that is not known."""

    line: int
    told: str
