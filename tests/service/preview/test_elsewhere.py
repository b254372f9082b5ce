"""What a working tree refers to in a portal: its names are known, and links lead there."""

import time
import unittest
import uuid

from tests.support.previewing import Previewed
from tests.support.running import running


class InAPortal(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        portal = running()
        cls.portal = portal.url
        cls.dock = dock = f"k{uuid.uuid4().hex[:6]}"
        source = '"""Dock."""\ndef moor():\n    """Moor."""\nclass Crane:\n    """Lifts."""\n    def lift(self):\n        """Lift."""\n'
        first = source + 'def row():\n    """Row."""\ndef _oil():\n    """Oil."""\n'
        project = {
            "pyproject.toml": f'[project]\nname = "{dock}"\nversion = "0"\n',
            "guides/tide.md": "# Tides\n\nEbb.\n",
            "zarbek.toml": f'[trees.site]\naddress = "https://docs.halmere.example/{dock}/"\n',
            "site/index.html": "<html><body><main><h1>Site</h1><p>Of docks.</p></main></body></html>",
        }
        portal.publish({**project, f"src/{dock}/__init__.py": first}, dock, "1.0")
        portal.publish({**project, f"src/{dock}/__init__.py": source + 'def _oil():\n    """Oil."""\n'}, dock, "2.0")
        text = f"See :func:`{dock}.moor`, :func:`{dock}.row`, :func:`{dock}._oil` and :func:`nothere.at_all`."
        cls.preview = Previewed({
            "pyproject.toml": f'[project]\nname = "barge"\nversion = "0"\ndependencies = ["{dock}>=2"]\n',
            "src/barge/__init__.py": f'"""Barge."""\nfrom {dock} import Crane\ndef sail(crane: Crane):\n    """{text}"""\n'
            f'class Hook(Crane):\n    """A hook."""\n',
            "guides/a.md": f"# A\n\nSee [the tides](api://{dock}/tide) and [how](api://{dock}/{dock}.Crane.lift), or "
            f"[the site](https://docs.halmere.example/{dock}/index.html).\n",
        }, "barge", ZARBEK_URL=portal.url)  # fmt: skip
        deadline = time.monotonic() + 40
        while f"{portal.url}/ref/" not in cls.preview.symbol("barge.sail")["summary"] and time.monotonic() < deadline:
            time.sleep(0.2)

    @classmethod
    def tearDownClass(cls):
        cls.preview.stop()

    def test_links_lead_into_it(self):
        there = f"{self.portal}/ref/{self.dock}/2.0/{self.dock}"
        page = self.preview.symbol("barge.sail")
        self.assertIn(f'href="{there}.moor"', page["summary"])
        self.assertIn(f"{there}.Crane", str(page["signatures"]))
        self.assertIn(f"{there}.Crane", str(self.preview.symbol("barge.Hook")["bases"]))
        guide = self.preview.ask("/projects/barge/releases/preview/guides/a")["html"]
        self.assertIn(f'href="{there}.Crane.lift"', guide)
        self.assertIn(f'href="{self.portal}/guide/{self.dock}/2.0/tide"', guide)
        self.assertIn(f'href="{self.portal}/guide/{self.dock}/2.0/site/index.html"', guide)

    def test_what_is_wrong_is_told_as_the_portal_tells_it(self):
        told = {f["text"]: (f["rule"], f["message"]) for f in self.preview.symbol("barge.sail")["findings"]}
        self.assertEqual(told[f"{self.dock}.row"][0], "dangling/symbol")
        self.assertIn("2.0", told[f"{self.dock}.row"][1])
        self.assertEqual(told[f"{self.dock}._oil"][0], "dangling/hidden")

    def test_only_the_tree_is_shown(self):
        self.assertEqual([p["slug"] for p in self.preview.ask("/projects")["items"]], ["barge"])
        self.assertEqual([h["path"] for h in self.preview.ask("/search?q=moor") if h["project"] != "barge"], [])

    def test_what_is_saved_later_asks_anew(self):
        other = f"q{uuid.uuid4().hex[:6]}"
        running().publish({f"src/{other}/__init__.py": '"""Quay."""\ndef tie():\n    """Tie."""\n'}, other, "1.0")
        self.preview.save("src/barge/more.py", f'"""More: :func:`{other}.tie`."""\n')
        deadline, found = time.monotonic() + 40, ""
        while "href" not in found and time.monotonic() < deadline:
            found = self.preview.symbol("barge.more")["summary"]
            time.sleep(0.2)
        self.assertIn(f"{self.portal}/ref/{other}/1.0/{other}.tie", found)


class SinceItsReleases(unittest.TestCase):
    """What changed since a text was written is told as after publishing: of the tree's own elements and of others'."""

    def setUp(self):
        self.portal, mark = running(), uuid.uuid4().hex[:6]
        self.dock, self.barge = f"e{mark}", f"f{mark}"
        self.publish(self.dock, "1.0", {f"{self.dock}.py": self.declared("moor", "rope", 40)})
        self.files = {
            "pyproject.toml": f'[project]\nname = "{self.barge}"\nversion = "0"\n',
            f"{self.barge}.py": self.text(10),
        }
        self.publish(self.barge, "1.0", self.files)
        self.publish(self.barge, "1.1", self.files)
        self.publish(self.dock, "1.1", {f"{self.dock}.py": self.declared("moor", "rope", 50)})

    def declared(self, name, parameter, value):
        return f'def {name}({parameter}={value}):\n    """Do it."""\n'

    def text(self, sails, told="10", more=""):
        told = f'def use():\n    """See :func:`sail`, where ``sails`` is {told}, and :func:`{self.dock}.moor`, where ``rope`` is 40."""\n'
        return self.declared("sail", "sails", sails) + told + more

    def publish(self, slug, version, files):
        self.assertEqual(self.portal.publish(files, slug, version).state, "done")

    def told(self, preview):
        found = preview.symbol(f"{self.barge}.use")["findings"]
        return {f["text"]: (f["was"], f["now"]) for f in found if f["rule"] == "stale/changed-since"}

    def wait(self, preview, expected):
        deadline = time.monotonic() + 60
        while (found := self.told(preview)) != expected and time.monotonic() < deadline:
            time.sleep(0.3)
        self.assertEqual(found, expected)

    def test_is_told(self):
        preview = Previewed(self.files | {f"{self.barge}.py": self.text(30)}, self.barge, ZARBEK_URL=self.portal.url)
        self.addCleanup(preview.stop)
        other = {f"{self.dock}.moor": ("moor(rope=40)", "moor(rope=50)")}
        self.wait(preview, {"sail": ("sail(sails=10)", "sail(sails=30)"), **other})
        self.assertEqual([r["version"] for r in preview.ask(f"/projects/{self.barge}")["releases"]], ["preview"])
        self.assertEqual(preview.symbol(f"{self.barge}.use")["navigation"]["newest"], "preview")
        # A text that is changed is written anew.
        preview.save(f"{self.barge}.py", self.text(30, told="30"))
        self.wait(preview, {})
        preview.save(f"{self.barge}.py", self.text(10, more='def more():\n    """More."""\n'))
        self.wait(preview, other)


class WithoutAPortal(unittest.TestCase):
    def test_one_that_does_not_answer_stops_nothing(self):
        files = {"zarbek.toml": 'slug = "punt"\n', "src/punt/__init__.py": '"""See :func:`nothere.at_all`."""\n'}
        preview = Previewed(files, "punt", ZARBEK_URL="http://127.0.0.1:1")
        try:
            self.assertEqual(preview.symbol("punt")["name"], "punt")
            shown = preview.save("src/punt/__init__.py", '"""Punt."""\n')
            self.assertEqual(shown["problem"], "")
        finally:
            preview.stop()


if __name__ == "__main__":
    unittest.main()
