"""The commands, as people and scripts call them."""

import json
import subprocess
import sys
import tempfile
import unittest
import uuid
from pathlib import Path

from tests.support.running import running
from tests.support.sources import write_files
from zarbek.cli.main import VERBS, load_command


class Local(unittest.TestCase):
    def setUp(self):
        self.portal = running()

    def test_every_verb_explains_itself_with_an_example(self):
        for verb in VERBS:
            with self.subTest(verb):
                self.assertRegex(load_command(verb).EXAMPLE, rf"^zarbek {verb}\b")

    def test_gather_and_inspect(self):
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(Path(name, "s"), {"thing/__init__.py": "A = 1", "docs/a.md": "# A"})
            out = str(Path(name, "x.bundle"))
            code, text, _ = self.portal.command("gather", str(folder), "--out", out, "--version", "1.2")
            self.assertEqual((code, "2 symbols, 1 guide, 0 findings" in text), (0, True))
            code, text, _ = self.portal.command("inspect", out, "--json")
            self.assertEqual((code, json.loads(text)["version"]), (0, "1.2"))

    def test_options_are_searched(self):
        code, text, _ = self.portal.command("options", "table", "contents", "--json")
        self.assertEqual((code, [o["key"] for o in json.loads(text)]), (0, ["guides.contents"]))

    def test_who_reads_the_first_line_only_has_what_was_asked_for(self):
        run = f"{sys.executable} -c 'from zarbek.cli.main import run_process; run_process()' options"
        told = subprocess.run(["bash", "-c", f"set -o pipefail; {run} | head -1"], capture_output=True, text=True)
        self.assertEqual((told.returncode, told.stderr, len(told.stdout.splitlines())), (0, "", 1))

    def test_mistakes_have_their_codes(self):
        self.assertEqual(self.portal.command("publish", "/nowhere")[0], 3)
        self.assertEqual(self.portal.command("gather")[0], 2)
        self.assertEqual(self.portal.command("projects", "--url", "http://127.0.0.1:9")[0], 3)


class Remote(unittest.TestCase):
    def test_publish_report_find_show_and_links_agree(self):
        portal = running()
        slug = f"cli{uuid.uuid4().hex[:6]}"
        text = (
            f'"""Look at :func:`{slug}.helper` and :func:`{slug}.helpers`."""\n'
            'def helper(far: int = 1) -> str:\n    """Help a lot.\n\n    :param far: How far.\n    :returns: Help.\n'
            f'    :raises ValueError: If not.\n\n    .. note:: Ask first.\n\n    .. seealso:: :mod:`{slug}`\n    """\n'
        )
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(Path(name), {f"{slug}/__init__.py": text})
            code, out, err = portal.command(
                "publish", str(folder), "--project", slug, "--version", "1.0", "--fail-on", "error"
            )
        self.assertEqual((code, err), (1, ""))
        self.assertIn("2 of 3 references hold. 1 dangles.", out)
        self.assertIn(f"{slug}/__init__.py:1", out)
        code, out, _ = portal.command("report", slug, "--format", "json")
        self.assertEqual((code, [f["text"] for f in json.loads(out)["new"]]), (0, [f"{slug}.helpers"]))
        code, out, _ = portal.command("find", "helper", "--project", slug, "--json")
        self.assertEqual(json.loads(out)[0]["path"], f"{slug}.helper")
        code, out, _ = portal.command("find", "no-such-name-anywhere", "--project", slug)
        self.assertEqual((code, out), (3, "Nothing is called 'no-such-name-anywhere' or speaks of it.\n"))
        self.assertEqual(portal.command("find", "no-such-name-anywhere", "--project", slug, "--json")[:2], (3, "[]\n"))
        code, out, _ = portal.command("show", f"{slug}.helper")
        self.assertIn("helper(far: int = 1) -> str", out)
        for told in ("Help a lot.", "far  int", "How far.", "ValueError", "Ask first.", "See also"):
            self.assertIn(told, out)
        code, out, err = portal.command("show", f"{slug}.Helper")
        self.assertEqual((code, f"There is {slug}.helper." in err), (3, True), err)
        code, out, _ = portal.command("links", slug, "--json")
        self.assertEqual(
            [json.loads(line)["outcome"] for line in out.splitlines()], ["linked", "dangling", "outside", "linked"]
        )
        code, out, _ = portal.command("links", slug, "--outcome", "dangling")
        self.assertIn(f"nothing, likely {slug}.helper", out)
        self.assertIn("2 linked, 1 dangling", " ".join(out.split()))
        code, out, _ = portal.command("findings", slug)
        self.assertIn("1 finding stands.", out)
        self.assertNotIn("mended since", portal.command("report", slug)[1])
        code, out, err = portal.command("runs", slug, "--json")
        self.assertEqual([r["state"] for r in json.loads(out)], ["done"])
        self.assertEqual(portal.command("runs", "--cancel", str(json.loads(out)[0]["id"]))[0], 3)
        self.assertEqual(portal.command("show", "nothing.like.it")[0], 3)
        for verb in ("projects", "releases", "tokens"):
            code, out, err = portal.command(verb, *([slug] if verb == "releases" else []))
            self.assertEqual((code, err), (0, ""))


if __name__ == "__main__":
    unittest.main()
