"""What was typed into the one box."""

from __future__ import annotations

import re
from dataclasses import dataclass

from zarbek.core.errors import QueryError

MAX_CHARS = 200
_FILTER = re.compile(r"\b(project|kind|version|language):(\S*)")


@dataclass(frozen=True, slots=True)
class Query:
    """words: as typed, without filters. Empty filters admit everything."""

    words: tuple[str, ...]
    project: str = ""
    kind: str = ""
    version: str = ""
    language: str = ""

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
    words = tuple(_FILTER.sub(" ", text.replace("\0", " ")).split())
    if filters["version"] and not filters["project"]:
        raise QueryError("Say the project too, as in: project:tidebook version:1.0.0")
    return Query(words, **filters)
