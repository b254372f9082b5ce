"""Data models in the portal: pages of tables, the way of their data, and who is broken by a change."""

import io
import unittest
import uuid

from tests.support.running import running
from tests.support.waiting import until
from zarbek.cli.main import main
from zarbek.client.errors import PortalProblem

TOML = '[data]\ndialect = "mariadb"\nplace = "{place}"\nqueries = ["queries/*.sql"]\n[data.calls.of]\ntable = "{{1}}.{{2}}"\n'
SHIPS = """/** A ship. */
CREATE TABLE ships (id INT NOT NULL PRIMARY KEY, port CHAR(3) COMMENT 'At home.', CHECK (id > 0));
CREATE TABLE calls (ship INT REFERENCES ships (id), hours INT);
"""
MODEL = """blocks: {hours: "As written down."}
tables:
  ships: {row: One ship., owner: Yard, tags: [fleet], meta: {kept: long}}
  calls: {columns: {hours: {description: "Hours. {block hours}", checks: [hours > 0]}}}
"""
BUSY = """/** Ports by calls. */
SELECT s.port, SUM(c.hours) AS hours, COUNT(*) AS n
FROM {{{{ of("{place}", "calls") }}}} c JOIN {place}.ships s ON s.id = c.ship GROUP BY 1
"""


