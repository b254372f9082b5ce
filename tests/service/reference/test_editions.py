"""Editions: what an audience does not have is nowhere."""

import json
import unittest
import uuid

from tests.support.running import running
from tests.support.waiting import until
from zarbek.client import Portal
from zarbek.client.errors import PortalProblem

FILES = {
    "src/SLUG/__init__.py": '"""Sea."""\ndef sail():\n    """Sail, never :func:`repair`."""\n'
    'class Engine:\n    """Engine room."""\n    def start(self):\n        """Start."""\n'
    'def repair():\n    """Repair the hawserling.\n\n    :flag: crew\n    """\n',
    "src/SLUG/ops.py": '"""Ops."""\ndef pump():\n    """Pump."""\n',
    "guides/index.md": "# Start\n\nSee [the engine](api://SLUG/SLUG.Engine) and [repairs](repairs.md).\n",
    "guides/repairs.md": "---\nflags: [crew]\n---\n# Repairs\n\nOf the bilgewater.\n",
    "supplements/sail.md": "---\nfor: api://SLUG/SLUG.Engine\nflags: [yard]\n---\n",
    "supplements/quiet.md": "---\nfor: api://SLUG/SLUG.sail\nkeywords: [leviathan]\n---\nBeware the kraken.\n",
    "supplements/loud.md": "---\nfor: api://SLUG/SLUG.sail\n---\nMind the albatross.\n",
    "supplements/far.md": "---\nfor: api://nobody-SLUG/thing\n---\nOf barnacles.\n",
    "zarbek.toml": '[guides]\ncontents = ["index", "repairs"]\nnumbered = true\n'
    '[flags]\ncrew = ["SLUG.ops", "*quiet", "*far"]\n'
    '[editions.passengers]\ntitle = "For passengers"\nwithout = ["crew", "yard"]\n'
    '[editions.yard]\nreaders = "inside"\nwithout = ["crew"]\n',
}


