"""What a database's catalogue adds to a model, and where it says otherwise."""

import unittest

import msgspec

from zarbek.core.model.database_catalog import CatalogColumn, CatalogTable, DatabaseCatalog
from zarbek.core.model.datamodel import Check, Key
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.datamodels.discovery import locate_model
from zarbek.core.sources.datamodels.registry import read_data
from zarbek.core.sources.datamodels.settings import CatalogPlace, DataSettings
from zarbek.core.sources.datamodels.type_names import is_same_type
from zarbek.core.sources.languages.reading import SourceReading

SETTINGS = DataSettings(dialect="mariadb", place="sea", catalog=CatalogPlace("mariadb://u@h/prod"))
FILES = {
    "a.sql": """/** A port. */
CREATE TABLE ports (code CHAR(3), name VARCHAR(30) DEFAULT 'x', crwe INT, is_open BOOLEAN COMMENT 'Own words');
CREATE TABLE boats (id INT);
CREATE TABLE elsewhere.far (id INT);""",
    "q.sql": "SELECT * FROM trips",
    "s.model.yaml": "tables: {trips: {description: One way., columns: {at: {description: When.}, off: Gone.}}}",
}
PORTS = CatalogTable(
    "prod", "ports", columns=[
        CatalogColumn("code", "char(3)", False, comment="Three letters."),
        CatalogColumn("name", "varchar(40)", default="'y'"), CatalogColumn("crew", "int(11)"),
        CatalogColumn("is_open", "tinyint(1)", comment="The database's words"),
    ], keys=[Key("primary", ["code"])], comment="All ports.", rows=12, changed="2026-03-01T00:00:00Z",
)  # fmt: skip
TRIPS = CatalogTable(
    "prod", "trips", columns=[CatalogColumn("port", "char(3)"), CatalogColumn("at", "datetime")],
    keys=[Key("foreign", ["port"], "f", "geo.harbours", ["code"])], checks=[Check("at > 0", is_enforced=True)],
)  # fmt: skip
LATE = CatalogTable(
    "prod", "late", "view", [CatalogColumn("soon", "datetime")],
    query="select `t`.`at` AS `soon` from (`prod`.`trips` `t` join `prod`.`ports` on(1))",
)  # fmt: skip
HARBOURS = CatalogTable("geo", "harbours", columns=[CatalogColumn("code", "char(3)")])


def read(*tables: CatalogTable, files: dict[str, str] = FILES, settings: DataSettings = SETTINGS) -> SourceReading:
    load = {name: text.encode() for name, text in files.items()}
    catalog = DatabaseCatalog(
        "mariadb", "prod", ["prod", "geo"], "2026-03-02T00:00:00Z", {"prod": "sea", "geo": "geo"}, list(tables)
    )
    (source,) = locate_model(sorted(files), load.__getitem__, settings, [], "sea", is_alone=not files, catalog=catalog)
    return read_data(source, load.get)


def by_path(reading: SourceReading) -> dict[str, Symbol]:
    return {symbol.path: symbol for symbol in reading.symbols}


