"""The catalogue of a real MariaDB: gathered from the command line, and by the portal on its own."""

import io
import json
import subprocess
import tempfile
import unittest
import uuid
from datetime import datetime
from pathlib import Path
from unittest import mock

from sqlalchemy.exc import SQLAlchemyError

from tests.support.running import CATALOG_PASSWORD, running
from tests.support.sources import write_files
from tests.support.waiting import until
from zarbek.cli.main import main
from zarbek.client import PortalProblem
from zarbek.core.errors import CatalogRefused
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.material.catalogs.connections import connect, parse_address
from zarbek.core.material.catalogs.reading import CatalogQuestion, read_catalog

#: More than the portal's queue may have to do before.
SOON_S = 120
SCHEMA = """CREATE DATABASE {name} CHARACTER SET utf8mb4; USE {name};
CREATE TABLE ports (code CHAR(3) PRIMARY KEY COMMENT 'Three letters.', big DECIMAL(8,2) CHECK (big > 0),
  flag BOOLEAN NOT NULL DEFAULT FALSE, `odd ``name` INT) COMMENT='A harbour.';
CREATE TABLE trips (id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, port CHAR(3) NOT NULL REFERENCES ports (code),
  at DATETIME NOT NULL DEFAULT now(), days INT AS (3 * 4) STORED, UNIQUE KEY once (port, at), KEY slow (days));
CREATE VIEW late AS SELECT p.code, t.at FROM ports p JOIN trips t ON t.port = p.code;
INSERT INTO ports VALUES ('abc', 2, 1, NULL);
CREATE USER '{name}' IDENTIFIED BY '{password}'; GRANT SELECT, SHOW VIEW ON {name}.* TO '{name}';"""
DEFINITIONS = """/** A harbour of ours. */
CREATE TABLE ports (code CHAR(3) PRIMARY KEY, big DECIMAL(6,2), flag BOOLEAN, berth INT);
"""


