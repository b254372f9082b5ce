"""Definitions and migrations, one after the other."""

import unittest

from zarbek.core.sources.datamodels.catalog import Catalog, TableDraft
from zarbek.core.sources.datamodels.definitions import DefinitionReader
from zarbek.core.sources.datamodels.dialects import dialect_of, folds_lower


def read(*files: str, dialect: str = "mariadb") -> tuple[Catalog, DefinitionReader]:
    catalog = Catalog(["sea"], folds=folds_lower(dialect))
    reader = DefinitionReader(catalog, dialect)
    for number, text in enumerate(files):
        reader.read(text, f"{number}.sql")
    return catalog, reader


def columns(table: TableDraft | None) -> list[tuple[str, str, bool | None]]:
    assert table is not None
    return [(c.name, c.type, c.nullable) for c in table.columns.values()]


class Making(unittest.TestCase):
    def test_columns_keys_and_checks(self):
        catalog, _ = read("""CREATE TABLE ships (
            id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT COMMENT 'The number', name VARCHAR(40) NOT NULL DEFAULT 'x',
            port CHAR(3) REFERENCES ports (code), span INT AS (a + 1) STORED, cargo INT CHECK (cargo > 0),
            PRIMARY KEY (id), UNIQUE KEY by_name (name, port), KEY (name(5)), CONSTRAINT c CHECK (span < 9),
            CONSTRAINT f FOREIGN KEY (port, id) REFERENCES other.berths (port, ship)) COMMENT='All'""")  # fmt: skip
        table = catalog.find(["sea", "ships"])
        self.assertEqual(columns(table), [
            ("id", "BIGINT UNSIGNED", False), ("name", "VARCHAR(40)", False), ("port", "CHAR(3)", None),
            ("span", "INT", None), ("cargo", "INT", None),
        ])  # fmt: skip
        self.assertEqual([(k.kind, k.columns, k.name, k.target, k.target_columns) for k in table.keys], [
            ("foreign", ["port"], "", "sea.ports", ["code"]), ("primary", ["id"], "", "", []),
            ("unique", ["name", "port"], "by_name", "", []), ("index", ["name"], "", "", []),
            ("foreign", ["port", "id"], "f", "other.berths", ["port", "ship"]),
        ])  # fmt: skip
        self.assertEqual([(c.text, c.name, c.columns) for c in table.checks],
                         [("cargo > 0", "", ["cargo"]), ("span < 9", "c", ["span"])])  # fmt: skip
        self.assertEqual((table.told.text, table.column("ID").told.text), ("All", "The number"))
        self.assertEqual((table.column("name").default, table.column("span").computed), ("'x'", "a + 1"))

    def test_what_goes_with_a_column_and_what_follows_its_name(self):
        sql = ("CREATE TABLE t (a INT, b INT, c INT, KEY k (a, b), UNIQUE u (a), CHECK (b > 0 AND c > 'b'), CHECK (a < 9));"
               "ALTER TABLE t DROP COLUMN a; ALTER TABLE t RENAME COLUMN b TO d;")  # fmt: skip
        table = read(sql)[0].find(["sea", "t"])
        self.assertEqual([key.columns for key in table.keys], [["d"]])
        self.assertEqual([check.text for check in table.checks], ["d > 0 AND c > 'b'"])
        sql = "CREATE TABLE t (a INT, b INT); CREATE INDEX k ON t (a, b); ALTER TABLE t DROP COLUMN a;"
        self.assertEqual(read(sql, dialect="postgresql")[0].find(["sea", "t"]).keys, [])

    def test_other_dialects(self):
        catalog, _ = read(
            "CREATE TABLE Ships (ID serial PRIMARY KEY, at timestamptz NOT NULL DEFAULT now(), \"Odd\" text);"
            "COMMENT ON TABLE ships IS 'All'; COMMENT ON COLUMN ships.at IS 'When';"
            "CREATE UNIQUE INDEX u ON ships (at); CREATE INDEX i ON ships (lower(\"Odd\"));"
            "ALTER TABLE ONLY ships ADD CONSTRAINT f FOREIGN KEY (id) REFERENCES sea.x(id);"
            "ALTER TABLE ships ALTER COLUMN at TYPE date, ALTER COLUMN at DROP NOT NULL, OWNER TO me;",
            dialect="postgresql",
        )  # fmt: skip
        table = catalog.find(["sea", "ships"])
        self.assertEqual(columns(table), [("id", "SERIAL", False), ("at", "DATE", True), ("Odd", "TEXT", None)])
        self.assertEqual((table.told.text, table.column("at").told.text), ("All", "When"))
        self.assertEqual([(k.kind, k.columns) for k in table.keys],
                         [("primary", ["id"]), ("unique", ["at"]), ("index", ["(LOWER(\"Odd\"))"]), ("foreign", ["id"])])  # fmt: skip

    def test_routines_without_their_bodies(self):
        catalog, _ = read("/** Adds. */\nCREATE FUNCTION plus(a INT, b DECIMAL(5,2)) RETURNS INT DETERMINISTIC RETURN a + b;"
                          "CREATE PROCEDURE p(IN x INT) BEGIN DELETE FROM t; END;"
                          "CREATE TRIGGER t AFTER INSERT ON ships FOR EACH ROW SET @x = 1;")  # fmt: skip
        self.assertEqual([(r.kind, r.text, r.parameters, r.returns) for r in catalog.routines.values()], [
            ("function", "FUNCTION plus(a INT, b DECIMAL(5,2)) RETURNS INT", [("a", "INT"), ("b", "DECIMAL(5,2)")], "INT"),
            ("procedure", "PROCEDURE p(IN x INT)", [("x", "INT")], ""),
            ("trigger", "TRIGGER t AFTER INSERT ON ships", [], ""),
        ])  # fmt: skip

    def test_one_part_that_is_not_known_costs_no_other(self):
        catalog, reader = read("CREATE TABLE t (a INT, b NO SUCH !! THING, c INT);\nALTER TABLE t ADD d INT, FROB 1;")
        self.assertEqual([c[0] for c in columns(catalog.find(["sea", "t"]))], ["a", "c", "d"])
        self.assertEqual([(f.line, f.text) for f in reader.findings], [(1, "b NO SUCH !! THING"), (2, "FROB 1")])

    def test_parts_of_columns_and_how_an_index_is_kept(self):
        catalog, reader = read("CREATE TABLE t (host TEXT, name TEXT, PRIMARY KEY USING BTREE (name(9)));"
                               "CREATE UNIQUE INDEX i USING BTREE ON t (host(75), name(10));"
                               "CREATE FULLTEXT INDEX f ON t (name);"
                               "ALTER TABLE t CONVERT TO CHARACTER SET utf8mb4, ADD KEY (name(3)) USING HASH;")  # fmt: skip
        self.assertEqual([(k.kind, k.columns) for k in catalog.find(["sea", "t"]).keys],
                         [("primary", ["name"]), ("unique", ["host", "name"]), ("index", ["name"]), ("index", ["name"])])  # fmt: skip
        self.assertEqual(reader.findings, [])

    def test_temporary_tables_are_nobodys(self):
        catalog, _ = read("CREATE TEMPORARY TABLE t (a INT); CREATE TABLE IF NOT EXISTS u (b INT)")
        self.assertEqual([t.path for t in catalog], ["sea.u"])


