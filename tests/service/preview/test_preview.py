"""A working tree as the portal would show it: from a folder alone, and anew at each save."""

import socket
import subprocess
import time
import unittest
import urllib.error
import urllib.request
from pathlib import Path

from tests.support.previewing import ROOT, ZARBEK, Previewed

FILES = {
    "zarbek.toml": 'slug = "boat"\n[guides]\ncontents = ["index"]\n[flags]\ninner = ["boat.rest"]\n[editions.outside]\nwithout = ["inner"]\n',
    "src/boat/__init__.py": '"""Boat."""\ndef sail():\n    """Sail, as :func:`rest` does not."""\ndef rest():\n    """Rest."""\n',
    "guides/index.md": "# Start\n\nSee [it](api://boat/boat.sail).\n",
}


def folder_state(folder):
    return {str(p.relative_to(folder)): p.read_bytes() for p in Path(folder).rglob("*") if p.is_file()}


class OfATree(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.preview = Previewed(FILES, "boat")
        cls.folder = cls.preview.folder
        cls.state = folder_state(cls.folder)
        cls.ask, cls.save, cls.address = cls.preview.ask, cls.preview.save, cls.preview.address

    @classmethod
    def tearDownClass(cls):
        cls.preview.stop()

    def symbol(self, name):
        return self.preview.symbol(f"boat.{name}")

    def test_what_rests_on_a_changed_name_follows(self):
        crew, source = self.folder / "src/boat/crew.py", FILES["src/boat/__init__.py"]
        before = self.save("src/boat/crew.py", '"""Crew."""\ndef haul():\n    """See :func:`boat.sail`."""\n')[
            "revision"
        ]
        self.assertIn('href="/ref/boat/preview/boat.sail"', self.symbol("crew.haul")["summary"])
        (self.folder / "src/boat/__init__.py").write_text(source.replace("def sail", "def glide"))
        for _ in range(3):  # What was saved comes first.
            before = self.ask(f"/preview?after={before}")["revision"]
            if "dangling" in self.symbol("crew.haul")["summary"]:
                break
        self.assertIn("dangling", self.symbol("crew.haul")["summary"])
        self.assertIn("Sail", self.symbol("glide")["summary"])
        (self.folder / "src/boat/__init__.py").write_text(source.replace("def sail", "def drift"))
        before = self.ask(f"/preview?after={before}")["revision"]
        broken = self.save("zarbek.toml", "slug = ")
        time.sleep(1.5)
        self.assertEqual(self.ask("/preview"), broken, "what cannot be shown is tried again and again")
        self.save("zarbek.toml", FILES["zarbek.toml"])
        crew.unlink()
        self.save("src/boat/__init__.py", source)
        deadline = time.monotonic() + 20
        while self.ask("/preview")["errors"] and time.monotonic() < deadline:
            time.sleep(0.2)
        self.assertEqual(self.ask("/preview")["errors"], 0)

    def test_pages_come_anew_with_each_save_and_say_what_is_wrong(self):
        self.assertIn('href="/ref/boat/preview/boat.rest"', self.symbol("sail")["summary"])
        source = FILES["src/boat/__init__.py"]
        shown = self.save("src/boat/__init__.py", source.replace(":func:`rest`", ":func:`boat.gone`"))
        self.assertEqual((shown["errors"], shown["problem"]), (1, ""))
        page = self.symbol("sail")
        self.assertEqual([f["rule"] for f in page["findings"]], ["dangling/symbol"])
        self.assertIn('class="mention dangling"', page["summary"])
        report = self.ask(f"/runs/{shown['run']}/report")
        self.assertEqual([f["text"] for f in report["new"]], ["boat.gone"])
        shown = self.save("src/boat/__init__.py", source)
        self.assertEqual(shown["errors"], 0)
        self.assertEqual([f["rule"] for f in self.symbol("sail")["findings"]], ["dangling/hidden"])  # In one edition.

    def test_what_cannot_be_shown_is_told_and_the_last_stays(self):
        shown = self.save("zarbek.toml", "slog = 3\n")
        self.assertIn("is not a known key", shown["problem"])
        self.assertEqual(self.symbol("rest")["name"], "rest")
        self.assertEqual(self.save("zarbek.toml", FILES["zarbek.toml"])["problem"], "")

    def test_whoever_writes_reads_all_editions_and_nobody_changes_anything(self):
        editions = self.symbol("rest")["navigation"]["editions"]
        self.assertEqual([(e["name"], e["is_current"]) for e in editions], [("", True), ("outside", False)])
        request = urllib.request.Request(f"{self.address}/api/v1/projects/boat", method="DELETE")
        with self.assertRaises(urllib.error.HTTPError) as caught:
            urllib.request.urlopen(request)
        self.assertEqual(caught.exception.code, 401)
        caught.exception.close()

    def test_nothing_is_written_to_the_tree(self):
        self.symbol("sail")
        self.assertEqual(folder_state(self.folder).keys(), self.state.keys())

    def test_a_port_that_is_taken(self):
        with socket.socket() as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            port = str(other.getsockname()[1])
            done = subprocess.run(
                [ZARBEK, "preview", str(self.folder), "--port", port],
                cwd=ROOT, capture_output=True, text=True, check=False, timeout=60,
            )  # fmt: skip
        self.assertEqual(done.returncode, 3)
        self.assertIn(f"Port {port} cannot be taken", done.stderr)


if __name__ == "__main__":
    unittest.main()