class OfMariadb(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        self.name = f"sea{uuid.uuid4().hex[:8]}"
        self.say(SCHEMA.format(name=self.name, password=CATALOG_PASSWORD))
        self.addCleanup(self.say, f"DROP DATABASE {self.name}; DROP USER '{self.name}'")
        port = self.portal.processes.database.port
        self.address = f"mariadb://{self.name}@127.0.0.1:{port}/{self.name}"

    def say(self, statements):
        socket = self.portal.processes.database.socket
        subprocess.run(["mariadb", "-S", socket], input=statements.encode(), check=True, capture_output=True)

    def ask(self, **more):
        return read_catalog(CatalogQuestion(self.address, CATALOG_PASSWORD, **more))

    def set_up(self, **more):
        return self.portal.client.set_database(
            self.name, self.address, password_from="ZARBEK_CATALOG_TEST", schemas={self.name: "sea"}, **more
        )

    def look(self):
        """What the database says, once what was gathered of it is published."""
        state = self.portal.client.poll_database(self.name)
        for run in self.portal.client.runs(self.name):
            self.portal.wait(run)
        return state


class Catalogue(OfMariadb):
    def test_has_all_of_it(self):
        catalog = self.ask()
        self.assertEqual((catalog.dialect, catalog.home, catalog.schemas), ("mariadb", self.name, [self.name]))
        late, ports, trips = catalog.tables
        self.assertEqual(late.form, "view")
        self.assertEqual((ports.comment, ports.rows, len(ports.changed)), ("A harbour.", 1, 20))
        self.assertEqual([(c.name, c.type, c.nullable, c.default, c.comment) for c in ports.columns], [
            ("code", "char(3)", False, "", "Three letters."), ("big", "decimal(8,2)", True, "", ""),
            ("flag", "tinyint(1)", False, "0", ""), ("odd `name", "int(11)", True, "", ""),
        ])  # fmt: skip
        self.assertEqual([(c.default, c.computed) for c in trips.columns],
                         [("counted up", ""), ("", ""), ("current_timestamp()", ""), ("", "3 * 4")])  # fmt: skip
        self.assertEqual([check.text for check in ports.checks], ["`big` > 0"])
        self.assertEqual({(k.kind, k.name, *k.columns, k.target) for k in trips.keys}, {
            ("primary", "", "id", ""), ("unique", "once", "port", "at", ""), ("index", "slow", "days", ""),
            ("foreign", "trips_ibfk_1", "port", f"{self.name}.ports"),
        })  # fmt: skip

    def test_is_only_read(self):
        self.say(f"GRANT ALL ON {self.name}.* TO '{self.name}'")
        with connect(parse_address(self.address), CATALOG_PASSWORD, "") as database:
            for statement in ("DELETE FROM ports", "DROP TABLE trips", "CREATE TABLE more (id INT)"):
                with self.subTest(statement=statement), self.assertRaisesRegex(SQLAlchemyError, "READ ONLY"):
                    database.exec_driver_sql(statement)
            with self.assertRaisesRegex(SQLAlchemyError, "not allowed|disabled|forbidden|READ ONLY"):
                database.exec_driver_sql("LOAD DATA LOCAL INFILE '/etc/hostname' INTO TABLE ports")
        self.assertEqual(self.ask().tables[1].rows, 1)

    def test_is_refused_where_the_password_is_wrong_and_does_not_tell_it(self):
        with self.assertRaisesRegex(CatalogRefused, "Access denied") as refused:
            read_catalog(CatalogQuestion(self.address, "not this one"))
        self.assertNotIn("not this one", str(refused.exception))


class CommandLine(OfMariadb):
    def test_gathers_it_with_what_is_written(self):
        with tempfile.TemporaryDirectory() as folder:
            settings = f'[data]\ndialect = "mariadb"\nplace = "sea"\n[data.catalog]\naddress = "{self.address}"\npassword_from = "ZARBEK_CATALOG_TEST"\n'
            source = write_files(Path(folder, "source"), {"a.sql": DEFINITIONS, "zarbek.toml": settings})
            out = Path(folder, "sea.bundle")
            said = io.StringIO()
            with mock.patch.dict("os.environ", ZARBEK_CATALOG_TEST=CATALOG_PASSWORD):
                self.assertEqual(main(["gather", str(source), "--catalog", "--out", str(out)], said, said), 0)
            self.assertIn("a.sql:2: sea.ports.berth stands here; the database does not have it.", said.getvalue())
            self.assertIn("a.sql:2: big is DECIMAL(6, 2) here; the database has DECIMAL(8, 2).", said.getvalue())
            with BundleReader(out) as bundle:
                found = {s.path: s for s in bundle.symbols()}
            self.assertEqual([s.path for s in found.values() if s.kind == "view"], ["sea.late"])
            self.assertEqual([s.path for s in found["sea.late.at"].data.column.steps], ["sea.trips.at"])
            self.assertNotIn(CATALOG_PASSWORD.encode(), out.read_bytes())


class OnTheirOwn(OfMariadb):
    def test_portals_publish_what_a_database_has_and_again_once_it_changes(self):
        self.set_up()
        self.assertEqual(self.look().problem, "")
        page = self.portal.client.symbol(self.name, "sea.ports", version="running")
        self.assertEqual((page.data.table.rows, [c.name for c in page.data.table.columns]),
                         (1, ["code", "big", "flag", "odd `name"]))  # fmt: skip
        again = self.look()
        self.assertEqual(len(list(self.portal.client.runs(self.name))), 1)
        page = self.portal.client.symbol(self.name, "sea.ports", version="running")
        self.assertEqual(datetime.fromisoformat(page.data.table.seen_at), again.fetched_at.replace(microsecond=0))
        self.say(f"ALTER TABLE {self.name}.ports RENAME COLUMN flag TO open")
        self.assertIsNotNone(self.look().changed_at)
        page = self.portal.client.symbol(self.name, "sea.ports", version="running")
        self.assertIn("open", [c.name for c in page.data.table.columns])

    def test_portals_gather_it_with_the_repository(self):
        folder = self.portal.home / "repositories" / self.name
        write_files(folder, {"a.sql": DEFINITIONS, "zarbek.toml": '[data]\ndialect = "mariadb"\nplace = "sea"\n'})
        for command in (["init", "-q", "-b", "main"], ["add", "."], ["-c", "user.name=a", "-c", "user.email=a@b", "commit", "-qm", "Begin"]):  # fmt: skip
            subprocess.run(["git", *command], cwd=folder, check=True)
        self.portal.client.add_source(self.name, str(folder), branch="main")
        self.set_up()
        self.look()
        (run,) = self.portal.client.runs(self.name)
        self.assertEqual((run.state, run.version), ("done", "running"))
        found = {s.path: s for s in self.portal.client.symbols(self.name, version="running")}
        self.assertEqual((found["sea.ports"].summary, found["sea.late"].kind), ("A harbour of ours.", "view"))

    def test_databases_that_are_not_as_the_newest_release_says_are_findings(self):
        self.portal.publish({"a.sql": DEFINITIONS + "CREATE TABLE boats (id INT);", "zarbek.toml": '[data]\nplace = "sea"\ndialect = "mariadb"\n'}, self.name, "1.0")  # fmt: skip
        self.set_up()
        self.look()
        found = {
            (f.finding.rule, f.finding.target)
            for f in self.portal.client.findings(project=self.name)
            if f.state != "fixed"
        }
        self.assertEqual({f for f in found if f[0].startswith("stale/")}, {
            ("stale/database", "sea.boats"), ("stale/database", "sea.ports.berth"), ("stale/database", "sea.ports.big"),
            ("stale/database-ahead", "sea.ports"), ("stale/database-ahead", "sea"),
        })  # fmt: skip
        self.say(f"ALTER TABLE {self.name}.ports ADD COLUMN berth INT; CREATE TABLE {self.name}.boats (id INT)")
        self.look()
        left = [
            f.finding.target
            for f in self.portal.client.findings(project=self.name, rule="stale/database")
            if f.state != "fixed"
        ]
        self.assertEqual(left, ["sea.ports.big"])

    def test_databases_are_asked_when_their_time_comes(self):
        self.set_up(poll_minutes=1)
        self.assertTrue(until(lambda: self.portal.client.database(self.name).fetched_at, 2 * SOON_S))

    def test_one_that_does_not_answer_is_a_finding_and_nothing_is_lost(self):
        self.portal.publish({"a.sql": DEFINITIONS}, self.name, "1.0")
        self.set_up()
        self.look()
        self.say(f"ALTER USER '{self.name}' IDENTIFIED BY 'another'")
        state = self.look()
        self.assertRegex(state.problem, "Access denied")
        (found,) = self.portal.client.findings(project=self.name, rule="dangling/service")
        self.assertIn("The database does not say what it has", found.finding.message)
        self.assertEqual(self.portal.client.symbol(self.name, "sea.ports", version="running").path, "sea.ports")


class Setting(OfMariadb):
    def test_is_for_administrators_and_holds_no_secret(self):
        self.set_up()
        token = self.portal.client.create_token("reader", scope="read").text
        path = f"/projects/{self.name}/database"
        shown = self.portal.api("GET", path, token=token)
        self.assertEqual((shown.json()["address"], shown.json()["password_from"]), ("", ""))
        for method in ("PUT", "DELETE"):
            refused = self.portal.api(method, path, token=token, json={"address": self.address})
            self.assertEqual(refused.status_code, 403)
        self.assertEqual(self.portal.api("POST", f"{path}/poll", token=token).status_code, 403)
        told = self.portal.api("GET", path).text + json.dumps(
            self.portal.api("GET", f"/audit?project={self.name}").json()
        )
        self.assertNotIn(CATALOG_PASSWORD, told)
        self.portal.client.remove_database(self.name)
        with self.assertRaisesRegex(PortalProblem, "gathered with no database"):
            self.portal.client.database(self.name)

    def test_of_what_a_portal_may_not_ask_is_refused(self):
        for address, why in (
            ("sqlite:////etc/passwd", "over the net only"), ("mariadb:///d?unix_socket=/run/x", "over the net only"),
            ("mariadb://u:secret@h/d", "password stands in"), ("mariadb://u@h/d?local_infile=1", "local_infile"),
            ("oracle://u@h/d", "not of oracle"),
        ):  # fmt: skip
            with self.subTest(address=address), self.assertRaisesRegex(PortalProblem, why) as refused:
                self.portal.client.set_database(self.name, address)
            self.assertNotIn("secret@", str(refused.exception))
        with self.assertRaises(PortalProblem):
            self.portal.client.set_database(self.name, self.address, password_from="ZARBEK_DB_PASSWORD")
        self.portal.client.set_database(self.name, "mariadb://u@10.0.0.1:3306/d")
        self.assertRegex(self.portal.client.poll_database(self.name).problem, "private network")


if __name__ == "__main__":
    unittest.main()
