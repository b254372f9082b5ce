"""What a database says of itself: its tables and their columns, as they were at one moment."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec

from zarbek.core.model.datamodel import Check, Key
from zarbek.core.model.limits import Count, Label, Path

#: Of one catalogue: what goes beyond is refused as a whole, since a part of it would call the rest gone.
MAX_TABLES, MAX_COLUMNS, MAX_ALL_COLUMNS = 50_000, 10_000, 1_000_000
MAX_BYTES = 64 * 2**20
#: In characters: of what is said of an element, of an expression or a view's query.
MAX_COMMENT, MAX_EXPRESSION = 4_000, 100_000

_Comment = Annotated[str, msgspec.Meta(max_length=MAX_COMMENT)]
_Expression = Annotated[str, msgspec.Meta(max_length=MAX_EXPRESSION)]


class CatalogColumn(msgspec.Struct, frozen=True, omit_defaults=True):
    """A column. type: in the database's own words. default, computed: expressions."""

    name: Path
    type: _Expression
    nullable: bool = True
    default: _Expression = ""
    computed: _Expression = ""
    comment: _Comment = ""


class CatalogTable(msgspec.Struct, frozen=True, omit_defaults=True):
    """A table or view. keys: their targets as ``SCHEMA.TABLE``. query: that of a view. rows: about how many;
    changed: when they changed last (ISO 8601)."""

    schema: Path
    name: Path
    form: Literal["table", "view"] = "table"
    columns: Annotated[list[CatalogColumn], msgspec.Meta(max_length=MAX_COLUMNS)] = []
    keys: list[Key] = []
    checks: list[Check] = []
    comment: _Comment = ""
    query: _Expression = ""
    rows: Count | None = None
    changed: Label = ""


class DatabaseCatalog(msgspec.Struct, frozen=True, omit_defaults=True):
    """A catalogue. dialect: of the database's SQL. home: the schema that is meant where none is named. schemas: those
    that were looked at. read_at: when (ISO 8601). places: of some schemas the database and schema in which their
    tables lie in the model, if that has other names for them."""

    dialect: Label
    home: Path
    schemas: list[Path]
    read_at: Label
    places: dict[str, Path] = {}
    tables: Annotated[list[CatalogTable], msgspec.Meta(max_length=MAX_TABLES)] = []

    def place_of(self, schema: str, home: list[str]) -> list[str]:
        """The database and schema in which the tables of a schema lie in a model whose own is home: what the catalogue
        gives, home for the schema that is meant where none is named, else beside home under its name."""
        if schema in self.places:
            return self.places[schema].split(".")
        return home if schema == self.home else [*home[:-1], schema]
