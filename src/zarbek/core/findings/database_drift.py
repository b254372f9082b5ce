"""stale/database and stale/database-ahead: what a release says of tables, beside what their database says now."""

from __future__ import annotations

from collections import Counter
from collections.abc import Container, Iterable, Iterator

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.formats.wording import count
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.model.database_catalog import CatalogTable, DatabaseCatalog
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.datamodels.database_facts import name_some
from zarbek.core.sources.datamodels.type_names import is_same_type

GONE, MORE = "stale/database", "stale/database-ahead"


def find_drift(symbols: Iterable[Symbol], catalog: DatabaseCatalog, known: Container[str]) -> Iterator[Finding]:
    """Where the tables and columns of a release and its database's catalogue are not the same. known: paths of those
    of which the release itself was found to say what the database does not."""
    drift = _Drift(symbols, catalog)
    for finding in [*drift.of_tables(), *drift.of_columns()]:
        if finding.target not in known:
            yield finding
    yield from drift.more()


class _Drift:
    def __init__(self, symbols: Iterable[Symbol], catalog: DatabaseCatalog) -> None:
        self._tables: dict[str, Symbol] = {}
        self._columns: dict[str, list[Symbol]] = {}
        for symbol in symbols:
            if symbol.data is not None and symbol.data.table is not None:
                self._tables[symbol.path.casefold()] = symbol
            elif symbol.data is not None and symbol.data.column is not None:
                self._columns.setdefault(symbol.parent.casefold(), []).append(symbol)
        self._catalog = catalog
        most = Counter(table.parent for table in self._tables.values()).most_common(1)
        home = most[0][0].split(".") if most else [catalog.home]
        self._places = {schema: ".".join(catalog.place_of(schema, home)) for schema in catalog.schemas}
        self._there = {f"{self._places[t.schema]}.{t.name}".casefold(): t for t in catalog.tables}

    def of_tables(self) -> Iterator[Finding]:
        """Tables that the database does not have, of the schemas that were looked at."""
        places = set(self._places.values())
        for path, table in self._tables.items():
            facts = table.data.table if table.data is not None else None
            is_fed = facts is not None and bool(facts.feeds)
            if path not in self._there and table.parent in places and not is_fed:
                yield _finding(GONE, table, table.path, f"The database does not have {table.path}.")

    def of_columns(self) -> Iterator[Finding]:
        """Columns that the database does not have, or has of another type."""
        for path, there in self._there.items():
            types = {column.name.casefold(): column.type for column in there.columns}
            for column in self._columns.get(path, ()):
                has = types.get(column.name.casefold())
                if has is None:
                    yield _finding(GONE, column, column.path, f"The database does not have the column {column.path}.")
                elif column.type and not is_same_type(column.type, has, self._catalog.dialect):
                    said = f"{column.path} is {column.type} here; the database has {has.upper()}."
                    yield _finding(GONE, column, column.path, said)

    def more(self) -> Iterator[Finding]:
        """What only the database has: one finding a table, and one a schema."""
        new: dict[str, list[str]] = {}
        for path, there in self._there.items():
            table = self._tables.get(path)
            if table is None:
                new.setdefault(self._places[there.schema], []).append(there.name)
            elif names := self._more_columns(path, there):
                said = f"In the database, {table.path} has {count(len(names), 'more column')}: {name_some(names)}."
                yield _finding(MORE, table, table.path, said)
        for place, names in new.items():
            said = f"The database has {count(len(names), 'more table')} in {place}: {name_some(names)}."
            yield Finding(
                MORE, SEVERITIES[MORE], place, said, target=place, fingerprint=fingerprint(MORE, place, place)
            )

    def _more_columns(self, path: str, there: CatalogTable) -> list[str]:
        told = {column.name.casefold() for column in self._columns.get(path, ())}
        return [column.name for column in there.columns if column.name.casefold() not in told] if told else []


def _finding(rule: str, symbol: Symbol, target: str, message: str) -> Finding:
    return Finding(
        rule, SEVERITIES[rule], symbol.path, message, file=symbol.file, line=symbol.line, text=symbol.name,
        target=target, fingerprint=fingerprint(rule, symbol.path, target),
    )  # fmt: skip
