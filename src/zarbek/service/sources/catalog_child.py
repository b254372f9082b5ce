"""The process in which a database is asked for its catalogue: it knows the portal's own database and secrets no more
than the one that it is asked to know.

A question comes as JSON on standard input; the answer goes as JSON to standard output.
"""

from __future__ import annotations

import sys

import msgspec

from zarbek.core.errors import CatalogRefused
from zarbek.core.material.catalogs.reading import CatalogQuestion, read_catalog
from zarbek.core.model.database_catalog import DatabaseCatalog


class CatalogAnswer(msgspec.Struct, omit_defaults=True):
    """What a database says of itself, or why there is nothing."""

    catalog: DatabaseCatalog | None = None
    refused: str = ""


def main() -> None:
    """Ask what standard input says."""
    question = msgspec.json.decode(sys.stdin.buffer.read(), type=CatalogQuestion)
    try:
        answer = CatalogAnswer(read_catalog(question))
    except CatalogRefused as error:
        answer = CatalogAnswer(refused=error.reason)
    sys.stdout.buffer.write(msgspec.json.encode(answer))


if __name__ == "__main__":
    main()