class Tables(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, key = running(), uuid.uuid4().hex[:6]
        cls.sea, cls.land = f"sea{key}", f"land{key}"
        cls.files = {"zarbek.toml": TOML.format(place=cls.sea), "migrations/1.sql": SHIPS, "sea.model.yaml": MODEL}
        cls.portal.publish(cls.files, cls.sea, "1.0")
        cls.portal.publish({"zarbek.toml": TOML.format(place=cls.land), "queries/busy.sql": BUSY.format(place=cls.sea)},
                           cls.land, "1.0")  # fmt: skip
        cls.changed = cls.files | {
            "migrations/2.sql": "ALTER TABLE calls CHANGE hours minutes INT; ALTER TABLE ships DROP COLUMN port;"
        }

    def table(self, project, name):
        return self.portal.client.symbol(project, f"{project}.{name}", "1.0")

    def test_the_page_of_a_table(self):
        page = self.table(self.sea, "ships")
        table = page.data.table
        self.assertEqual((page.kind, table.form, table.place, table.owner, table.tags, table.meta),
                         ("table", "table", [self.sea], "Yard", ["fleet"], {"kept": "long"}))  # fmt: skip
        self.assertEqual([(c.name, c.type, c.must, c.keys, c.used_by > 0) for c in table.columns],
                         [("id", "INT", True, ["primary"], True), ("port", "CHAR(3)", None, [], True)])  # fmt: skip
        self.assertEqual([c.text for c in table.checks], ["id > 0"])
        self.assertEqual([w.path for w in table.goes_to], [f"{self.land}.busy"])

    def test_how_it_is_made_every_name_a_link(self):
        table = self.table(self.land, "busy").data.table
        links = {piece.text: piece.href for piece in table.query.compiled if piece.href}
        self.assertEqual(links["s.port"], f"/ref/{self.sea}/1.0/{self.sea}.ships.port")
        self.assertEqual(links[f"{self.sea}.calls"], f"/ref/{self.sea}/1.0/{self.sea}.calls")
        written = {piece.text for piece in table.query.written if piece.href}
        self.assertLessEqual({"c.hours", "calls", f"{self.sea}.ships"}, written)
        self.assertEqual([w.path for w in table.came_from], [f"{self.sea}.calls", f"{self.sea}.ships"])

    def test_all_tables_with_their_keys_in_one_list(self):
        ships, calls = sorted(self.portal.client.tables(self.sea, "1.0").tables, key=lambda t: t.path, reverse=True)
        self.assertEqual((ships.path, ships.place, ships.file, ships.columns, ships.tags, ships.summary),
                         (f"{self.sea}.ships", [self.sea], "migrations/1.sql", 2, ["fleet"], "A ship."))  # fmt: skip
        self.assertEqual(
            [(k.columns, k.target, k.there) for k in calls.keys], [(["ship"], f"{self.sea}.ships", ["id"])]
        )
        (busy,) = self.portal.client.tables(self.land, "1.0").tables
        self.assertEqual((busy.file, busy.form), ("queries/busy.sql", "query"))

    def test_a_table_as_markdown_and_in_a_terminal(self):
        text = self.portal.client.table_text(self.land, f"{self.land}.busy", "1.0").text
        for part in (f"# {self.land}.busy", "Ports by calls.", f"| `port` |  |  |  | `{self.sea}.ships.port` |",
                     "```sql\n"):  # fmt: skip
            self.assertIn(part, text)
        with self.assertRaises(PortalProblem):
            self.portal.client.table_text(self.land, f"{self.land}.busy.port", "1.0")
        said = io.StringIO()
        self.assertEqual(main(["show", f"{self.sea}.ships", "--url", self.portal.url], said, said), 0)
        for part in (
            "A row: One ship.",
            "id  INT, primary key, must be there",
            "id > 0",
            f"Goes to\n  {self.land}.busy",
        ):
            self.assertIn(part, said.getvalue())

    def test_tables_and_columns_are_found_by_tag_type_and_database(self):
        def found(words):
            return {hit.path for hit in self.portal.client.search(words, limit=50)}

        until(lambda: found(f"database:{self.sea}"), 60)
        self.assertEqual(found(f"tag:fleet database:{self.sea}"), {f"{self.sea}.ships"})
        self.assertEqual(found(f"type:char database:{self.sea}"), {f"{self.sea}.ships.port"})
        self.assertEqual(found(f"hours database:{self.sea} kind:column"), {f"{self.sea}.calls.hours"})
        self.assertEqual(found(f"type:blob database:{self.sea}"), set())

    def test_a_column_by_itself(self):
        column = self.table(self.sea, "calls.hours")
        self.assertIn("As written down.", column.summary + column.body)
        self.assertEqual([c.text for c in column.data.column.checks], ["hours > 0"])
        self.assertEqual(
            [(w.path, w.how) for w in column.data.column.goes_to], [(f"{self.land}.busy.hours", "computed")]
        )
        keys = self.table(self.sea, "calls.ship").data.column.keys
        self.assertEqual([(k.kind, k.target[0].href, k.there) for k in keys],
                         [("foreign", f"/ref/{self.sea}/1.0/{self.sea}.ships", ["id"])])  # fmt: skip

    def test_the_way_of_the_data_across_projects(self):
        client = self.portal.client
        up = client.lineage(self.land, f"{self.land}.busy.hours", direction="up")
        self.assertEqual(
            [(n.path, n.depth) for n in up.nodes], [(f"{self.land}.busy.hours", 0), (f"{self.sea}.calls.hours", -1)]
        )
        self.assertEqual([(e.source, e.target, e.how) for e in up.edges], [(1, 0, "computed")])
        down = client.lineage(self.sea, f"{self.sea}.ships", depth=1)
        self.assertEqual([(n.path, n.depth, n.project) for n in down.nodes[1:]], [(f"{self.land}.busy", 1, self.land)])
        self.assertEqual(client.lineage(self.sea, f"{self.sea}.ships", direction="up").edges, [])
        with self.assertRaises(PortalProblem) as caught:
            client.lineage(self.sea, f"{self.sea}.none")
        self.assertEqual(caught.exception.status, 404)

    def test_the_command(self):
        code, text, _ = self.portal.command("lineage", f"{self.land}.busy.hours")
        self.assertEqual(code, 0)
        self.assertIn(f"Comes from\n  {self.sea}.calls.hours  computed, column, {self.sea} 1.0", text)
        code, text, _ = self.portal.command("lineage", f"{self.sea}.calls", "--down", "--json")
        self.assertIn(f'"{self.land}.busy"', text)

    def test_who_is_broken_by_a_change_and_what_to_write(self):
        slug, reader = f"{self.sea}x", f"{self.land}x"
        files = {name: text.replace(self.sea, slug) for name, text in self.files.items()}
        self.portal.publish(files, slug, "1.0")
        self.portal.publish(
            {"zarbek.toml": TOML.format(place=reader), "queries/busy.sql": BUSY.format(place=slug)}, reader, "1.0"
        )
        self.portal.publish({**files, "migrations/2.sql": self.changed["migrations/2.sql"]}, slug, "2.0")
        found = self.portal.client.report(slug, "2.0")
        told = {
            (f.rule, f.file, f.line, f.target, f.suggestion, f.certain) for e in found.elsewhere for f in e.findings
        }
        self.assertEqual(told, {
            ("dangling/column", "queries/busy.sql", 2, f"{slug}/{slug}.calls.hours", f"{slug}.calls.minutes", True),
            ("dangling/column", "queries/busy.sql", 2, f"{slug}/{slug}.ships.port", "", False),
        })  # fmt: skip
        self.assertIn(("stale/column", "sea.model.yaml"), {(f.rule, f.file) for f in found.new})

    def test_a_column_of_another_type_is_told_to_who_reads_it(self):
        slug, reader = f"{self.sea}y", f"{self.land}y"
        files = {name: text.replace(self.sea, slug) for name, text in self.files.items()}
        self.portal.publish(files, slug, "1.0")
        self.portal.publish(
            {"zarbek.toml": TOML.format(place=reader), "queries/busy.sql": BUSY.format(place=slug)}, reader, "1.0"
        )
        wider = {**files, "migrations/2.sql": "ALTER TABLE ships MODIFY id BIGINT NOT NULL;"}
        self.portal.publish(wider, slug, "1.1")
        self.assertEqual(self.portal.client.report(slug, "1.1").elsewhere, [], "it holds all that it held")
        self.portal.publish({**wider, "migrations/3.sql": "ALTER TABLE calls MODIFY hours SMALLINT;"}, slug, "2.0")
        found = [f for e in self.portal.client.report(slug, "2.0").elsewhere for f in e.findings]
        self.assertEqual([(f.rule, f.file, f.line, f.was, f.now) for f in found],
                         [("stale/column", "queries/busy.sql", 2, "hours INT", "hours SMALLINT")])  # fmt: skip
        self.assertIn("holds less", found[0].message)


if __name__ == "__main__":
    unittest.main()
