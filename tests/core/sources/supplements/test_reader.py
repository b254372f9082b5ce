import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import gather_files, page_links_of, pages_of
from zarbek.core.sources.supplements.head import head_schema
from zarbek.core.sources.supplements.reader import read_supplement

RAW = """---
for:
  - api://quayside/createBooking
  - window
how:
  summary: replace
keywords: [ticket, 1905]
written: 2.0
---
Mind the [tide](api://tidebook/tidebook.windows).

# Summary

Books it.

# Parameters

- `id`: the sailing,
  as printed

- `body` – what

# See also

- [more](guide.md)
"""


def read(raw):
    return read_supplement(raw, file="supplements/a.md", path="supplements/a")


class Reading(unittest.TestCase):
    def test_parts_by_heading_each_with_its_way_and_line(self):
        page = read(RAW.replace("1905", "rest"))
        self.assertEqual(
            [(p.kind, p.how, p.name, p.text, p.line) for p in page.supplement.parts],
            [("remarks", "add", "", "Mind the [tide](api://tidebook/tidebook.windows).", 10),
             ("summary", "replace", "", "Books it.", 14), ("parameter", "add", "id", "the sailing,\n  as printed", 18),
             ("parameter", "add", "body", "what", 18), ("see", "add", "", "- [more](guide.md)", 25)],
        )  # fmt: skip
        self.assertEqual((page.supplement.keywords, page.supplement.written), (["ticket", "rest"], "2.0"))

    def test_mentions_stand_where_they_are_written(self):
        lines = RAW.split("\n")
        found = [(m.field, lines[m.line - 1][m.column - 1 :]) for m in read(RAW.replace("1905", "rest")).mentions]
        self.assertEqual(found[:3], [("supplement", "api://quayside/createBooking"), ("supplement", "window"),
                                     ("doc", "api://tidebook/tidebook.windows).")])  # fmt: skip

    def test_says_what_is_wrong(self):
        for raw, told in (
            ("x", "does not say what it is for"), ("---\nfor: 3\n---\nx", r"\(for\)"), ("---\nfor: []\n---\nx", "for"),
            ("---\nfor: a\nhow: over\n---\nx", "over is neither add, fill nor replace"), ("---\nfor: a\n---\n", "says nothing"),
            ("---\nfor: a\nfro: b\n---\nx", "unknown field `fro`"), ("---\nfor: a\n---\n# Nope\n\nx", "a part 'Nope', and parts are Summary,"),
            ("---\nfor: [\n---\nx", "no YAML"), ("---\nfor: a\nkeywords: [1905]\n---\nx", "keywords"),
        ):  # fmt: skip
            with self.subTest(raw), self.assertRaisesRegex(ValueError, told):
                read(raw)

    @given(st.text(max_size=300))
    def test_any_text_is_read_or_refused(self, text):
        try:
            page = read(f"---\nfor: a\n---\n{text}")
        except ValueError:
            return
        self.assertTrue(page.supplement.parts)

    def test_the_schema_tells_of_each_key(self):
        schema = head_schema()
        self.assertEqual(
            set(schema["$defs"]["Head"]["properties"]), {"flags", "for", "how", "keywords", "language", "written"}
        )


class Gathering(unittest.TestCase):
    def test_only_what_says_so_is_a_supplement(self):
        files = {"supplements/README.md": "# How we write\n", "supplements/in/a.md": "---\nfor: m.f\n---\nx\n",
                 "supplements/b.md": "---\nkeywords: [x]\n---\nx\n", "guides/g.md": "# G\n", "m.py": "def f(): ...\n"}  # fmt: skip
        gathered, *_ = gather_files(files, slug="own")
        self.assertEqual([p.path for p in pages_of(files, slug="own")], ["g", "supplements/in/a"])
        found = [(f.rule, f.file, f.message) for f in gathered.findings if f.subject_kind == "page"]
        self.assertEqual(found, [("text/unreadable", "supplements/b.md",
                                  "The supplement was left out: it does not say what it is for.")])  # fmt: skip

    def test_elements_that_are_not_there(self):
        files = {"m.py": "def f(): ...\n", "supplements/a.md": "---\nfor: [api://own/m.f, 'api://own/m.*', m.f]\n---\nx\n",
                 "supplements/b.md": "---\nfor: [api://own/m.g, 'api://own/n.*', m.g, api://none/x]\n---\nx\n"}  # fmt: skip
        links = page_links_of(files)
        self.assertEqual(
            {t: (k.outcome, k.kind or k.reason, k.path) for t, k in links.items()},
            {"api://own/m.f": ("linked", "symbol", "m.f"), "api://own/m.*": ("linked", "project", ""), "m.f": ("linked", "symbol", "m.f"),
             "api://own/m.g": ("dangling", "supplement", ""), "api://own/n.*": ("dangling", "supplement", ""),
             "m.g": ("dangling", "supplement", ""), "api://none/x": ("dangling", "project", "")},
        )  # fmt: skip


if __name__ == "__main__":
    unittest.main()
