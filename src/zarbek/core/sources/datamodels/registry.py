"""Who reads a data model, looked up at the first: the packages take longer to load than most sources to read."""

from __future__ import annotations

from collections.abc import Callable
from pkgutil import resolve_name

from zarbek.core.sources.languages.reading import SourceFile, SourceReading

READ = frozenset(("sql",))
_READER = "zarbek.core.sources.datamodels.reader:read_model"


def read_data(source: SourceFile, read: Callable[[str], bytes | None]) -> SourceReading:
    """Read the files of a data model. read: files of the source. What cannot be read is a finding."""
    found: SourceReading = resolve_name(_READER)(source, read)
    return found
