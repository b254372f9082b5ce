"""What searching asks of an engine."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Protocol

from zarbek.core.searching.query import Query

#: So much of a document is shown, and searched.
MAX_SUMMARY, MAX_TEXT = 400, 20_000


@dataclass(frozen=True, slots=True)
class Document:
    """One symbol, page, or section of a page as it is searched. path: its address in the release. also: other names by
    which people look for it; addresses: those of them that are typed from their beginning. anchor: of a section.
    marks: by which it is chosen, as a query has them."""

    release: int
    project: str
    kind: str
    path: str
    name: str
    summary: str = ""
    text: str = ""
    is_deprecated: bool = False
    language: str = ""
    also: tuple[str, ...] = ()
    addresses: tuple[str, ...] = ()
    anchor: str = ""
    marks: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Hit:
    """score has no unit and compares only within one search."""

    document: Document
    score: float


class Index(Protocol):
    """What a search engine does for the portal."""

    def replace(self, release: int, documents: Iterable[Document]) -> int:
        """Index a release's documents in place of what it had; how many."""

    def search(
        self, query: Query, releases: Collection[int], limit: int, *, limits: Mapping[int, str] | None = None
    ) -> list[Hit]:
        """The best hits within the releases, before re-ranking. limits: releases of which only documents with a mark
        are for whoever asks."""
