"""A data model as a whole."""

import unittest

from zarbek.core.model.datamodel import OPEN
from zarbek.core.model.mention_places import file_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.datamodels.discovery import by_number, locate_model
from zarbek.core.sources.datamodels.registry import read_data
from zarbek.core.sources.datamodels.settings import NO_DATA, CallMeaning, DataSettings
from zarbek.core.sources.languages.reading import SourceReading

FILES = {
    "migrations/V2__more.sql": "ALTER TABLE ships ADD COLUMN crew INT NULL COMMENT 'Hands';",
    "migrations/V10__less.sql": "ALTER TABLE ships DROP COLUMN flag;",
    "migrations/V10__less.down.sql": "ALTER TABLE ships ADD COLUMN flag INT;",
    "migrations/V1__ships.sql": """/** A ship; `calls` has where she was. */
CREATE TABLE ships (
  --- Her number.
  id INT NOT NULL PRIMARY KEY,
  port CHAR(3) NOT NULL,
  flag CHAR(2),
  -- twice her number, for the form
  twice INT AS (id * 2)
);
CREATE TABLE calls (ship INT REFERENCES ships (id), hours INT);
CREATE VIEW long_calls (ship, h) AS SELECT ship, hours FROM calls WHERE hours > 9;""",
    "queries/by_port.sql": """{#* no text of the query #}
/** Calls by port. */
SELECT s.port,
  --- All of them.
  SUM(c.hours) AS hours,
  f.flag_name, x.*
FROM {{ stored("calls") }} c JOIN ships s ON s.id = c.ship JOIN land.flags f USING (id) JOIN land.other x USING (id)""",
    "queries/tail.sql": "SELECT hours FROM by_port",
    "queries/broken.sql": "SELECT {{ nobody() }}",
    "sea.model.yaml": """blocks: {port: A harbour., idle: Nobody.}
tables:
  ships:
    row: One ship.
    columns:
      port: {description: "{block port}", checks: [port <> '']}
      crew: {type: TEXT}
      gone: Once there.
  long_calls: {columns: {h: {description: Hours., deprecated: Use `hours`.}}}
  raw: {description: From the gates., from: ["api://gates/closing"], columns: {at: {type: DATETIME}}}
  lost: {description: Nobody makes it.}
""",
    "app.py": "",
}
SETTINGS = DataSettings(
    dialect="mariadb", place="sea", calls={"stored": CallMeaning(table="sea.{1}")}, queries=["queries/*"]
)


def read(settings: DataSettings = SETTINGS, files: dict[str, str] = FILES) -> SourceReading:
    load = {name: text.encode() for name, text in files.items()}
    (source,) = locate_model(sorted(files), load.__getitem__, settings, [], "sea", is_alone=True)
    return read_data(source, load.get)


