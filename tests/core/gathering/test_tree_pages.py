"""The pages of trees, read together."""

import io
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from tests.support.sources import write_files
from zarbek.core.gathering.tree_pages import find_trees, read_trees
from zarbek.core.material.folder import Folder
from zarbek.core.model.mention import BESIDE
from zarbek.core.model.page import Page
from zarbek.core.sources.htmltrees.discovery import TreeHints, locate_trees
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.project_file import ProjectFile

DECK = """<html lang="en"><head><title>Deck - Pontoon</title></head><body>
<p>Pontoon reference</p><h1 id="deck">Deck</h1><p>Rests on <a href="float.html#float">floats</a>. <img src="deck.png">
See <a href="notes.txt">notes</a>, <a href="gone.html">what is gone</a> and <a href="http://halmere.example/">Halmere</a>.
<p id="deck">Again.</body></html>"""
FILES = {
    "index.html": '<title>All - Pontoon</title><p>Pontoon reference</p><ul><li><a href="float.html">Float</a>'
    '<ul><li><a href="deck.html">Deck</a></ul></ul>',
    "deck.html": DECK,
    "float.html": '<title>Float - Pontoon</title><p>Pontoon reference</p><h1 id="float">Float</h1><a href="./">all</a>',
    "alone.html": "<title>Alone - Pontoon</title><p>Pontoon reference</p>Nobody leads here.",
    "deck.png": "picture", "notes.txt": "notes", "unused.css": "p {}",
}  # fmt: skip


