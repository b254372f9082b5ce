"""Work on rows in batches: more than 500 a statement gains nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import TypeVar

BATCH = 500
T = TypeVar("T")


def batched(items: Iterable[T], size: int = BATCH) -> Iterator[list[T]]:
    """Items in lists of size at most, in order."""
    iterator = iter(items)
    while batch := list(islice(iterator, size)):
        yield batch
