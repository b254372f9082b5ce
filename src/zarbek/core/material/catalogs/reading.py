"""What a database says of itself: asked in a process that can be ended, and believed within bounds."""

from __future__ import annotations

import os
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import partial

import msgspec
from sqlalchemy.exc import SQLAlchemyError

from zarbek.core.errors import CatalogRefused
from zarbek.core.material.catalogs.bounds import TooMuch
from zarbek.core.material.catalogs.connections import connect, parse_address
from zarbek.core.material.catalogs.information_schema import read_information_schema
from zarbek.core.material.catalogs.inspection import inspect_catalog
from zarbek.core.material.processes import Bounds, hold_to
from zarbek.core.material.worker_pool import WorkerPool
from zarbek.core.model.database_catalog import MAX_ALL_COLUMNS, MAX_BYTES, DatabaseCatalog

#: Of the whole of it; of its process.
LIMIT_S, MEMORY_BYTES = 120.0, 2 * 2**30
_INSPECTED = frozenset({"postgresql", "sqlite"})


@dataclass(frozen=True, slots=True)
class CatalogQuestion:
    """address: without a password. places: the schemas to look at, each with the database and schema in which its
    tables lie in the model; all schemas, under their own names, if empty. host: where to connect in the place of the
    address's own host, once somebody has judged that."""

    address: str
    password: str = ""
    places: dict[str, str] = field(default_factory=dict)
    host: str = ""


def password_from(name: str) -> str | None:
    """What a variable of the environment holds; empty where none is named, None where it is not there."""
    return os.environ.get(name) if name else ""


def read_catalog(question: CatalogQuestion, *, limit_s: float = LIMIT_S) -> DatabaseCatalog:
    """The catalogue of a database, by one transaction that only reads. limit_s: after which it is given up.

    Raises CatalogRefused, without a password in what it says: for a database that cannot be reached, says nothing in
    time, shows no tables, or says what cannot be.
    """
    shown = parse_address(question.address).render_as_string(hide_password=True)
    pool = WorkerPool(_ask, lambda _: limit_s / 3, partial(_lost, limit_s))
    (found,) = pool.run([question], is_guarded=True)
    if isinstance(found, str):
        raise CatalogRefused(shown, found.replace(question.password, "…") if question.password else found)
    return found


def _lost(limit_s: float, _question: CatalogQuestion, after: float | None) -> DatabaseCatalog | str:
    return "reading it ended the process that read it" if after is None else f"it did not answer within {limit_s:g} s"


def _ask(question: CatalogQuestion) -> DatabaseCatalog | str:
    """The catalogue, or why there is none."""
    hold_to(Bounds(memory_bytes=MEMORY_BYTES))
    url = parse_address(question.address)
    read = inspect_catalog if url.drivername in _INSPECTED else read_information_schema
    try:
        with connect(url, question.password, question.host) as connection:
            home, schemas, tables = read(connection, list(question.places))
    except CatalogRefused as error:
        return error.reason
    except SQLAlchemyError as error:
        return _said_by(error)
    except (TooMuch, MemoryError, UnicodeError, ValueError, TypeError, LookupError, ArithmeticError) as error:
        return f"what it says cannot be: {str(error) or 'it takes too much memory'}"
    return _believed(url.drivername, home, schemas, tables, question.places)


def _said_by(error: SQLAlchemyError) -> str:
    own = getattr(error, "orig", None) or error
    said = str(own.args[1] if len(own.args) == 2 else own).strip().split("\n")[0]  # MariaDB: a number, then the words.
    return f"it cannot be read: {said[:300].rstrip('.')}"


def _believed(
    dialect: str, home: str, schemas: list[str], tables: list[object], places: dict[str, str]
) -> DatabaseCatalog | str:
    if absent := sorted(places.keys() - set(schemas)):
        return f"it shows no schema {absent[0]}; is its name right, and may the user see it?"
    if not tables:
        return "it shows no tables; may the user see them?"
    found = {
        "dialect": dialect, "home": home, "schemas": schemas, "tables": tables, "places": places,
        "read_at": datetime.now(tz=UTC).isoformat(timespec="seconds").replace("+00:00", "Z"),
    }  # fmt: skip
    try:
        catalog = msgspec.convert(found, DatabaseCatalog)
    except msgspec.ValidationError as error:
        return f"what it says cannot be: {error}"
    if sum(len(table.columns) for table in catalog.tables) > MAX_ALL_COLUMNS:
        return f"it has more than {MAX_ALL_COLUMNS:,} columns. Name the schemas to look at"
    if len(msgspec.json.encode(catalog)) > MAX_BYTES:
        return f"what it says takes more than {MAX_BYTES // 2**20} MiB. Name the schemas to look at"
    return catalog
