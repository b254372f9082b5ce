"""What was typed into the one box."""

from __future__ import annotations

import re
from dataclasses import dataclass

from zarbek.core.errors import QueryError

MAX_CHARS = 200
_FILTER = re.compile(r"\b(project|kind|version|language):(\S*)")
#: Of what elements are marked with, or are of; texts with spaces stand in quotes.
_MARK = re.compile(r"\b(tag|type|database):(\"[^\"]*\"|\S*)")


@dataclass(frozen=True, slots=True)
class Query:
    """words: as typed, without filters. Empty filters admit everything. marks: all of which an element must have, as
    ``tag:daily``, ``type:decimal``, ``database:logbook``, in small letters."""

    words: tuple[str, ...]
    project: str = ""
    kind: str = ""
    version: str = ""
    language: str = ""
    marks: tuple[str, ...] = ()

    @property
    def name(self) -> str:
        """The words as one name, for exact matches."""
        return " ".join(self.words).strip("().`~ ")


def parse_query(text: str, *, project: str = "", kind: str = "", version: str = "", language: str = "") -> Query:
    """``find_windows project:tidebook kind:function``. Raises QueryError for a text too long,
    or a version without the project that it belongs to."""
    if len(text) > MAX_CHARS:
        raise QueryError(f"A search has at most {MAX_CHARS} characters; this one has {len(text)}.")
    filters = {"project": project, "kind": kind, "version": version, "language": language}
    for name, value in _FILTER.findall(text):
        filters[name] = value
    told = [(name, value.strip('"').replace(", ", ",").lower()) for name, value in _MARK.findall(text)]
    words = tuple(_MARK.sub(" ", _FILTER.sub(" ", text.replace("\0", " "))).split())
    if filters["version"] and not filters["project"]:
        raise QueryError("Say the project too, as in: project:tidebook version:1.0.0")
    return Query(words, **filters, marks=tuple(dict.fromkeys(f"{name}:{value}" for name, value in told if value)))
