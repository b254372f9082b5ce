"""The order of hits: the engine's score first, then what a reader most likely meant."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator

from rapidfuzz.distance import Levenshtein

from zarbek.core.model.naming import key_of
from zarbek.core.searching.engine_port import Document, Hit
from zarbek.core.searching.query import Query

_KIND_WEIGHT = {
    "class": 1.0, "function": 0.9, "exception": 0.9, "enum": 0.9, "method": 0.7, "module": 0.8,
    "interface": 1.0, "struct": 1.0, "trait": 1.0, "record": 1.0, "object": 0.9, "union": 0.9, "macro": 0.8,
    "annotation": 0.8, "namespace": 0.8, "primitive": 1.0, "constructor": 0.5, "field": 0.5, "member": 0.6,
    "package": 0.8, "type": 0.8, "guide": 0.8, "constant": 0.7, "property": 0.6, "attribute": 0.5,
    "variable": 0.6, "operation": 1.0, "schema": 0.9, "message": 0.9, "element": 0.8, "api": 0.9, "complex type": 0.8,
    "service": 0.9, "input": 0.8, "scalar": 0.7, "response": 0.5, "parameter": 0.5,
}  # fmt: skip


#: Of one page, so that others are seen.
_MOST_SECTIONS = 3


def rank(query: Query, hits: Iterable[Hit]) -> list[Hit]:
    """Hits best first; equal ones by path. Cost: one edit distance a hit."""
    wanted = key_of(query.name.lower())
    found = sorted(hits, key=lambda hit: (-_weight(wanted, hit), hit.document.path, hit.document.project))
    return list(_few_a_page(wanted, found))


def _few_a_page(wanted: str, hits: list[Hit]) -> Iterator[Hit]:
    """A page as a whole only where its own name is meant, or none of its sections is found; the best sections of it."""
    sections = Counter(_page_of(hit.document) for hit in hits if hit.document.anchor)
    shown: Counter[tuple[str, int, str]] = Counter()
    for hit in hits:
        page = _page_of(hit.document)
        if hit.document.anchor:
            shown[page] += 1
            if shown[page] > _MOST_SECTIONS:
                continue
        elif sections[page] and not _closeness(wanted, hit.document):
            continue
        yield hit


def _page_of(document: Document) -> tuple[str, int, str]:
    return document.project, document.release, document.path if document.kind == "guide" else ""


def _weight(wanted: str, hit: Hit) -> float:
    document = hit.document
    return (
        hit.score
        + 10 * _closeness(wanted, document)
        + _KIND_WEIGHT.get(document.kind, 0.5) * 3
        - (4 if document.is_deprecated else 0)
    )


def _closeness(wanted: str, document: Document) -> float:
    """5 for the name itself, less for names that contain it or are spelt alike; 0 for others."""
    name, path = document.name.lower(), key_of(document.path).lower()
    if wanted in (name, path):
        return 5.0
    if path.endswith("." + wanted) and not document.anchor:
        return 4.5
    if name.startswith(wanted):
        return 3.0 + len(wanted) / max(len(name), 1)
    if wanted in name:
        return 2.0 + len(wanted) / max(len(name), 1)
    if Levenshtein.distance(wanted, name, score_cutoff=2) <= 2 and len(wanted) > 3:
        return 1.5
    return 0.0
