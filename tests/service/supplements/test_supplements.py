"""Texts that stand outside of the source: on the pages of their elements, in search, judged, written in the portal."""

import subprocess
import tempfile
import unittest
import uuid
from pathlib import Path

from tests.support.running import running
from zarbek.client import Portal
from zarbek.client.errors import PortalProblem

SOURCE = '"""Sea."""\ndef sail(at):\n    """Sail.\n\n    With the tide.\n    """\ndef rest():\n    """Rest."""\n'


def text(*targets, head="", body="Mind the [rest](api://SLUG/SLUG.rest).\n"):
    named = "".join(f"  - {t}\n" for t in targets)
    return f"---\nfor:\n{named}{head}---\n{body}"


class Shown(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"s{uuid.uuid4().hex[:6]}"
        files = {
            "src/SLUG/__init__.py": SOURCE,
            "supplements/sail.md": text("api://SLUG/SLUG.sail", head="keywords: [regatta]\nhow: {summary: replace}\n",
                                        body="# Summary\n\nTake her out.\n\n# Remarks\n\nMind the [rest](api://SLUG/SLUG.rest).\n\n# Parameters\n\n- `at`: when\n"),
            "supplements/all.md": text("'api://SLUG/SLUG.*'", head="how: fill\n", body="# Text\n\nNobody said it.\n"),
            "supplements/de.md": text("api://SLUG/SLUG.sail", head="language: de\n", body="# Summary\n\nFahr.\n"),
        }  # fmt: skip
        cls.files = {k.replace("SLUG", cls.slug): v.replace("SLUG", cls.slug) for k, v in files.items()}
        cls.portal.publish(cls.files, cls.slug, "1.0")

    def test_a_page_says_what_they_say_and_whose_words_are_whose(self):
        page = self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0")
        self.assertIn("Take her out.", page.summary)
        self.assertIn(f'<a href="/ref/{self.slug}/1.0/{self.slug}.rest"', page.sections[0].html)
        self.assertEqual([p.name[0].text for p in page.parameters], ["at"])
        files = [s.file for s in page.supplements]
        self.assertEqual(files, [f"supplements/{n}.md" for n in ("all", "de", "sail")])
        self.assertEqual(
            [(w.kind, w.by, w.hidden_by, w.line) for w in page.words],
            [("summary", -1, 2, 0), ("summary", 2, None, 9), ("text", -1, None, 0), ("text", 0, -1, 8),
             ("parameter", 2, None, 17), ("remarks", 2, None, 13)],
        )  # fmt: skip
        other = self.portal.client.symbol(self.slug, f"{self.slug}.rest", "1.0")
        self.assertIn("Nobody said it.", other.body)

    def test_lists_of_members_and_members_in_full_say_it_too(self):
        slug = f"u{uuid.uuid4().hex[:6]}"
        source = '"""Sea."""\nclass Boat:\n    """Boat."""\n    def go(self, far):\n        """Go."""\n    def stop(self):\n        """Stop."""\n'
        body = "# Summary\n\nSail far.\n\n# Parameters\n\n- `far`: in miles\n"
        self.portal.publish({
            f"src/{slug}/__init__.py": source,
            "supplements/go.md": text(f"api://{slug}/{slug}.Boat.go", head="how: {summary: replace}\n", body=body),
            "supplements/weit.md": text(f"api://{slug}/{slug}.Boat.go", head="language: de\n", body="# Summary\n\nFahr weit.\n"),
            "supplements/boat.md": text(f"api://{slug}/{slug}.Boat", head="language: de\n", body="# Summary\n\nBoot.\n"),
        }, slug, "1.0")  # fmt: skip
        other = f"v{uuid.uuid4().hex[:6]}"
        self.portal.publish({
            "supplements/stop.md": text(f"api://{slug}/{slug}.Boat.stop", head="how: add\n", body="# Summary\n\nAt once.\n"),
        }, other, "1.0")  # fmt: skip
        page = self.portal.client.symbol(slug, f"{slug}.Boat", "1.0")
        self.assertEqual([m.summary.strip() for m in page.members], ["Sail far.", "Stop. At once."])
        self.assertEqual([d.summary.strip() for d in page.details], ["Sail far.", "Stop. At once."])
        self.assertIn("in miles", page.details[0].parameters[0].html)
        german = list(self.portal.client.members(slug, f"{slug}.Boat", "1.0", language="de"))
        self.assertEqual(german[0].summary.strip(), "Fahr weit.")
        modules = [self.portal.client.symbol(slug, slug, "1.0", language=lang).members for lang in ("", "de")]
        self.assertEqual([m.summary.strip() for listed in modules for m in listed], ["Boat.", "Boot."])

    def test_translations_are_for_who_asks_for_them(self):
        page = self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0", language="de-AT")
        self.assertEqual((page.summary.strip(), page.languages), ("Fahr.", ["de"]))
        with self.assertRaisesRegex(PortalProblem, "is no language"):
            self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0", language="?")

    def test_search_finds_by_keywords_and_not_the_file(self):
        hits = self.portal.client.search("regatta", project=self.slug)
        self.assertEqual([(h.kind, h.path) for h in hits], [("function", f"{self.slug}.sail")])
        contents = self.portal.client.contents(self.slug, "1.0")
        self.assertEqual(contents.guides, [])

    def test_their_element_went_or_says_something_else(self):
        slug = f"t{uuid.uuid4().hex[:6]}"
        files = {f"src/{slug}/__init__.py": SOURCE, "supplements/a.md": text(f"api://{slug}/{slug}.sail", head="how: replace\n", body="# Text\n\nx\n"),
                 "supplements/b.md": text(f"api://{slug}/{slug}.rest", body="x\n")}  # fmt: skip
        self.portal.publish(files, slug, "1.0")
        self.assertEqual(self.portal.client.report(slug, "1.0").new, [])
        files[f"src/{slug}/__init__.py"] = SOURCE.replace(
            "With the tide.", "Against the wind, never with the tide of spring."
        ).replace("rest", "wait")
        self.portal.publish(files, slug, "2.0")
        found = {f.rule: f for f in self.portal.client.report(slug, "2.0").new}
        self.assertEqual(sorted(found), ["dangling/supplement", "stale/supplement"])
        stale = found["stale/supplement"]
        self.assertEqual(
            (stale.file, stale.was, stale.now[:16]), ("supplements/a.md", "With the tide.", "Against the wind")
        )

    def test_those_of_another_project_stand_on_the_page(self):
        other = f"o{uuid.uuid4().hex[:6]}"
        body = f"# Remarks\n\nSaid [elsewhere](api://{self.slug}/{self.slug}.rest).\n"
        self.portal.publish({"supplements/x.md": text(f"api://{self.slug}/{self.slug}.sail", head="keywords: [flotilla]\n", body=body),
                             "guides/a.md": "# A\n"}, other, "1.0")  # fmt: skip
        page = self.portal.client.symbol(self.slug, f"{self.slug}.sail", "1.0")
        self.assertEqual([(s.project, s.file) for s in page.supplements][-1], (other, "supplements/x.md"))
        self.assertIn("elsewhere", page.sections[0].html)
        (hit,) = self.portal.client.search("flotilla", project=other)
        self.assertEqual((hit.path, hit.name), ("supplements/x", f"Supplement for api://{self.slug}/{self.slug}.sail"))
        supplement = self.portal.client.guide(other, "supplements/x", "1.0")
        self.assertEqual([e.path for e in supplement.elements], [f"{self.slug}.sail"])


class WrittenHere(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"w{uuid.uuid4().hex[:6]}"
        cls.path = f"{cls.slug}.sail"
        cls.portal.publish({f"src/{cls.slug}/__init__.py": SOURCE}, cls.slug, "1.0")

    def write(self, name, body, **more):
        raw = text(f"api://{self.slug}/{self.path}", body=body)
        written = self.portal.client.write_supplement(self.slug, name, raw, reason="Asked for.", **more)
        self.assertEqual(self.portal.wait(self.portal.client.run(written.run)).state, "done")
        return written.revision

    def test_is_kept_published_exported_and_removed(self):
        first = self.write("sail.md", "One.\n")
        page = self.portal.client.symbol(self.slug, self.path)
        self.assertIn("One.", page.sections[0].html)
        self.assertEqual(page.supplements[0].project, f"{self.slug}-words")
        second = self.write("sail.md", "Two.\n", after=first.id)
        with self.assertRaisesRegex(PortalProblem, "Somebody else has changed sail.md"):
            self.portal.client.write_supplement(self.slug, "sail.md", first.text, reason="Mine.", after=first.id)
        revisions = self.portal.client.supplement_revisions(self.slug, "sail.md")
        self.assertEqual([(r.id, r.author, r.reason) for r in revisions],
                         [(second.id, "admin", "Asked for."), (first.id, "admin", "Asked for.")])  # fmt: skip
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(["git", "init", "-q", folder], check=True)
            patch = self.portal.client.supplement_patch(self.slug)
            subprocess.run(["git", "apply", "-"], input=patch, text=True, cwd=folder, check=True)
            self.assertEqual(Path(folder, "supplements/written/sail.md").read_text(), second.text)
        removed = self.portal.client.remove_supplement(self.slug, "sail.md", reason="Said in the source now.")
        self.portal.wait(self.portal.client.run(removed.run))
        self.assertEqual(list(self.portal.client.supplements(self.slug)), [])
        self.assertEqual(self.portal.client.symbol(self.slug, self.path).supplements, [])

    def test_what_is_no_supplement_of_the_project_is_refused_and_leaves_nothing(self):
        for name, raw, told in (
            ("x.md", "words", "does not say what it is for"), ("x.md", text("api://other/x"), "is no element of"),
            ("../x.md", text(f"api://{self.slug}/{self.path}"), ""), ("X.md", text(f"api://{self.slug}/{self.path}"), "called by small letters"),
            ("x.md", text("sail"), "is no element of"),
        ):  # fmt: skip
            with self.subTest(name + raw), self.assertRaisesRegex(PortalProblem, told):
                self.portal.client.write_supplement(self.slug, name, raw, reason="Because.")
        with self.assertRaisesRegex(PortalProblem, "Say why"):
            self.portal.client.write_supplement(self.slug, "x.md", text(f"api://{self.slug}/{self.path}"), reason=" ")
        with self.assertRaises(PortalProblem):
            self.portal.client.supplement_revisions(self.slug, "x.md")

    def test_a_draft_is_seen_before_it_is_kept(self):
        draft = {"text": text(f"api://{self.slug}/{self.path}", body=f"# Text\n\nSee [it](api://{self.slug}/{self.slug}.rest), [not](api://{self.slug}/gone).\n"),
                 "path": self.path}  # fmt: skip
        answer = self.portal.api("POST", f"/projects/{self.slug}/written", json=draft)
        self.assertEqual(answer.status_code, 200, answer.text)
        page = answer.json()
        self.assertIn(f"/ref/{self.slug}/1.0/{self.slug}.rest", page["body"])
        self.assertEqual([(w["kind"], w["by"]) for w in page["words"]], [("summary", -1), ("text", -1), ("text", 0)])
        self.assertEqual(self.portal.client.symbol(self.slug, self.path).words, [])
        with self.assertRaises(PortalProblem) as caught:
            Portal(self.portal.client.url).write_supplement(self.slug, "x.md", draft["text"], reason="Because.")
        self.assertEqual(caught.exception.status, 401)

    def test_the_command(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "told.md")
            file.write_text(text(f"api://{self.slug}/{self.path}", body="Told.\n"))
            status, said, wrong = self.portal.command(
                "supplements", self.slug, "--write", str(file), "--reason", "Told."
            )
            self.assertEqual((status, wrong), (0, ""))
            self.assertRegex(said, r"told\.md is written; run \d+ brings it to readers")
            self.portal.command("supplements", self.slug, "--out", f"{folder}/all")
            self.assertEqual(Path(folder, "all/told.md").read_text(), file.read_text())
            _, patch, _ = self.portal.command("supplements", self.slug, "--patch")
            self.assertIn("+++ b/supplements/written/told.md", patch)


if __name__ == "__main__":
    unittest.main()
