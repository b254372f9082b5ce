"""What was stored last of a project that is stored again at each save of a file: nearly all of it is the same."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from django.conf import settings

from zarbek.core.last_answer import LastAnswer
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.name_digest import NameDigest


class StoredSymbol(NamedTuple):
    """A symbol by its line in a bundle. content: the primary key of what is stored of it."""

    digest: str
    entry: SymbolEntry
    content: int


@dataclass(slots=True)
class LastStored:
    """symbols: by line. sources: the text and the primary key of what is stored of it, by file. names: of it all."""

    symbols: dict[bytes, StoredSymbol] = field(default_factory=dict)
    sources: dict[str, tuple[str, int]] = field(default_factory=dict)
    names: LastAnswer[NameDigest] = field(default_factory=LastAnswer)


_last: dict[int, LastStored] = {}


def last_stored(project: int) -> LastStored | None:
    """Of a project by primary key; None where nothing is remembered, as in a portal, whose projects are many and whose
    contents are swept."""
    return _last.setdefault(project, LastStored()) if settings.PREVIEW else None
