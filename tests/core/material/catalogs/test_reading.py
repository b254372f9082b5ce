"""Catalogues of databases that answer, that do not, and that lie."""

import socket
import sqlite3
import tempfile
import threading
import unittest
from pathlib import Path

from zarbek.core.errors import CatalogRefused
from zarbek.core.material.catalogs.bounds import Bounded, TooMuch, comment_of, expression_of
from zarbek.core.material.catalogs.connections import connect, parse_address
from zarbek.core.material.catalogs.reading import CatalogQuestion, _believed, read_catalog

SCHEMA = """CREATE TABLE ports (code TEXT PRIMARY KEY, big INT NOT NULL DEFAULT 3 CHECK (big > 1));
CREATE TABLE trips (id INTEGER PRIMARY KEY, port TEXT REFERENCES ports (code), at TEXT, UNIQUE (port, at));
CREATE INDEX low ON trips (at); CREATE VIEW late AS SELECT code FROM ports;"""


class Sqlite(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name, "sea and land.db")
        with sqlite3.connect(self.path) as database:
            database.executescript(SCHEMA)
        database.close()
        self.address = f"sqlite:///{self.path}"

    def test_says_what_it_has(self):
        catalog = read_catalog(CatalogQuestion(self.address))
        self.assertEqual((catalog.dialect, catalog.home, catalog.schemas), ("sqlite", "main", ["main"]))
        late, ports, trips = catalog.tables
        self.assertEqual((late.form, late.query), ("view", "CREATE VIEW late AS SELECT code FROM ports"))
        self.assertEqual([(c.name, c.type, c.nullable, c.default) for c in ports.columns],
                         [("code", "TEXT", True, ""), ("big", "INTEGER", False, "3")])  # fmt: skip
        self.assertEqual([c.text for c in ports.checks], ["big > 1"])
        self.assertEqual({(k.kind, *k.columns, k.target) for k in trips.keys}, {
            ("primary", "id", ""), ("foreign", "port", "main.ports"), ("unique", "port", "at", ""), ("index", "at", ""),
        })  # fmt: skip

    def test_is_only_read(self):
        before = self.path.read_bytes()
        with connect(parse_address(self.address), "", "") as connection, self.assertRaisesRegex(Exception, "readonly"):
            connection.exec_driver_sql("DELETE FROM ports")
        self.assertEqual(
            (self.path.read_bytes(), [p.name for p in self.path.parent.iterdir()]), (before, [self.path.name])
        )

    def test_that_is_none_is_refused_and_not_made(self):
        absent = self.path.with_name("absent.db")
        with self.assertRaisesRegex(CatalogRefused, "no such file"):
            read_catalog(CatalogQuestion(f"sqlite:///{absent}"))
        self.assertFalse(absent.exists())
        self.path.write_bytes(b"no database" * 100)
        with self.assertRaisesRegex(CatalogRefused, "not a database"):
            read_catalog(CatalogQuestion(self.address))

    def test_without_tables_or_without_a_schema_that_is_asked_for_is_not_believed(self):
        with self.assertRaisesRegex(CatalogRefused, "shows no schema prod"):
            read_catalog(CatalogQuestion(self.address, places={"prod": "sea"}))
        empty = self.path.with_name("empty.db")
        empty.write_bytes(b"")
        with self.assertRaisesRegex(CatalogRefused, "shows no tables"):
            read_catalog(CatalogQuestion(f"sqlite:///{empty}"))


class Addresses(unittest.TestCase):
    def test_that_are_refused(self):
        for address, why in (
            ("nonsense", "no address"), ("", "no address"), ("oracle://u@h/d", "not of oracle"),
            ("mysql+pymysql://u@h/d", "not of"), ("mariadb://u:sesame@h/d", "password stands in"),
            ("mariadb://u@h/d?local_infile=1", "local_infile"), ("postgresql://h/d?passfile=/etc/x", "passfile"),
            ("mariadb://u@h:port/d", "no address"),
        ):  # fmt: skip
            with self.subTest(address=address), self.assertRaisesRegex(CatalogRefused, why) as refused:
                read_catalog(CatalogQuestion(address))
            self.assertNotIn("sesame", str(refused.exception))


class Servers(unittest.TestCase):
    def serve(self, answer: bytes) -> int:
        """The port of a server that says something, and then nothing more."""
        server = socket.create_server(("127.0.0.1", 0))
        held = []

        def accept():
            while True:
                try:
                    client, _ = server.accept()
                except OSError:
                    return
                client.sendall(answer)
                held.append(client)

        threading.Thread(target=accept, daemon=True).start()
        self.addCleanup(server.close)
        return int(server.getsockname()[1])

    def test_that_hang_are_given_up(self):
        port = self.serve(b"")
        for scheme in ("mariadb", "postgresql"):
            with self.subTest(scheme=scheme), self.assertRaisesRegex(CatalogRefused, "did not answer within 2 s"):
                read_catalog(CatalogQuestion(f"{scheme}://u@127.0.0.1:{port}/d"), limit_s=2)

    def test_that_are_none_or_are_not_there_say_so(self):
        port = self.serve(b"HTTP/1.1 400 Bad Request\r\n\r\n" * 100)
        with self.assertRaisesRegex(CatalogRefused, "cannot be read"):
            read_catalog(CatalogQuestion(f"postgresql://u@127.0.0.1:{port}/d"), limit_s=30)
        with socket.create_server(("127.0.0.1", 0)) as closed:
            port = closed.getsockname()[1]
        with self.assertRaisesRegex(CatalogRefused, "cannot be read"):
            read_catalog(CatalogQuestion(f"mariadb://u@127.0.0.1:{port}/d"), limit_s=30)

    def test_that_lie_are_not_believed(self):
        column = {"name": "a", "type": "int"}
        for tables, why in (
            ([{"schema": "s", "name": "x" * 900}], "cannot be"),
            ([{"schema": "s", "name": "t", "columns": [column] * 10_001}], "cannot be"),
            ([{"schema": "s", "name": "t", "rows": -4}], "cannot be"),
            ([{"schema": "s", "name": f"t{n}", "columns": [column] * 9_000} for n in range(112)], "more than"),
            ([{"schema": None, "name": 3}], "cannot be"),
        ):
            with self.subTest(why=why):
                self.assertRegex(str(_believed("mariadb", "s", ["s"], tables, {})), why)
        with self.assertRaises(TooMuch):
            for _ in Bounded(iter(int, 1)):
                pass
        self.assertEqual((len(comment_of("x" * 99_999)), expression_of("y" * 100_001)), (4_000, ""))


if __name__ == "__main__":
    unittest.main()
