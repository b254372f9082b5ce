"""The order of hits: the engine's score first, then what a reader most likely meant."""

from __future__ import annotations

from collections.abc import Iterable

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


def rank(query: Query, hits: Iterable[Hit]) -> list[Hit]:
    """Hits best first; equal ones by path. Cost: one edit distance a hit."""
    wanted = key_of(query.name.lower())
    return sorted(hits, key=lambda hit: (-_weight(wanted, hit), hit.document.path, hit.document.project))


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
    if path.endswith("." + wanted):
        return 4.5
    if name.startswith(wanted):
        return 3.0 + len(wanted) / max(len(name), 1)
    if wanted in name:
        return 2.0 + len(wanted) / max(len(name), 1)
    if Levenshtein.distance(wanted, name, score_cutoff=2) <= 2 and len(wanted) > 3:
        return 1.5
    return 0.0