class Changing(unittest.TestCase):
    BEFORE = (
        "CREATE TABLE ships (id INT PRIMARY KEY, port CHAR(3), crew INT COMMENT 'Hands', KEY k (port));"
        "CREATE TABLE calls (ship INT, FOREIGN KEY (ship) REFERENCES ships (id));"
    )

    def test_what_stands_after_the_last(self):
        catalog, _ = read(
            self.BEFORE,
            "ALTER TABLE ships ADD COLUMN flag CHAR(2) AFTER id, DROP COLUMN port, CHANGE crew hands SMALLINT NOT NULL,"
            "MODIFY id BIGINT NOT NULL",
            "ALTER TABLE ships RENAME TO vessels; RENAME TABLE calls TO visits; DROP TABLE IF EXISTS none;",
        )  # fmt: skip
        table = catalog.find(["sea", "vessels"])
        self.assertEqual(
            columns(table), [("id", "BIGINT", False), ("flag", "CHAR(2)", None), ("hands", "SMALLINT", False)]
        )
        self.assertEqual((table.first, table.column("hands").first, table.column("hands").told.text),
                         ("sea.ships", "crew", "Hands"), "it is the same column")  # fmt: skip
        self.assertEqual([(k.kind, k.columns) for k in table.keys], [("primary", ["id"])])
        visits = catalog.find(["sea", "visits"])
        self.assertEqual([(k.target, k.target_columns) for k in visits.keys], [("sea.vessels", ["id"])])
        self.assertIsNone(catalog.find(["sea", "ships"]))

    def test_a_used_database_holds_to_the_end_of_its_file(self):
        catalog, _ = read("USE land; CREATE TABLE a (x INT)", "CREATE TABLE b (x INT)")
        self.assertEqual(sorted(t.path for t in catalog), ["land.a", "sea.b"])


class Dialects(unittest.TestCase):
    def test_told_from_what_only_one_has(self):
        for text, wanted in (
            ("CREATE TABLE `t` (a INT AUTO_INCREMENT) ENGINE=InnoDB", "mysql"),
            ("CREATE TABLE t (a BIGSERIAL); COMMENT ON TABLE t IS ''", "postgresql"),
            ("CREATE TABLE t (a INTEGER PRIMARY KEY AUTOINCREMENT)", "sqlite"),
            ("CREATE TABLE [dbo].[t] ([a] NVARCHAR (5))", "sqlserver"),
            ("CREATE TABLE t (a INT)", "postgresql"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(dialect_of([text]), wanted)
