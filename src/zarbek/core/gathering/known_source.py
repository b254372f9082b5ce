"""What one process knows of a source that it gathers again and again."""

from __future__ import annotations

from dataclasses import dataclass, field

from zarbek.core.gathering.file_reading import KnownReadings
from zarbek.core.gathering.symbol_merging import KnownNames
from zarbek.core.material.unchanged import Unchanged


@dataclass(slots=True)
class KnownSource:
    """Brought up to date by each gathering of one source: files that are as they were are not read again.

    texts: of files as readers see them, as lines of JSON, empty for those that they do not."""

    readings: KnownReadings = field(default_factory=KnownReadings)
    names: KnownNames = field(default_factory=KnownNames)
    texts: Unchanged[bytes] = field(default_factory=Unchanged)
