"""Examples in the portal: on the pages of what they call, in search, compared, judged when they fail or vanish."""

import csv
import io
import unittest
import uuid

from tests.support.running import running
from zarbek.cli.main import main

TESTS = '''
from unittest import TestCase
from sea import Ship

class Of(TestCase):
    def setUp(self):
        self.ship = Ship()

    def test_leaving(self):
        """She goes, as :meth:`Ship.leave` says.

        :example: Leaving
        """
        self.assertEqual(self.ship.leave(3), "gone")

    def test_building(self):
        """:example:"""
        Ship()
'''
RESULTS = """<testsuite name="x" timestamp="2026-03-01T08:00:00Z">
<testcase classname="tests.test_it.Of" name="test_leaving" time="0.5"><failure message="no wind"/></testcase>
<testcase classname="tests.test_it.Of" name="test_building" time="0.1"/></testsuite>"""
FILES = {
    "src/sea/__init__.py": '"""Sea."""\nclass Ship:\n    """One."""\n    def leave(self, at):\n        """Leave."""\n'
    'def idle():\n    """Idle."""\n',
    "tests/test_it.py": TESTS,
    "reports/a.xml": RESULTS,
    "zarbek.toml": '[examples]\nresults = ["reports/*.xml"]\n',
}


def named(slug, old="sea", files=FILES):
    """The files of a project of that name."""
    return {name.replace(old, slug): text.replace(old, slug) for name, text in files.items()}


