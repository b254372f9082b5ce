"""What a project file says of its data model (``[data]``)."""

from __future__ import annotations

from typing import Annotated

import msgspec

from zarbek.core.model.limits import Address, Label, Path
from zarbek.core.sources.datamodels.dialects import DIALECTS

PASSWORD_NAME = "^(ZARBEK_CATALOG_[A-Z0-9_]+)?$"


class CallMeaning(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a call in a template stands for: the name of a table, or a text. ``{1}`` is its first argument, ``{name}``
    the one of that name."""

    table: str = ""
    text: str = ""


class DescriptionPaths(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where descriptions of another form have what ours has, as JSONPath. tables: each table; the others are looked
    for within that, those of columns within a column. A name that is the key of what is found is ``key``."""

    tables: str = "$.tables[*]"
    name: str = "$.name"
    description: str = "$.description"
    row: str = ""
    owner: str = ""
    tags: str = ""
    checks: str = ""
    feeds: str = ""
    columns: str = "$.columns[*]"
    column_name: str = "$.name"
    column_description: str = "$.description"
    column_type: str = ""
    column_tags: str = ""
    column_checks: str = ""


class CatalogPlace(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A database whose catalogue may be asked. address: ``mariadb://USER@HOST:PORT/DATABASE`` and the like, without a
    password; password_from: the environment's variable that has it, which begins with ``ZARBEK_CATALOG_``: a project
    file must not have others sent. schemas: those to look at, each with the database and schema in which its tables
    lie here; all if empty."""

    address: Address
    password_from: Annotated[Label, msgspec.Meta(pattern=PASSWORD_NAME)] = ""
    schemas: dict[str, Path] = {}


class DataSettings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """dialect: of the SQL, told from it where it is left out. place: the database and schema in which tables without
    one lie. definitions, queries, macros: patterns of files, as in gitignore; definitions are read in the order of
    their names, numbers by their value, after those of earlier patterns. places: pattern of query files to the
    database and schema of what they make. calls, values: what names in templates stand for. descriptions: pattern of
    files in another form to where they have what. results: patterns of files with results of checks."""

    dialect: Label = ""
    place: Path = ""
    definitions: list[str] = []
    queries: list[str] = []
    macros: list[str] = []
    places: dict[str, Path] = {}
    calls: dict[str, CallMeaning] = {}
    values: dict[str, str] = {}
    descriptions: dict[str, DescriptionPaths] = {}
    results: list[str] = []
    catalog: CatalogPlace | None = None


NO_DATA = DataSettings()


def wrong_dialect(settings: DataSettings) -> str:
    """What is wrong with the dialect, or empty."""
    if not settings.dialect or settings.dialect in DIALECTS:
        return ""
    return f"{settings.dialect!r} is no dialect that can be read; those are {', '.join(sorted(DIALECTS))}"
