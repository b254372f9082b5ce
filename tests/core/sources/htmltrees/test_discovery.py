"""Which folders are trees, and what addresses mean in them."""

import unittest

from zarbek.core.sources.htmltrees.discovery import TreeFiles, TreeHints, first_page, locate_trees

FILES = ["index.html", "api/Deck.html", "api/Deck.htm", "api/index.htm", "style.css", "a b/c.html", "Logo.PNG"]


class Trees(unittest.TestCase):
    def test_a_folder_of_pages_and_no_sources_is_one(self):
        (tree,) = locate_trees(FILES, {}, has_sources=False)
        self.assertEqual((tree.folder, len(tree.pages), tree.others), ("", 5, ["Logo.PNG", "style.css"]))
        self.assertEqual(locate_trees(FILES, {}, has_sources=True), [])
        self.assertEqual(locate_trees(["a.html", "b.html"], {}, has_sources=False), [])

    def test_a_project_says_which_folders_are(self):
        files = ["src/a.py", "old/v1/x.html", "old/v1/y.css", "older/z.html"]
        hints = TreeHints(address="https://docs.halmere.example/v1/")
        (tree,) = locate_trees(files, {"/old/v1/": hints}, has_sources=True)
        self.assertEqual((tree.folder, tree.pages, tree.others, tree.hints),
                         ("old/v1/", ["old/v1/x.html"], ["old/v1/y.css"], hints))  # fmt: skip

    def test_the_first_page_is_the_outermost_index(self):
        for files, first in (
            (FILES, "index.html"), (["b.html", "a/index.html", "c.html"], "b.html"),
            (["doc/z.html", "doc/index.htm", "doc/index.html"], "doc/index.html"), (["x.css"], ""),
        ):  # fmt: skip
            with self.subTest(first):
                (tree,) = locate_trees(files, {"": TreeHints()}, has_sources=False)
                self.assertEqual(first_page(tree), first)


class Files(unittest.TestCase):
    def test_files_folders_and_spellings(self):
        files = TreeFiles(FILES)
        for path, found in (
            ("api/Deck.html", "api/Deck.html"), ("api/", "api/index.htm"), ("api", "api/index.htm"), ("/", "index.html"),
            ("a%20b/c.html", "a b/c.html"), ("a b/", ""), ("api/deck.html", ""), ("none.html", ""),
        ):  # fmt: skip
            with self.subTest(path):
                self.assertEqual(files.find(path), found)


if __name__ == "__main__":
    unittest.main()