class Models(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.reading = read()
        cls.symbols: dict[str, Symbol] = {s.path: s for s in cls.reading.symbols}

    def test_tables_stand_as_the_last_definition_leaves_them(self):
        columns = {p: (s.type, s.line) for p, s in self.symbols.items() if s.parent == "sea.ships"}
        self.assertEqual(columns, {"sea.ships.id": ("INT", 4), "sea.ships.port": ("CHAR(3)", 5),
                                   "sea.ships.twice": ("INT", 8), "sea.ships.crew": ("INT", 1)})  # fmt: skip
        self.assertEqual(self.symbols["sea.ships"].data.table.order, ["id", "port", "twice", "crew"])
        kinds = {p: s.kind for p, s in self.symbols.items() if s.kind != "column"}
        self.assertEqual(kinds, {
            "sea": "database", "sea.ships": "table", "sea.calls": "table", "sea.long_calls": "view", "sea.raw": "table",
            "sea.by_port": "table", "sea.tail": "table", "sea.{port}": "block", "sea.{idle}": "block",
        })  # fmt: skip

    def test_texts_by_where_they_stand(self):
        said = {p: (s.doc.summary, s.doc.file) for p, s in self.symbols.items() if s.doc}
        self.assertEqual(said, {
            "sea.ships": ("A ship; `calls` has where she was.", ""), "sea.ships.id": ("Her number.", ""),
            "sea.ships.port": ("A harbour.", "sea.model.yaml"), "sea.ships.crew": ("Hands", ""),
            "sea.by_port": ("Calls by port.", ""), "sea.by_port.hours": ("All of them.", ""),
            "sea.long_calls.h": ("Hours.", "sea.model.yaml"), "sea.raw": ("From the gates.", ""),
            "sea.{port}": ("A harbour.", ""), "sea.{idle}": ("Nobody.", ""),
        })  # fmt: skip
        self.assertEqual(self.symbols["sea.long_calls.h"].doc.deprecated.instead, "hours")

    def test_the_way_of_the_data(self):
        wanted = ("sea.long_calls.h", "sea.by_port.hours", "sea.by_port.flag_name", "sea.tail.hours", "sea.ships.twice")
        steps = {p: [(s.path, s.how) for s in self.symbols[p].data.column.steps] for p in wanted}
        self.assertEqual(steps, {
            "sea.long_calls.h": [("sea.calls.hours", "copied")], "sea.by_port.hours": [("sea.calls.hours", "computed")],
            "sea.by_port.flag_name": [("land.flags.flag_name", "copied")],
            "sea.tail.hours": [("sea.by_port.hours", "copied")], "sea.ships.twice": [("sea.ships.id", "computed")],
        })  # fmt: skip
        facts = self.symbols["sea.by_port"].data.table
        self.assertEqual(facts.unknown, ["* brings all columns of land.other, which are not known here"])
        self.assertEqual(facts.reads, ["sea.calls", "sea.ships", "land.flags", "land.other"])
        self.assertIn(OPEN, self.symbols["sea.by_port"].flags)
        self.assertIn("FROM sea.calls c", facts.query.compiled)
        self.assertEqual(self.symbols["sea.long_calls.h"].type, "INT")

    def test_what_names_what_where(self):
        def named(path: str) -> list[tuple[str, str, str, int]]:
            return [(m.origin, m.field, m.name, m.line) for m in self.symbols[path].mentions]

        self.assertEqual(
            named("sea.calls.ship"), [("data", "key", "sea.ships.id", 10), ("data", "key", "sea.ships", 10)]
        )
        self.assertEqual(named("sea.ships"), [("code", "doc", "calls", 1)])
        self.assertEqual(named("sea.ships.port"), [("block", "doc", "api:sea.{port}", 6)])
        self.assertEqual(named("sea.raw"), [("link", "fed", "api://gates/closing", 10)])
        self.assertIn(("data", "query", "sea.calls", 7), named("sea.by_port"))

    def test_a_table_that_is_declared_and_filled_elsewhere_has_its_query_there(self):
        files = {
            "a.sql": "CREATE TABLE t (a INT, b INT);",
            "q/fill.sql": "INSERT INTO t (b, a)\nSELECT x, y FROM land.u",
        }
        symbols = {s.path: s for s in read(DataSettings(place="sea", queries=["q/*"]), files).symbols}
        table = symbols["sea.t"]
        self.assertEqual((table.file, table.data.table.query.file), ("a.sql", "q/fill.sql"))
        self.assertEqual({file_of(table, m) for m in table.mentions if m.field == "query"}, {"q/fill.sql"})
        steps = {name: [s.path for s in symbols[f"sea.t.{name}"].data.column.steps] for name in "ab"}
        self.assertEqual(steps, {"a": ["land.u.y"], "b": ["land.u.x"]})

    def test_a_table_that_was_renamed_is_known_again_with_its_columns(self):
        before = {"1.sql": "CREATE TABLE t (a INT);"}
        after = before | {"2.sql": "ALTER TABLE t RENAME TO u; ALTER TABLE u CHANGE a b INT;"}
        settings = DataSettings(dialect="mariadb", place="sea")
        old, new = ({s.path: s.body for s in read(settings, files).symbols} for files in (before, after))
        self.assertEqual((new["sea.u"], new["sea.u.b"]), (old["sea.t"], old["sea.t.a"]))
        self.assertTrue(all((old["sea.t"], old["sea.t.a"])))

    def test_what_is_wrong(self):
        found = [(f.rule, f.file, f.line, f.target or f.text) for f in self.reading.findings]
        self.assertEqual(sorted(found), [
            ("stale/column", "sea.model.yaml", 8, "sea.ships.gone"), ("stale/table", "sea.model.yaml", 11, "sea.lost"),
            ("text/type-conflict", "sea.model.yaml", 7, "sea.ships.crew"),
            ("text/unreadable", "queries/broken.sql", 1, ""), ("text/unused-block", "sea.model.yaml", 1, "idle"),
            ("text/wrong-comment", "migrations/V1__ships.sql", 7, "sea.ships.twice"),
        ])  # fmt: skip


class Discovery(unittest.TestCase):
    def locate(self, settings: DataSettings, *, is_alone: bool, languages: tuple[str, ...] = ()) -> int:
        load = {name: text.encode() for name, text in FILES.items() if not name.endswith(".yaml")}
        return len(locate_model(sorted(load), load.__getitem__, settings, languages, "sea", is_alone=is_alone))

    def test_sql_beside_code_is_no_model_of_its_own_accord(self):
        self.assertEqual(self.locate(NO_DATA, is_alone=False), 0)
        self.assertEqual(self.locate(NO_DATA, is_alone=True), 1)
        self.assertEqual(self.locate(NO_DATA, is_alone=False, languages=("sql",)), 1)
        self.assertEqual(self.locate(SETTINGS, is_alone=False), 1)
        self.assertEqual(self.locate(SETTINGS, is_alone=False, languages=("python",)), 0)

    def test_numbers_in_names_count_by_their_value(self):
        self.assertEqual(sorted(["V10.sql", "V9.sql", "V1_b.sql", "V1_a.sql"], key=by_number),
                         ["V1_a.sql", "V1_b.sql", "V9.sql", "V10.sql"])  # fmt: skip

    def test_places_of_queries_are_patterns_as_in_gitignore_of_which_the_last_that_fits_counts(self):
        places = {"queries/**": "all", "wide/": "wide", "/queries/tides/**/day*.sql": "days"}
        files = ("queries/a.sql", "queries/tides/day1.sql", "queries/tides/x/day2.sql", "b/wide/c.sql", "d.sql")
        reading = read(
            DataSettings(place="sea", places=places), {file: f"SELECT {n} AS n" for n, file in enumerate(files)}
        )
        self.assertEqual(
            {s.path for s in reading.symbols if s.kind == "table"},
            {"all.a", "days.day1", "days.day2", "wide.c", "sea.d"},
        )

    def test_without_settings_files_tell_what_they_are(self):
        reading = read(NO_DATA, {"a.sql": "CREATE TABLE t (a INT);", "b.sql": "-- x\nSELECT a FROM t"})
        self.assertEqual([(s.path, s.kind) for s in reading.symbols],
                         [("sea", "database"), ("sea.b", "table"), ("sea.b.a", "column"), ("sea.t", "table"), ("sea.t.a", "column")])  # fmt: skip


class Comments(unittest.TestCase):
    def test_above_and_behind_in_forms_that_every_database_takes_for_comments(self):
        text = "/** All. */\nCREATE TABLE t (a INT, /**< Of a. */\n  /** Of b. */\n  b INT, /* no word */ c INT);"
        symbols = read(DataSettings(dialect="mariadb", place="sea"), {"a.sql": text}).symbols
        found = {s.path: s.doc.summary if s.doc is not None else "" for s in symbols}
        self.assertEqual(found, {"sea": "", "sea.t": "All.", "sea.t.a": "Of a.", "sea.t.b": "Of b.", "sea.t.c": ""})

    def test_examples_of_macros_are_code(self):
        files = {"m.sql": '{#* Half.\n    @example\n    {{ half("a") }}\n#}\n{% macro half(n) %}{{ n }} / 2{% endmacro %}',
                 "q.sql": "SELECT {{ half('id') }} AS h FROM ships"}  # fmt: skip
        symbols = read(DataSettings(dialect="mariadb", place="sea", macros=["m.sql"], queries=["q.sql"]), files).symbols
        found = {s.path: s for s in symbols}
        (example,) = found["sea.half(n)"].doc.sections
        self.assertEqual((example.kind, example.text), ("examples", '```sql\n{{ half("a") }}\n```'))
        calls = [(m.text, m.name, m.line) for m in found["sea.q"].mentions if m.role == "macro"]
        self.assertEqual(calls, [("half", "api:sea.half(n)", 1)])


class Hostile(unittest.TestCase):
    def test_what_is_no_sql_is_told_with_its_line_and_the_rest_goes_on(self):
        files = {"a.sql": "CREATE TABLE a (x INT);\nCREATE TABEL no (;\nCREATE TABLE b (y INT);"}
        found = read(DataSettings(dialect="mariadb", place="sea"), files)
        self.assertEqual([(f.rule, f.line) for f in found.findings], [("text/unreadable", 2)])
        self.assertEqual([s.path for s in found.symbols if s.kind == "table"], ["sea.a", "sea.b"])

    def test_what_is_endless_is_cut_and_said_to_be(self):
        wide = "CREATE TABLE wide (" + ", ".join(f"c{n} INT" for n in range(5000)) + ");"
        files = {"wide.sql": wide, "q.sql": "SELECT * FROM wide a, wide b, wide c, wide d",
                 "deep.sql": "SELECT " + "(" * 5000 + "c1" + ")" * 5000 + " FROM wide",
                 "v.sql": "CREATE VIEW v AS SELECT * FROM w; CREATE VIEW w AS SELECT * FROM v;"}  # fmt: skip
        settings = DataSettings(dialect="mariadb", place="sea", queries=["q.sql", "deep.sql"])
        found = read(settings, files)
        self.assertEqual([f.file for f in found.findings], ["deep.sql"])
        q = next(s for s in found.symbols if s.path == "sea.q")
        self.assertIn(OPEN, q.flags)
        self.assertLessEqual(sum(s.parent == "sea.q" for s in found.symbols), 12_000)
