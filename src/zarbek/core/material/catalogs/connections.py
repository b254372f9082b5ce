"""Connections to databases that are only read: one transaction that may write nothing, each statement in its time."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

from sqlalchemy import URL, Connection, create_engine, make_url
from sqlalchemy.exc import ArgumentError
from sqlalchemy.pool import NullPool

from zarbek.core.errors import CatalogRefused

CONNECT_S, STATEMENT_S = 10, 30
#: Scheme of an address to the driver behind it.
_DRIVERS = {
    "mariadb": "mariadb+mysqldb", "mysql": "mysql+mysqldb", "postgresql": "postgresql+psycopg", "sqlite": "sqlite",
}  # fmt: skip
#: What an address may ask of its driver: others have it read files, or send them.
_OPTIONS = frozenset({"unix_socket", "ssl_mode", "ssl_ca", "sslmode", "sslrootcert"})


def parse_address(address: str) -> URL:
    """An address of a database. Raises CatalogRefused: for one that is none, that holds a password, or that asks for
    more than it may; the error has no password."""
    try:
        url = make_url(address)
        shown = url.render_as_string(hide_password=True)
    except (ArgumentError, ValueError) as error:
        raise CatalogRefused(
            "The catalogue's address", "this is no address of a database, such as mariadb://USER@HOST:PORT/DATABASE"
        ) from error
    if url.drivername not in _DRIVERS:
        raise CatalogRefused(shown, f"catalogues are read of {', '.join(_DRIVERS)}, not of {url.drivername}")
    if url.password is not None:
        raise CatalogRefused(shown, "the password stands in the address. Name the variable that has it (password_from)")
    if refused := sorted(url.query.keys() - _OPTIONS):
        raise CatalogRefused(shown, f"its option {refused[0]} is none of {', '.join(sorted(_OPTIONS))}")
    return url


@contextmanager
def connect(url: URL, password: str, host: str) -> Iterator[Connection]:
    """A connection in a transaction that only reads. host: where to connect in the place of the address's own host,
    if any."""
    name = url.drivername
    arguments = _arguments(name)
    url = url.set(drivername=_DRIVERS[name], password=password or None)
    if name == "sqlite":
        url = _as_file(url)
    elif host and name == "postgresql":  # Which still sees to it that the server is who it should be.
        arguments["hostaddr"] = host
    elif host:
        url = url.set(host=host)
    engine = create_engine(url, poolclass=NullPool, connect_args=arguments)
    try:
        with engine.connect() as connection:
            _only_read(connection)
            yield connection
            connection.rollback()
    finally:
        engine.dispose()


def _as_file(url: URL) -> URL:
    """Opened to be read: what is not there is not made (SQLite, "Uniform Resource Identifiers")."""
    if not Path(url.database or "").is_file():
        raise CatalogRefused(str(url), "there is no such file")
    return url.set(database=f"file:{quote(url.database or '')}", query={"mode": "ro", "uri": "true"})


def _arguments(name: str) -> dict[str, object]:
    if name == "postgresql":
        bounds = f"-c default_transaction_read_only=on -c statement_timeout={STATEMENT_S * 1000} -c timezone=UTC"
        return {"connect_timeout": CONNECT_S, "options": bounds}
    if name == "sqlite":
        return {"timeout": CONNECT_S}
    # A server may ask its client for any file unless that says no.
    return {"connect_timeout": CONNECT_S, "read_timeout": 2 * STATEMENT_S, "write_timeout": CONNECT_S,
            "local_infile": 0}  # fmt: skip


def _only_read(connection: Connection) -> None:
    say = connection.exec_driver_sql
    if connection.dialect.name == "sqlite":
        say("PRAGMA query_only = ON")
        say("PRAGMA trusted_schema = OFF")
    elif connection.dialect.name != "postgresql":
        is_mariadb = getattr(connection.dialect, "is_mariadb", False)
        say(f"SET SESSION max_statement_time = {STATEMENT_S}" if is_mariadb
            else f"SET SESSION max_execution_time = {STATEMENT_S * 1000}")  # fmt: skip
        say("SET SESSION time_zone = '+00:00'")
        connection.rollback()
        say("SET SESSION TRANSACTION READ ONLY")
        say("START TRANSACTION READ ONLY")
