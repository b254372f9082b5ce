"""What goes stale when a target changes, and what must not be reported."""

import unittest
import uuid
from urllib.parse import quote

from tests.support.running import PROJECTS, build_repository, running

LIB = 'def find(a{}):\n    """Find tides{}.\n\n    :param a: Where.\n    """\n'


class Case(unittest.TestCase):
    def setUp(self):
        self.portal = running()
        mark = uuid.uuid4().hex[:6]
        self.lib, self.user = f"sl{mark}", f"su{mark}"

    def library(self, version, signature="", text=" in metres", more=""):
        self.portal.publish({f"{self.lib}.py": LIB.format(signature, text) + more}, self.lib, version)

    def mentions(self, version, text):
        self.portal.publish({f"{self.user}.py": f'"""{text}"""\n'}, self.user, version)

    def stale(self, rule="stale/changed-since", project=""):
        found = self.portal.client.findings(project=project or self.user, rule=rule)
        return [f.finding for f in found]


class ChangedSince(Case):
    def test_old_and_new_stand_side_by_side_until_the_text_is_changed(self):
        told = f"See :func:`{self.lib}.find`, where ``b`` is 10."
        self.library("1.0.0", signature=", b=10")
        self.mentions("1.0.0", told)
        self.library("1.1.0", signature=", b=20")
        (found,) = self.stale()
        self.assertEqual((found.was, found.now), ("find(a, b=10)", "find(a, b=20)"))
        self.assertIn(f"changed in {self.lib} 1.1.0; this was written for 1.0.0", found.message)
        # A release of the user that leaves the text as it is confirms nothing.
        self.mentions("1.0.1", told)
        self.assertEqual(len(self.stale()), 1)
        self.mentions("1.0.2", told.replace("10", "20"))
        self.assertEqual(self.stale(), [])

    def test_previews_are_held_against_the_newest_release(self):
        def files(default, told):
            return {
                f"{self.lib}.py": f'def find(a, b={default}):\n    """Find."""\ndef use():\n    """See :func:`find`, where ``b`` is {told}."""\n'
            }

        for version in ("1.0.0", "2.0.0"):
            self.portal.publish(files(10, 10), self.lib, version)
        self.portal.publish(files(30, 10), self.lib, "work", preview=True)
        page = self.portal.client.symbol(self.lib, f"{self.lib}.use", "work")
        self.assertIn("mention stale", page.summary)
        self.portal.publish(files(30, 30), self.lib, "work", preview=True)
        page = self.portal.client.symbol(self.lib, f"{self.lib}.use", "work")
        self.assertNotIn("stale", page.summary)

    def test_a_text_that_says_something_else(self):
        self.library("1.0.0")
        self.mentions("1.0.0", f"See :func:`{self.lib}.find`, which gives metres.")
        self.library("1.1.0", text=" in feet, which are shorter")
        (found,) = self.stale()
        self.assertEqual((found.was, found.now), ("Find tides in metres.", "Find tides in feet, which are shorter."))

    def test_near_misses_are_not_reported(self):
        for name, text, change in (
            ("spelling", "See :func:`{}.find`.", {"text": " in  *metres*"}),
            ("pinned", "See `it <api://{0}@1.0.0/{0}.find>`_.", {"signature": ", b=1"}),
            ("another symbol", "See :func:`{}.find`.", {"more": "\ndef other(): ...\n"}),
            ("body", "See :func:`{}.find`.", {"more": "    return a\n"}),
            ("nothing that is spoken of", "See :func:`{}.find`.", {"signature": ", b=1", "text": " in feet"}),
        ):
            with self.subTest(name):
                self.setUp()
                self.library("1.0.0")
                self.mentions("1.0.0", text.format(self.lib))
                self.library("1.1.0", **change)
                self.assertEqual(self.stale(), [])
        self.setUp()
        self.library("1.0.0", signature=": int")
        self.mentions("1.0.0", f"See :func:`{self.lib}.find`.")
        self.library("1.1.0", signature=": int")
        self.assertEqual(self.stale(), [])


class Moved(Case):
    def test_the_old_place_of_a_symbol_and_not_a_short_name_for_it(self):
        self.move("")
        (found,) = self.stale("stale/moved")
        self.assertEqual((found.text, found.suggestion, found.certain),
                         (f"{self.lib}.one.find", f"{self.lib}.two.find", True))  # fmt: skip

    def test_a_definition_that_wanders_below_its_public_name_is_no_change(self):
        self.move("from .{} import find\n")
        self.assertEqual(self.stale("stale/moved"), [])
        self.assertEqual(self.portal.client.symbol(self.lib, f"{self.lib}.two.find").path, f"{self.lib}.find")

    def move(self, handed_on):
        old = {f"{self.lib}/__init__.py": handed_on.format("one"), f"{self.lib}/one.py": LIB.format("", ""),
               f"{self.lib}/two.py": ""}  # fmt: skip
        self.portal.publish(old, self.lib, "1.0.0")
        self.mentions(
            "1.0.0", f"See :func:`{self.lib}.one.find`" + (f", :func:`{self.lib}.find`." if handed_on else ".")
        )
        new = {f"{self.lib}/__init__.py": handed_on.format("two"),
               f"{self.lib}/one.py": f"from {self.lib}.two import find\n", f"{self.lib}/two.py": LIB.format("", "")}  # fmt: skip
        self.portal.publish(new, self.lib, "1.1.0")