class Reading(unittest.TestCase):
    def read(self, files, said=None):
        with tempfile.TemporaryDirectory() as name:
            root = write_files(Path(name), files)
            spool = io.BytesIO()
            trees = locate_trees(files, {"": TreeHints()} if said is None else said, has_sources=False)
            found = read_trees(Folder(root), trees, spool, lambda done, total: None, is_guarded=False)
        pages = [msgspec.json.decode(line, type=Page) for line in spool.getvalue().splitlines()]
        return pages, found

    def test_pages_in_the_trees_own_order_with_what_they_lead_to(self):
        pages, found = self.read(FILES)
        self.assertEqual([(p.path, p.title, p.order, p.depth, p.form) for p in pages],
                         [("index.html", "All", 0, 0, "html"), ("float.html", "Float", 1, 0, "html"),
                          ("deck.html", "Deck", 2, 1, "html"), ("alone.html", "Alone", 3, 0, "html")])  # fmt: skip
        deck = pages[2]
        self.assertEqual((deck.text, deck.language, deck.anchors), (DECK, "en", ["deck"]))
        self.assertEqual([(m.name, m.origin, m.line) for m in deck.mentions],
                         [("float.html#float", "page", 2), ("notes.txt", "page", 3), ("gone.html", "page", 3),
                          ("http://halmere.example/", "url", 3), ("deck.png", "asset", 2)])  # fmt: skip
        self.assertEqual(pages[1].mentions[0].name, "index.html")  # What a server shows for the folder.
        self.assertEqual((found.files, found.facts[0].first), ({"deck.png", "notes.txt"}, "index.html"))

    def test_pages_that_no_contents_reach_stand_where_their_breadcrumbs_say(self):
        up = '<nav aria-label="Breadcrumb"><a href="index.html">All</a> {}</nav><h1>{}</h1>'
        files = {"index.html": "<title>All</title><h1>All</h1><p><a href=deck.html>Deck</a>",
                 "deck.html": up.format("", "Deck"), "rope.html": up.format("<a href=deck.html>Deck</a>", "Rope"),
                 "zinc.html": up.format("", "Zinc"), "anchor.html": up.format("<a href=zinc.html>Zinc</a>", "Anchor")}  # fmt: skip
        pages, _ = self.read(files)
        self.assertEqual([(p.path, p.depth) for p in pages], [
            ("index.html", 0), ("deck.html", 0), ("rope.html", 1), ("zinc.html", 0), ("anchor.html", 1)])  # fmt: skip

    def test_what_is_wrong_with_the_tree_itself(self):
        _, found = self.read(FILES)
        self.assertEqual([(f.rule, f.subject, f.text, f.line) for f in found.findings],
                         [("text/duplicate-anchor", "deck.html", "deck", 4),
                          ("text/unreached-page", "alone.html", "", 1)])  # fmt: skip

    def test_what_is_no_page_is_left_out_and_said(self):
        files = {**FILES, "broken.html": "\0\1\2", "large.html": "<p>" + "x" * (17 * 2**20)}
        pages, found = self.read(files)
        self.assertEqual(len(pages), 4)
        self.assertEqual({f.subject: f.message for f in found.findings if f.rule == "text/unreadable"},
                         {"broken.html": "The page was left out: it is binary.",
                          "large.html": "The page was left out: it is larger than 16 MiB."})  # fmt: skip

    def test_style_sheets_and_what_they_load(self):
        files = {
            **FILES, "float.html": FILES["float.html"] + "<link rel=stylesheet href=css/all.css>",
            "css/all.css": "@import 'more.css';\np { background: url(../sky.png), url(gone.png) }",
            "css/more.css": "@import 'all.css'; @font-face { src: url('f.woff2'), url(http://halmere.example/x.woff) }",
            "css/f.woff2": "font", "sky.png": "sky", "css/unused.css": "p {}",
        }  # fmt: skip
        _, found = self.read(files)
        self.assertEqual(
            found.files, {"deck.png", "notes.txt", "css/all.css", "css/more.css", "css/f.woff2", "sky.png"}
        )
        self.assertEqual([(f.subject, f.line, f.message) for f in found.findings if f.rule == "dangling/asset"],
                         [("css/all.css", 2, "There is no file css/gone.png.")])  # fmt: skip

    def test_a_title_where_a_hint_says_that_it_stands(self):
        pages, _ = self.read(FILES, {"": TreeHints(title="h1")})
        self.assertEqual([p.title for p in pages], ["All", "Float", "Deck", "Alone"])
        files = {**FILES, "deck.html": DECK.replace("<title>Deck - Pontoon", "<title>Pontoon")}
        self.assertEqual(self.read(files, {"": TreeHints(title="h1")})[0][2].title, "Deck")

    def test_a_folder_beside_others_with_the_address_where_it_is_published(self):
        files = {f"old/{name}": text for name, text in FILES.items()} | {"src/a.py": "x = 1"}
        files["old/float.html"] = '<a href="https://docs.halmere.example/pontoon/deck.html#deck">deck</a>'
        pages, found = self.read(files, {"old": TreeHints(address="https://docs.halmere.example/pontoon/")})
        self.assertEqual([p.path for p in pages][:2], ["old/index.html", "old/float.html"])
        self.assertEqual([m.name for m in pages[1].mentions], ["old/deck.html#deck"])
        self.assertEqual(found.facts[0].folder, "old/")

    def test_what_leads_out_of_the_tree(self):
        out = '<a href="../src/a.py">a</a><a href="../src/gone.py">b</a><a href="../../up.html#x">c</a>'
        files = {f"old/{name}": text for name, text in FILES.items()} | {"src/a.py": "x = 1"}
        files["old/float.html"] = out
        pages, _ = self.read(files, {"old": TreeHints()})
        self.assertEqual([(m.name, m.origin, m.role) for m in pages[1].mentions],
                         [("src/a.py", "page", BESIDE), ("src/gone.py", "page", ""), ("../up.html#x", "page", "")])  # fmt: skip
        pages, _ = self.read(files, {"old": TreeHints(address="https://docs.halmere.example/pontoon/")})
        self.assertEqual(
            [(m.name, m.origin) for m in pages[1].mentions],
            [("https://docs.halmere.example/src/a.py", "url"), ("https://docs.halmere.example/src/gone.py", "url"),
             ("https://docs.halmere.example/up.html#x", "url")],
        )  # fmt: skip

    def test_a_page_with_more_links_than_a_release_holds_is_left_out(self):
        many = FILES["float.html"] + '<a href="deck.html#deck">x</a>' * 300
        with mock.patch("zarbek.core.gathering.tree_page_reading.MAX_PAGE_LINE_BYTES", 8 * 2**10):
            pages, found = self.read({**FILES, "float.html": many})
        self.assertEqual(len(pages), 3)
        self.assertIn("its 301 links", next(f.message for f in found.findings if f.rule == "text/unreadable"))

    def test_a_few_examples_make_no_sources_of_a_tree(self):
        for pages, is_tree in ((25, True), (10, False)):
            with self.subTest(pages), tempfile.TemporaryDirectory() as name:
                files = {f"{n}.html": "x" for n in range(pages)} | {"example.c": "int f(void);"}
                folder = Folder(write_files(Path(name), files))
                trees = find_trees(folder, ProjectFile(), [SourceFile("example.c", "c", "")])
                self.assertEqual([len(tree.pages) for tree in trees], [pages] if is_tree else [])


if __name__ == "__main__":
    unittest.main()