class Facts(unittest.TestCase):
    def setUp(self):
        self.reading = read(PORTS, TRIPS, LATE, HARBOURS)
        self.found = by_path(self.reading)

    def test_fill_what_nobody_wrote_and_say_so(self):
        code, name, is_open = (self.found[f"sea.ports.{n}"] for n in ("code", "name", "is_open"))
        self.assertEqual((code.doc.summary, code.data.column.nullable, code.data.column.from_catalog),
                         ("Three letters.", False, ["text", "nullable"]))  # fmt: skip
        self.assertEqual((name.data.column.default, name.type), ("'x'", "VARCHAR(30)"))
        self.assertEqual((is_open.doc.summary, is_open.data.column.from_catalog), ("Own words", ["nullable"]))
        ports = self.found["sea.ports"]
        facts = ports.data.table
        self.assertEqual((ports.doc.summary, facts.rows, facts.changed, facts.from_catalog),
                         ("A port.", 12, "2026-03-01T00:00:00Z", ["key"]))  # fmt: skip
        self.assertIn("primary", code.flags)
        self.assertEqual(self.found["sea.ports.crew"].data.column.from_catalog, ["type", "nullable"])

    def test_have_tables_and_views_of_which_no_sql_tells(self):
        trips, harbours = self.found["sea.trips"], self.found["geo.harbours"]
        self.assertEqual((trips.doc.summary, trips.data.table.from_catalog), ("One way.", ["table"]))
        self.assertEqual(trips.data.table.keys[0].target, "geo.harbours")
        self.assertEqual(harbours.data.table.form, "table")
        steps = self.found["sea.late.soon"].data.column.steps
        self.assertEqual([step.path for step in steps], ["sea.trips.at"])
        words = {(m.text, m.name) for m in self.found["sea.late"].mentions if m.origin == "data"}
        self.assertIn(("`prod`.`trips`", "sea.trips"), words)
        self.assertEqual([n for n in self.found if n.startswith("sea.q.")], ["sea.q.port", "sea.q.at"])

    def test_are_findings_where_text_and_database_disagree(self):
        found = {(f.rule, f.subject, f.file, f.line): f for f in self.reading.findings}
        self.assertEqual(set(found), {
            ("stale/table", "sea.boats", "a.sql", 3), ("stale/table", "sea.q", "q.sql", 1),
            ("stale/column", "sea.ports", "a.sql", 2), ("stale/column", "sea.trips", "s.model.yaml", 1),
            ("text/type-conflict", "sea.ports.name", "a.sql", 2), ("text/untold", "sea.ports", "a.sql", 2),
            ("text/untold", "geo", "", 0), ("text/untold", "sea", "", 0),
        })  # fmt: skip
        gone = found["stale/column", "sea.ports", "a.sql", 2]
        self.assertEqual((gone.target, gone.suggestion), ("sea.ports.crwe", "crew"))
        self.assertEqual(found["text/type-conflict", "sea.ports.name", "a.sql", 2].suggestion, "VARCHAR(40)")
        self.assertIn("late", found["text/untold", "sea", "", 0].message)

    def test_alone_are_a_model_without_reproach(self):
        reading = read(TRIPS, files={}, settings=DataSettings(place="sea", catalog=SETTINGS.catalog))
        self.assertEqual({f.rule for f in reading.findings}, set())
        self.assertEqual(by_path(reading)["sea.trips.at"].type, "DATETIME")

    def test_in_hostile_form_are_harmless(self):
        for query in ("DROP TABLE x", "select (((", "select 1 union " * 3000, "", "CREATE VIEW v AS SELECT"):
            with self.subTest(query=query[:20]):
                odd = CatalogTable(
                    "prod", "../../x`", "view", [CatalogColumn("a.b`", "int(((", comment="<script>")], query=query
                )
                self.assertIn("sea.../../x`", by_path(read(odd)))
        circle = [CatalogTable("prod", f"v{n}", "view", query=f"select * from v{1 - n}") for n in (0, 1)]
        self.assertLessEqual({"sea.v0", "sea.v1"}, by_path(read(*circle)).keys())

    def test_other_facts_are_another_reading(self):
        sources = [
            locate_model([], {}.__getitem__, SETTINGS, [], "sea", is_alone=True,
                         catalog=DatabaseCatalog("mariadb", "prod", ["prod"], "", tables=tables))[0]
            for tables in ([TRIPS], [PORTS])
        ]  # fmt: skip
        self.assertNotEqual(*map(msgspec.json.encode, sources))


class Types(unittest.TestCase):
    def test_are_one_however_they_are_written(self):
        for dialect, one, other in (
            ("mariadb", "INT", "int(11)"), ("mariadb", "BOOLEAN", "tinyint(1)"), ("mariadb", "NUMERIC(8)", "decimal(8,0)"),
            ("mariadb", "JSON", "longtext"), ("mariadb", "VARCHAR(3) CHARACTER SET ascii", "varchar(3)"),
            ("mariadb", "ENUM('a', 'b')", "enum('a','b')"), ("postgresql", "BIGSERIAL", "BIGINT"),
            ("postgresql", "int4", "INTEGER"), ("postgresql", "character varying(4)", "VARCHAR(4)"),
            ("postgresql", "timestamptz", "TIMESTAMP WITH TIME ZONE"), ("postgresql", "double precision", "float8"),
        ):  # fmt: skip
            with self.subTest(one=one):
                self.assertTrue(is_same_type(one, other, dialect))

    def test_that_differ(self):
        for one, other in (("INT", "BIGINT"), ("VARCHAR(3)", "VARCHAR(4)"), ("INT UNSIGNED", "INT"), ("DECIMAL(8,2)", "DECIMAL(8,3)")):  # fmt: skip
            with self.subTest(one=one):
                self.assertFalse(is_same_type(one, other, "mariadb"))


if __name__ == "__main__":
    unittest.main()
