"""The way of data through queries."""

import unittest

import sqlglot
from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.datamodels.lineage import QueryLineage, read_lineage
from zarbek.core.sources.datamodels.syntax import parse

TABLES = {"a": ["id", "x", "y"], "b": ["id", "z"], "open": None, "also": None}


def follow(sql: str, dialect: str = "postgres") -> QueryLineage:
    return read_lineage(sqlglot.parse_one(sql, dialect=dialect), lambda t: (f"db.{t.name}", TABLES.get(t.name)))


def ways(sql: str, dialect: str = "postgres") -> dict[str, str]:
    """Column to what it is made from, in order: + for computed."""
    found = follow(sql, dialect).columns
    return {
        c.name: " ".join(("+" if how == "computed" else "") + path.removeprefix("db.") for path, how in sorted(c.steps.items()))
        for c in found
    }  # fmt: skip


class Ways(unittest.TestCase):
    def test_through_every_part_of_a_query(self):
        for sql, wanted in (
            ("SELECT a.id, x AS r, (y), x + z s FROM a JOIN b ON a.id = b.id", {"id": "a.id", "r": "a.x", "y": "a.y", "s": "+a.x +b.z"}),
            ("SELECT CASE WHEN x > 1 THEN y ELSE 0 END c, CAST(x AS text) t FROM a", {"c": "+a.x +a.y", "t": "+a.x"}),
            ("SELECT * FROM a", {"id": "a.id", "x": "a.x", "y": "a.y"}),
            ("SELECT b.*, x FROM a JOIN b USING (id)", {"id": "b.id", "z": "b.z", "x": "a.x"}),
            ("SELECT * FROM a JOIN b USING (id)", {"id": "a.id", "x": "a.x", "y": "a.y", "z": "b.z"}),
            ("SELECT * FROM a NATURAL JOIN b", {"id": "a.id", "x": "a.x", "y": "a.y", "z": "b.z"}),
            ("WITH c AS (SELECT id, x * 2 d FROM a) SELECT d, z FROM c JOIN b ON c.id = b.id", {"d": "+a.x", "z": "b.z"}),
            ("WITH c(p) AS (SELECT x FROM a), e AS (SELECT p q FROM c) SELECT q FROM e", {"q": "a.x"}),
            ("WITH RECURSIVE t(n) AS (SELECT id FROM a UNION ALL SELECT z FROM b JOIN t ON b.id = t.n) SELECT * FROM t",
             {"n": "a.id b.z"}),
            ("SELECT id k FROM a UNION SELECT z FROM b", {"k": "a.id b.z"}),
            ("SELECT SUM(x) OVER (PARTITION BY y ORDER BY id) w FROM a", {"w": "+a.id +a.x +a.y"}),
            ("SELECT (SELECT MAX(z) FROM b WHERE b.id = a.id) m FROM a", {"m": "+b.z"}),
            ("SELECT s.v FROM (SELECT x v FROM a) s", {"v": "a.x"}),
            ("SELECT p.x, z FROM (a p JOIN b t ON (p.id = t.id))", {"x": "a.x", "z": "b.z"}),
            ("SELECT y, z, m FROM ((a JOIN b USING (id)) LEFT JOIN (SELECT id, x m FROM a) c USING (id))", {"y": "a.y", "z": "b.z", "m": "a.x"}),
            ("SELECT m FROM ((SELECT y AS m FROM a)) s", {"m": "a.y"}),
            ("SELECT * FROM b JOIN (a) USING (id)", {"id": "b.id", "z": "b.z", "x": "a.x", "y": "a.y"}),
            ("SELECT l.z FROM a, LATERAL (SELECT z FROM b WHERE b.id = a.x) l", {"z": "b.z"}),
            ("SELECT x + 1 AS p, p * 2 AS q FROM a", {"p": "+a.x", "q": "+a.x"}),
            ("SELECT v.c2, COUNT(*) n FROM (VALUES (1, 2)) v(c1, c2) GROUP BY 1", {"c2": "", "n": ""}),
            ("SELECT q FROM open", {"q": "open.q"}),
            ("SELECT gone FROM a", {"gone": "a.gone"}),
            ("SELECT x FROM a WHERE EXISTS (SELECT 1 FROM b WHERE z = y)", {"x": "a.x"}),
        ):  # fmt: skip
            with self.subTest(sql):
                self.assertEqual(ways(sql), wanted)

    def test_stars_with_less_or_other(self):
        self.assertEqual(
            ways("SELECT * EXCEPT (x) REPLACE (y + id AS y) FROM a", "bigquery"), {"id": "a.id", "y": "+a.id +a.y"}
        )

    def test_through_what_turns_values_into_rows_and_rows_into_columns(self):
        for sql, dialect, wanted in (
            ("SELECT v, n FROM a, UNNEST(x) WITH ORDINALITY AS t(v, n)", "postgres", {"v": "+a.x", "n": ""}),
            ("SELECT p, q FROM a, UNNEST(x, y) AS t(p, q)", "postgres", {"p": "+a.x", "q": "+a.y"}),
            ("SELECT e FROM a LATERAL VIEW EXPLODE(x) t AS e", "spark", {"e": "+a.x"}),
            ("SELECT f.value FROM a, LATERAL FLATTEN(input => a.x) f", "snowflake", {"value": "+a.x"}),
            ("SELECT j.n FROM a, JSON_TABLE(a.y, '$[*]' COLUMNS (n INT PATH '$.n')) j", "mysql", {"n": "+a.y"}),
            ("SELECT * FROM (SELECT id, x, y FROM a) PIVOT (SUM(x) FOR y IN ('p', 'q')) AS v", "snowflake",
             {"id": "a.id", "'p'": "+a.x", "'q'": "+a.x"}),
            ("SELECT id, v, m FROM a UNPIVOT (v FOR m IN (x, y))", "snowflake", {"id": "a.id", "v": "+a.x +a.y", "m": ""}),
            ("SELECT x.p.q r FROM a", "spark", {"r": "+a.x"}),
            ("SELECT e.value FROM a, json_each(a.x) e", "sqlite", {"value": "+a.x"}),
            ("SELECT j.n FROM a CROSS APPLY OPENJSON(a.x) WITH (n int '$.n') j", "tsql", {"n": "+a.x"}),
            ("SELECT v.w FROM a, LATERAL (VALUES (x), (y)) v(w)", "postgres", {"w": "a.x a.y"}),
            ("SELECT x FROM a FINAL", "clickhouse", {"x": "a.x"}),
            ("WITH (SELECT MAX(z) FROM b) AS most SELECT x / most AS p FROM a", "clickhouse", {"p": "+a.x +b.z"}),
            ("WITH g AS (DELETE FROM a WHERE x = 1 RETURNING id, y AS q) SELECT id, q FROM g", "postgres", {"id": "a.id", "q": "a.y"}),
            ("SELECT RANK() OVER (w ORDER BY id) n FROM a WINDOW w AS (PARTITION BY x)", "postgres", {"n": "+a.id +a.x"}),
        ):  # fmt: skip
            with self.subTest(sql):
                self.assertEqual(ways(sql, dialect), wanted)

    def test_through_the_parts_of_records(self):
        for sql, dialect, wanted in (
            ("SELECT s.r.p FROM (SELECT STRUCT(x AS p, y AS q) AS r FROM a) s", "bigquery", {"p": "+a.x"}),
            ("SELECT ARRAY_AGG(STRUCT(x, y) ORDER BY id)[OFFSET(0)].y AS l FROM a", "bigquery", {"l": "+a.id +a.y"}),
            ("SELECT ARRAY_AGG(a ORDER BY a.x)[OFFSET(0)].* FROM a", "bigquery", {"id": "+a.id +a.x", "x": "+a.x", "y": "+a.x +a.y"}),
            ("SELECT r.* FROM (SELECT STRUCT(x AS p) AS r FROM a)", "spark", {"p": "+a.x"}),
            ("SELECT e.n, e.v FROM a, UNNEST([STRUCT('x' AS n, a.x AS v), STRUCT('y', a.y)]) AS e", "bigquery", {"n": "", "v": "+a.x +a.y"}),
            ("SELECT r.q FROM (SELECT CAST(ROW(x, y) AS ROW(p INT, q INT)) AS r FROM a)", "trino", {"q": "+a.y"}),
            ("SELECT UNNEST({'p': x, 'q': y}) FROM a", "duckdb", {"p": "+a.x", "q": "+a.y"}),
            ("SELECT TO_JSON(b) AS j FROM b", "postgres", {"j": "+b.id +b.z"}),
        ):  # fmt: skip
            with self.subTest(sql):
                self.assertEqual(ways(sql, dialect), wanted)

    def test_stars_over_one_table_that_nobody_told_of(self):
        for sql, wanted in (
            ("WITH s AS (SELECT * FROM open), t AS (SELECT i, LOWER(w) w FROM s) SELECT i, w FROM t", {"i": "open.i", "w": "+open.w"}),
            ("SELECT q, x FROM (SELECT a.x, o.* FROM a JOIN open o ON o.i = a.id) s", {"q": "open.q", "x": "a.x"}),
            ("SELECT q FROM open JOIN a ON a.id = open.i", {"q": "open.q"}),
            ("SELECT q FROM (SELECT * EXCLUDE (q) FROM open) s", {"q": ""}),
        ):  # fmt: skip
            with self.subTest(sql):
                self.assertEqual(ways(sql, "snowflake"), wanted)

    def test_names_of_items_are_seen_by_later_ones_where_the_dialect_has_it_so(self):
        sql = sqlglot.parse_one("SELECT i + 1 AS p, p * 2 AS q FROM open", dialect="postgres")
        for dialect, wanted in (("snowflake", "db.open.i"), ("postgresql", "db.open.p")):
            found = read_lineage(sql, lambda t: (f"db.{t.name}", None), dialect)
            self.assertEqual(list(found.columns[1].steps), [wanted])

    def test_what_cannot_be_told_is_unknown(self):
        for sql, column, why in (
            ("SELECT q FROM open JOIN also ON open.i = also.i", "q", "q may be of db.open or db.also"),
            ("SELECT u.v FROM made_up(1) AS u(v)", "v", "MADE_UP(1) AS u(v) gives it, which cannot be followed"),
            ("SELECT p FROM (SELECT * FROM open JOIN also USING (i)) s", "p", "p of s cannot be followed"),
            ("SELECT p FROM (SELECT * FROM open UNION ALL SELECT * FROM also) s", "p", "p of s cannot be followed"),
            ("SELECT c.x FROM a", "x", "c.x: the query names no c"),
            ("SELECT (SELECT MAX(x) FROM open) AS m FROM a", "m", "x may be of db.open or what is around its query"),
            ("SELECT w FROM a JOIN b ON true", "w", "no table of the query is known to have w"),
        ):  # fmt: skip
            with self.subTest(sql):
                found = {c.name: c for c in follow(sql).columns}[column]
                self.assertEqual((found.steps, found.unknown), ({}, why))
        found = follow("SELECT *, 1 AS one FROM a JOIN open ON a.id = open.i")
        self.assertEqual(([c.name for c in found.columns], found.is_open), (["id", "x", "y", "one"], True))
        self.assertEqual(found.unknown, ["* brings all columns of db.open, which are not known here"])

    def test_names_stand_where_the_query_has_them(self):
        sql = "SELECT a.id, z FROM a JOIN b ON b.id = a.x WHERE y > 0"
        found = follow(sql)
        self.assertEqual([(sql[n.start : n.end], n.path) for n in found.named], [
            ("a.id", "db.a.id"), ("z", "db.b.z"), ("a", "db.a"), ("b", "db.b"), ("b.id", "db.b.id"), ("a.x", "db.a.x"),
            ("y", "db.a.y"),
        ])  # fmt: skip
        self.assertEqual(found.reads, ["db.a", "db.b"])

    def test_what_nests_too_deeply_is_not_read(self):
        deep = "SELECT x FROM (" * 2000 + "SELECT x FROM a" + ") s" * 2000
        self.assertIsNone(parse(deep, "postgresql"))

    @given(st.lists(st.sampled_from(["x", "y", "id"]), min_size=1, max_size=4), st.integers(0, 5))
    def test_names_around_a_query_change_nothing(self, names, depth):
        sql = f"SELECT {', '.join(f'{n} AS {n}{at}' for at, n in enumerate(names))} FROM a"
        for level in range(depth):
            sql = f"SELECT * FROM ({sql}) s{level}" if level % 2 else f"WITH w{level} AS ({sql}) SELECT * FROM w{level}"
        self.assertEqual(ways(sql), {f"{n}{at}": f"a.{n}" for at, n in enumerate(names)})
