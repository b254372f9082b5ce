"""Files of SQL as statements and comments."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.datamodels.placed_comments import comments_above, comments_behind
from zarbek.core.sources.datamodels.sql_text import split_sql
from zarbek.core.sources.datamodels.syntax import items_of


def texts(sql: str, dialect: str = "postgresql") -> list[str]:
    return [statement.text for statement in split_sql(sql, dialect).statements]


class Statements(unittest.TestCase):
    def test_end_where_no_text_comment_or_body_goes_on(self):
        for dialect, sql, wanted in (
            ("postgresql", "SELECT ';'; SELECT \";\" -- ;\n;", ["SELECT ';'", "SELECT \";\""]),
            ("postgresql", "CREATE FUNCTION f() AS $b$ a; b $b$; SELECT $$;$$;",
             ["CREATE FUNCTION f() AS $b$ a; b $b$", "SELECT $$;$$"]),
            ("postgresql", "SELECT 'a\\';SELECT 2", ["SELECT 'a\\'", "SELECT 2"]),
            ("mariadb", "SELECT 'a\\';'; SELECT 2", ["SELECT 'a\\';'", "SELECT 2"]),
            ("mariadb", "CREATE PROCEDURE p() BEGIN IF a THEN b; END IF; CASE c WHEN 1 THEN d; END CASE; e; END; SELECT 1",
             ["CREATE PROCEDURE p() BEGIN IF a THEN b; END IF; CASE c WHEN 1 THEN d; END CASE; e; END", "SELECT 1"]),
            ("mariadb", "DELIMITER //\nCREATE TRIGGER t BEGIN a; b; END//\nDELIMITER ;\nSELECT 1;",
             ["CREATE TRIGGER t BEGIN a; b; END", "SELECT 1"]),
            ("mariadb", "/*!40101 SET NAMES utf8 */;# no\nSELECT 1", ["SET NAMES utf8", "SELECT 1"]),
            ("postgresql", "BEGIN; SELECT 1; END;", ["BEGIN", "SELECT 1", "END"]),
            ("postgresql", "\\connect x\nCOPY t FROM stdin;\n1;2\n\\.\nSELECT 1;", ["COPY t FROM stdin", "SELECT 1"]),
            ("sqlserver", "SELECT [a;b]\nGO\nSELECT 2", ["SELECT [a;b]", "SELECT 2"]),
        ):  # fmt: skip
            with self.subTest(sql):
                self.assertEqual(texts(sql, dialect), wanted)

    def test_what_does_not_end_is_told_with_its_line(self):
        for sql in ("SELECT 1;\n\nSELECT 'a", "\n\n/* a", '\n\nSELECT "a'):
            with self.subTest(sql), self.assertRaises(UnreadableText) as caught:
                split_sql(sql, "postgresql")
            self.assertEqual(caught.exception.line, 3)

    def test_parts_of_the_outermost_brackets(self):
        statement = split_sql(
            "CREATE TABLE t (a DECIMAL(5,2), b CHAR(1) CHECK (b IN (',', 'x'))) X (1, 2)", "mysql"
        ).statements[0]
        self.assertEqual([statement.text[b:e].strip() for b, e in items_of(statement)],
                         ["a DECIMAL(5,2)", "b CHAR(1) CHECK (b IN (',', 'x'))"])  # fmt: skip

    @given(
        st.lists(
            st.sampled_from(["a", " ", "\n", ";", "'", "''", "--", "/*", "*/", "$$", "(", ")", ",", "BEGIN", "END"]),
            max_size=30,
        )
    )
    def test_places_are_those_of_the_file_whatever_it_holds(self, parts):
        sql = "".join(parts)
        try:
            found = split_sql(sql, "postgresql")
        except UnreadableText:
            return
        for statement in found.statements:
            self.assertEqual(statement.line, sql.count("\n", 0, statement.start) + 1)
            for at, sign in enumerate(statement.text):
                self.assertIn(sign, (" ", sql[statement.start + at]))
        for comment in found.comments:
            self.assertEqual(sql[comment.start : comment.end], comment.raw)


class Comments(unittest.TestCase):
    SQL = "-- far\n\n-- a\n--- b\n--- c\nx INT, ---< of x\n/* d */ y INT -- e\n"

    def test_stand_above_or_behind(self):
        found = split_sql(self.SQL, "postgresql")
        above = [c.raw for c in comments_above(found, self.SQL.index("x INT"))]
        self.assertEqual(above, ["-- a", "--- b", "--- c"])
        self.assertEqual([c.raw for c in comments_behind(found, self.SQL.index("x INT"))], ["---< of x"])
        self.assertEqual(comments_behind(found, self.SQL.index("y INT")), [], "no mark says so")