class OfARelease(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"d{uuid.uuid4().hex[:6]}"
        cls.files = {k.replace("SLUG", cls.slug): v.replace("SLUG", cls.slug) for k, v in FILES.items()}
        cls.portal.publish(cls.files, cls.slug, "1.0")
        more = {**cls.files, f"src/{cls.slug}/ops.py": '"""Ops."""\ndef pump(fast):\n    """Pump."""\n'}
        more[f"src/{cls.slug}/__init__.py"] += 'def dock():\n    """Dock."""\n'
        cls.portal.publish(more, cls.slug, "2.0")
        cls.reader = Portal(cls.portal.client.url)  # Nobody in particular.

    def names(self, portal):
        return {s.path.removeprefix(f"{self.slug}.") for s in portal.symbols(self.slug, "1.0")} - {self.slug}

    def test_has_pages_of_its_own_elements_only(self):
        self.assertEqual(
            self.names(self.portal.client), {"sail", "Engine", "Engine.start", "repair", "ops", "ops.pump"}
        )
        self.assertEqual(self.names(self.reader), {"sail"})
        for path in ("repair", "ops.pump", "Engine.start"):
            with self.subTest(path), self.assertRaises(PortalProblem) as caught:
                self.reader.symbol(self.slug, f"{self.slug}.{path}", "1.0")
            self.assertEqual(caught.exception.status, 404)
        page = self.reader.symbol(self.slug, self.slug, "1.0")
        self.assertEqual([m.name for m in page.members], ["sail"])

    def test_links_to_the_rest_are_none(self):
        page = self.reader.symbol(self.slug, f"{self.slug}.sail", "1.0")
        self.assertNotIn("href", page.summary)
        self.assertIn(f"{self.slug}.repair", self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0").summary)
        told = [json.loads(line) for line in self.reader.links(self.slug, "1.0")]
        targets = [row["target"]["symbol"] for row in told if row["target"]]
        self.assertEqual(targets, [f"{self.slug}.sail"])  # Of the supplement that the edition has.

    def test_guides_and_their_numbers_are_its_own(self):
        contents = self.reader.contents(self.slug, "1.0")
        self.assertEqual([(g.path, g.number) for g in contents.guides], [("index", "1")])
        with self.assertRaises(PortalProblem):
            self.reader.guide(self.slug, "repairs", "1.0")
        self.assertEqual(len(self.portal.client.contents(self.slug, "1.0").guides), 2)

    def test_search_finds_nothing_else(self):
        for words in ("hawserling", "pump", "bilgewater", "kraken", "leviathan", "barnacles"):
            with self.subTest(words):
                self.assertEqual(self.reader.search(words, project=self.slug), [])
                self.assertTrue(self.portal.client.search(words, project=self.slug))
        for portal in (self.reader, self.portal.client):
            for words in ("sail", "albatross"):
                found = [h.path for h in portal.search(words, project=self.slug) if h.path.endswith(".sail")]
                self.assertEqual(len(found), 1, words)

    def test_what_previews_ask_for_has_nothing_else(self):
        told = self.reader.link_index(self.slug, "1.0").decode()
        self.assertIn(f"{self.slug}.sail", told)
        for name in ("repair(", "Engine", "pump", ".ops", "crew", "yard", "passengers", "quiet"):
            self.assertNotIn(name, told)
        self.assertIn("repair", self.portal.client.link_index(self.slug, "1.0").decode())
        paths = [f"{self.slug}.{name}" for name in ("sail", "repair", "never")]
        for portal, seen in ((self.reader, paths[:1]), (self.portal.client, paths[:2])):
            kept = json.loads(portal.elements(self.slug, "1.0", paths))["symbols"]
            self.assertEqual([(symbol["path"], "variants" in symbol) for symbol in kept], [(p, False) for p in seen])

    def test_what_is_written_of_the_rest_is_for_who_reads_that(self):
        for name, element, words in (("a", "repair", "grommets"), ("b", "sail", "spinnakers")):
            text = f"---\nfor: api://{self.slug}/{self.slug}.{element}\n---\nMind the {words}.\n"
            written = self.portal.client.write_supplement(self.slug, f"{name}.md", text, reason="Asked for.")
            self.assertEqual(self.portal.wait(self.portal.client.run(written.run)).state, "done")
        self.assertIn("spinnakers", str(self.reader.symbol(self.slug, f"{self.slug}.sail", "2.0").sections))
        until(lambda: self.portal.client.search("spinnakers"))
        self.assertTrue(self.portal.client.search("grommets"))
        self.assertEqual(self.reader.search("grommets"), [])
        self.assertTrue(self.reader.search("spinnakers"))
        with self.assertRaises(PortalProblem):
            self.reader.guide(f"{self.slug}-words", "supplements/a")
        self.assertEqual(list(self.reader.supplements(self.slug)), [])
        for ask in (self.reader.supplement_patch, lambda slug: self.reader.supplement_revisions(slug, "a.md")):
            with self.assertRaisesRegex(PortalProblem, "who reads all of it"):
                ask(self.slug)

    def test_what_is_written_follows_elements_to_other_readers(self):
        slug = f"f{uuid.uuid4().hex[:6]}"
        files = {k.replace("SLUG", slug): v.replace("SLUG", slug) for k, v in FILES.items()}
        files["zarbek.toml"] = 'visibility = "private"\n' + files["zarbek.toml"].replace(
            'title = "For passengers"', 'title = "For passengers"\nvisibility = "public"'
        )
        source = files[f"src/{slug}/__init__.py"]
        files[f"src/{slug}/__init__.py"] = source + 'def _caulk():\n    """Caulk."""\n'
        files["supplements/inner.md"] = f"---\nfor: api://{slug}/{slug}._caulk\n---\nOf oakum.\n"
        files[f"src/{slug}/deck.py"] = '"""Deck."""\ndef swab():\n    """Swab."""\n'
        files[f"src/{slug}/hold.py"] = '"""Hold."""\ndef _stow():\n    """Stow."""\n'
        self.portal.publish(files, slug, "1.0")
        listed = self.reader._get(f"/projects/{slug}/releases/1.0/files", dict)["items"]
        self.assertEqual([row["file"] for row in listed], [f"src/{slug}/deck.py"])
        listed = self.portal.api("GET", f"/projects/{slug}/releases/1.0/files?edition=yard").json()["items"]
        self.assertEqual([row["file"] for row in listed], [f"src/{slug}/deck.py", f"src/{slug}/hold.py"])
        self.assertTrue(self.portal.client.guide(slug, "supplements/inner", "1.0"))
        with self.assertRaises(PortalProblem):
            self.reader.guide(slug, "supplements/inner", "1.0")
        for name, element in (("a", "sail"), ("b", "repair"), ("c", "ops.*"), ("d", "_caulk"), ("e", "never")):
            text = f"---\nfor: api://{slug}/{slug}.{element}\n---\nMind the {element}.\n"
            run = self.portal.client.write_supplement(slug, f"{name}.md", text, reason="Asked for.").run
            self.assertEqual(self.portal.wait(self.portal.client.run(run)).state, "done")
        self.assertEqual(self.written_for_readers(slug), {"a", "e"})
        # One gets a flag, and one with a flag goes.
        files[f"src/{slug}/__init__.py"] = '"""Sea."""\ndef sail():\n    """Sail.\n\n    :flag: crew\n    """\n'
        self.portal.publish(files, slug, "2.0")
        until(lambda: self.written_for_readers(slug) == {"e"})
        count = len(list(self.portal.client.runs(project=f"{slug}-words")))
        self.portal.publish(files, slug, "2.1")
        self.assertEqual(len(list(self.portal.client.runs(project=f"{slug}-words"))), count)

    def written_for_readers(self, slug):
        found = set()
        for name in "abcde":
            try:
                self.reader.guide(f"{slug}-words", f"supplements/{name}")
            except PortalProblem:
                continue
            found.add(name)
        return found

    def test_comparison_says_nothing_of_the_rest(self):
        whole = self.portal.client.compare(self.slug, "1.0", "2.0")
        self.assertEqual({c.path.rpartition(".")[2] for c in whole.changes}, {"pump", "dock"})
        mine = self.reader.compare(self.slug, "1.0", "2.0")
        self.assertEqual(({c.path.rpartition(".")[2] for c in mine.changes}, mine.suggested), ({"dock"}, "1.1.0"))

    def test_files_that_hold_the_rest_are_not_shown(self):
        listed = self.portal.api("GET", f"/projects/{self.slug}/releases/1.0/files").json()
        self.assertEqual(len(listed["items"]), 2)
        self.assertEqual(self.reader._get(f"/projects/{self.slug}/releases/1.0/files", dict)["items"], [])

    def test_one_asks_for_an_edition_by_name(self):
        answer = self.portal.api("GET", f"/projects/{self.slug}/releases/1.0/contents?edition=passengers").json()
        self.assertEqual([g["path"] for g in answer["guides"]], ["index"])
        self.assertEqual([(e["name"], e["is_current"]) for e in answer["editions"]],
                         [("", False), ("passengers", True), ("yard", False)])  # fmt: skip
        refused = self.reader._get(f"/projects/{self.slug}/releases/1.0/contents", dict, edition="yard")
        self.assertEqual([m["name"] for m in refused["modules"]], [self.slug])

    def test_links_that_an_edition_lacks_are_findings(self):
        found = {(f.rule, f.text): f.message for f in self.portal.client.report(self.slug, "1.0").new}
        self.assertEqual(
            found["dangling/hidden", "repair"],
            f"{self.slug}.repair is not in the edition passengers, yard, which has this text.",
        )
        self.assertEqual(
            found["dangling/hidden", "the engine"],
            f"{self.slug}.Engine is not in the edition passengers, which has this text.",
        )
        self.assertEqual(
            found["dangling/hidden", "repairs"], "repairs is not in the edition passengers, yard, which has this text."
        )

    def test_reports_say_nothing_of_the_rest(self):
        def subjects(portal):
            return {f.subject for f in portal.report(self.slug, "1.0").new}

        self.assertIn(f"{self.slug}.sail", subjects(self.portal.client))
        self.assertEqual(subjects(self.reader), set())

    def test_what_is_new_is_marked_until_the_next(self):
        page = self.portal.client.symbol(self.slug, self.slug, "2.0")
        self.assertEqual([m.name for m in page.members if m.is_new], ["dock"])
        self.assertTrue(self.portal.client.symbol(self.slug, f"{self.slug}.dock", "2.0").is_new)
        self.assertFalse(self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0").is_new)


if __name__ == "__main__":
    unittest.main()