class Types(Case):
    def test_a_type_that_the_signature_had_when_the_text_was_written(self):
        text = 'def f(a: {}):\n    """F.\n\n    :param int a: A.\n    """\n'
        for version, declared in (("1.0.0", "int"), ("1.1.0", "int"), ("2.0.0", "float"), ("2.1.0", "float")):
            self.portal.publish({f"{self.lib}.py": text.format(declared)}, self.lib, version)
            expected = [] if declared == "int" else [("int", "float")]
            found = self.stale("stale/type", self.lib)
            self.assertEqual([(f.text, f.suggestion) for f in found], expected, version)


class Ambiguous(Case):
    def test_a_name_of_two_projects_neither_of_which_is_a_dependency(self):
        shared = f"shared{self.lib}"
        for slug in (self.lib, f"{self.lib}b"):
            files = {f"{shared}.py": "def crew(): ...\n", "pyproject.toml": f'[project]\nname = "{slug}"\n'}
            self.portal.publish(files, slug, "1.0.0")
        client = self.portal.client
        (name,) = [c.name for c in client.names(self.lib, contested=True)]
        client.decide_name(name, [self.lib, f"{self.lib}b"])  # Until then it stays with the first.
        self.mentions("1.0.0", f"See :func:`{shared}.crew` and :func:`{shared}.nobody`.")
        (found,) = self.stale("dangling/ambiguous")
        self.assertIn(f"{self.lib} or {self.lib}b", found.message)
        depends = f'[project]\nname = "{self.user}"\ndependencies = ["{self.lib}"]\n'
        text = f'"""See :func:`{shared}.crew`."""\n'
        self.portal.publish({f"{self.user}.py": text, "pyproject.toml": depends}, self.user, "1.0.1")
        self.assertEqual(self.stale("dangling/ambiguous"), [])


class Permanent(unittest.TestCase):
    MOVED = ("tidebook.windows.MIN_SPAN", "tidebook.tables.load_week", "crewroster.export.read_json")

    def test_every_address_ever_published_still_answers(self):
        """The histories of the whole demo: every symbol of every release, with its version and without."""
        portal, client = running(), running().client
        asked = gone = 0
        for project in sorted(p for p in PROJECTS.iterdir() if p.is_dir()):
            slug, folder = project.name, portal.home / "repositories" / project.name
            versions = build_repository(project, folder)
            client.add_source(slug, str(folder))
            for version in versions:
                for run in client.fetch(slug, tag=f"v{version}"):  # Other tests may have published it.
                    done = portal.wait(run)
                    self.assertEqual(done.state, "done", done.problem)
            for version in versions:
                rows = portal.http.get(f"/api/v1/projects/{slug}/releases/{version}/symbols?limit=500").json()["items"]
                for path in [row["path"] for row in rows]:
                    asked += 1
                    self.assertEqual(client.symbol(slug, path, version).path, path)
                    address = f"/api/v1/projects/{slug}/releases/latest/symbols/{quote(path)}"
                    answer = portal.http.get(address, follow_redirects=True)
                    if answer.status_code != 200:  # What went for good says where it was last.
                        gone += 1
                        self.assertIn(f"/ref/{slug}/", answer.json()["elsewhere"], path)
                        self.assertNotIn(path, self.MOVED)
        self.assertGreater(asked, 1000)
        self.assertLess(gone, asked / 10)


class Gathered(unittest.TestCase):
    def test_findings_stand_when_links_of_their_text_are_looked_at_again(self):
        portal, tag = running(), uuid.uuid4().hex[:6]
        lib, sea = f"lib{tag}", f"sea{tag}"
        portal.publish({f"{lib}.py": 'def go():\n    """Goes."""\n'}, lib, "1.0")
        files = {
            "zarbek.toml": f'slug = "{sea}"\n[data]\ndialect = "mariadb"\nplace = "{sea}"\n', "a.sql": "CREATE TABLE ships (id INT);",
            "s.model.yaml": f"tables: {{ships: {{description: 'See [it](api://{lib}/{lib}.go).', columns: {{gone: Once.}}}}}}",
        }  # fmt: skip
        portal.publish(files, sea, "1.0")

        def standing():
            return {row.finding.rule: row.state for row in portal.client.findings(project=sea) if row.state != "fixed"}

        self.assertEqual(standing(), {"stale/column": "new"})
        portal.publish({f"{lib}.py": 'def went():\n    """Went."""\n'}, lib, "2.0")
        self.assertEqual(standing().keys(), {"stale/column", "dangling/symbol"})


if __name__ == "__main__":
    unittest.main()