class Examples(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"e{uuid.uuid4().hex[:6]}"
        cls.files = named(cls.slug)
        cls.portal.publish(cls.files, cls.slug, "1.0")

    def page(self, path, version="1.0"):
        return self.portal.client.symbol(self.slug, path, version)

    def test_an_element_has_those_that_call_it(self):
        (example,) = self.page(f"{self.slug}.Ship.leave").examples
        self.assertEqual((example.title, example.verdict.state, example.verdict.told), ("Leaving", "failed", "no wind"))
        self.assertEqual([(p.kind, p.how) for p in example.parts], [("set-up", ""), ("outcome", "is")])
        self.assertIn(f'href="/ref/{self.slug}/1.0/{self.slug}.Ship.leave"', example.parts[1].code)
        self.assertEqual([e.title for e in self.page(f"{self.slug}.Ship").examples], ["Building"])
        self.assertEqual(self.page(f"{self.slug}.idle").examples, [])

    def test_an_example_has_a_page_and_is_found(self):
        page = self.page("tests.test_it.Of.test_leaving")
        self.assertEqual((page.kind, [e.name for e in page.exercises]), ("example", [f"{self.slug}.Ship.leave"]))
        hits = self.portal.client.search("leaving", project=self.slug)
        self.assertEqual([h.path for h in hits][:1], ["tests.test_it.Of.test_leaving"])
        self.assertNotIn(
            "tests.test_it", [m.path for m in page.navigation.modules], "a module of tests is none to read"
        )

    def test_what_is_tested_by_module(self):
        found = self.portal.client.tested(self.slug, "1.0")
        (module,) = found.modules
        self.assertEqual((found.elements, found.shown, found.examples), (3, 2, {"failed": 1, "passed": 1}))
        self.assertEqual([(e.name, [x.title for x in e.examples]) for e in module.shown],
                         [("Ship", ["Building"]), ("Ship.leave", ["Leaving"])])  # fmt: skip
        self.assertEqual([o.name for o in module.others], ["idle"])
        rows = list(csv.DictReader(io.StringIO(self.portal.client.tested_table(self.slug, "1.0"))))
        self.assertEqual([(r["element"], r["verdict"], r["seconds"]) for r in rows],
                         [("Ship", "passed", "0.1"), ("Ship.leave", "failed", "0.5"), ("idle", "", "")])  # fmt: skip

    def test_one_that_fails_or_vanishes_is_a_finding_and_breaks_nobody(self):
        slug = f"v{uuid.uuid4().hex[:6]}"
        files = named(slug)
        self.portal.publish(files, slug, "1.0")
        found = self.portal.client.report(slug, "1.0")
        self.assertEqual([(f.rule, f.subject) for f in found.new], [("stale/verdict", "tests.test_it.Of.test_leaving")])
        gone = files["tests/test_it.py"]
        files["tests/test_it.py"] = gone[: gone.index("    def test_building")]
        files["reports/a.xml"] = files["reports/a.xml"].replace("<failure", "<skipped")
        self.portal.publish(files, slug, "1.0.1")
        found = self.portal.client.report(slug, "1.0.1")
        self.assertEqual(
            [(f.rule, f.subject) for f in found.new], [("stale/verdict", "tests.test_it.Of.test_building")]
        )
        self.assertEqual([f.subject for f in found.fixed], ["tests.test_it.Of.test_leaving"])
        compared = self.portal.client.compare(slug, "1.0", "1.0.1")
        self.assertEqual([(c.kind, c.symbol_kind, c.breaks) for c in compared.changes], [("removed", "example", False)])
        self.assertEqual(compared.suggested, "1.0.1")

    def test_those_of_another_project_stand_beside_them(self):
        slug = f"o{uuid.uuid4().hex[:6]}"
        files = {
            "tests/test_other.py": f'from {self.slug} import idle\ndef test_idling():\n    """:example:"""\n    assert idle() is None\n',
            "pyproject.toml": f'[project]\nname = "{slug}"\nversion = "1"\ndependencies = ["{self.slug}"]\n',
            "a.py": "",
        }
        target = f"{self.slug}x"
        own = named(target)
        self.portal.publish(own, target, "1.0")
        files = named(target, self.slug, files)
        self.portal.publish(files, slug, "1.0")
        (example,) = self.portal.client.symbol(target, f"{target}.idle", "1.0").examples
        self.assertEqual((example.project, example.title), (slug, "Idling"))
        tested = self.portal.client.tested(target, "1.0")
        self.assertEqual((tested.shown, tested.examples), (3, {"failed": 1, "not-run": 1, "passed": 1}))

    def test_a_guide_that_quotes_one_is_told_when_it_changes(self):
        slug, book = f"q{uuid.uuid4().hex[:6]}", f"b{uuid.uuid4().hex[:6]}"
        files = named(slug)
        self.portal.publish(files, slug, "1.0")
        quoted = '```python example=api://{}/tests.test_it.Of.test_leaving\nship = Ship()\nself.assertEqual(ship.leave(3),  "gone")\n```\n'
        self.portal.publish({"guides/a.md": "# Leaving\n\n" + quoted.format(slug)}, book, "1.0")
        self.assertEqual(self.portal.client.report(book, "1.0").new, [])
        files["tests/test_it.py"] = files["tests/test_it.py"].replace("leave(3)", "leave(4)")
        self.portal.publish(files, slug, "1.1")
        (broken,) = self.portal.client.report(slug, "1.1").elsewhere
        (finding,) = broken.findings
        self.assertEqual(
            (broken.project, finding.rule, finding.file, finding.line), (book, "stale/example", "guides/a.md", 3)
        )
        self.assertIn("which says something else now", finding.message)
        files["tests/test_it.py"] = files["tests/test_it.py"].replace("leave(4)", "leave(3)")
        self.portal.publish(files, slug, "1.2")
        self.assertEqual(
            [f.rule for e in self.portal.client.report(slug, "1.2").elsewhere for f in e.fixed], ["stale/example"]
        )

    def test_in_a_terminal(self):
        def say(*words):
            out = io.StringIO()
            code = main([*words, "--url", self.portal.url], out, io.StringIO())
            return code, out.getvalue()

        code, told = say("tested", f"{self.slug}@1.0", "--fail")
        self.assertEqual(code, 1)
        self.assertIn("Of 3 things that can be called 2 are shown by 2 examples: 1 failed, 1 passed.", told)
        self.assertIn("failed  Leaving: no wind", told)
        self.assertIn(
            'ship.leave(3) is "gone"', say("show", "tests.test_it.Of.test_leaving", "--project", self.slug)[1]
        )
        self.assertIn("Building, passed in 0.1 s", say("show", f"{self.slug}.Ship")[1])


if __name__ == "__main__":
    unittest.main()
