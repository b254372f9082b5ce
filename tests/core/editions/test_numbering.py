import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.editions.numbering import call_places, number_pages
from zarbek.core.linking.index import PageEntry, page_entry_of
from zarbek.core.model.page import Heading
from zarbek.core.sources.guides.reader import read_guide


def entry(path, text, order, depth=0, numbered=True):
    page = read_guide(text, file=f"{path}.md", path=path, numbered=numbered)
    made = page_entry_of(page)
    return PageEntry(
        made.path, made.file, made.title, order, depth, made.anchors, numbered=page.numbered,
        headings=made.headings, captions=made.captions, labels=made.labels,
    )  # fmt: skip


class Numbers(unittest.TestCase):
    def test_chapters_their_parts_and_what_stands_below(self):
        pages = [
            entry("index", "---\nnumbered: no\n---\n# Start\n", 0),
            entry("tide", "# Tide\n\n## One\n\n### Inner\n\n### Next\n\n## Two\n\n#### Deep\n", 1, 1),
            entry("tide/more", "# More\n\n## Of it\n", 2, 2),
            entry("crew", "# Crew\n", 3, 1),
            entry("off", "# Off\n", -1),
        ]
        numbers = number_pages(pages)
        self.assertEqual({p: n.number for p, n in numbers.items()}, {"tide": "1", "tide/more": "1.3", "crew": "2"})
        self.assertEqual(numbers["tide"].headings, ["", "1.1", "1.1.1", "1.1.2", "1.2", "1.2.0.1"])
        self.assertEqual(numbers["tide/more"].headings, ["", "1.3.1"])

    def test_captions_count_by_kind_through_a_chapter(self):
        figure, table = "::: figure A\nx\n:::\n\n", "::: table T {#t}\nx\n:::\n\n"
        pages = [
            entry("a", figure + table + figure, 0), entry("a/b", figure, 1, 1), entry("c", figure, 2),
        ]  # fmt: skip
        numbers = number_pages(pages)
        self.assertEqual(numbers["a"].captions, ["1.1", "1.1", "1.2"])
        self.assertEqual((numbers["a/b"].captions, numbers["c"].captions), (["1.3"], ["2.1"]))

    def test_putting_one_in_renumbers_all_and_moves_no_place(self):
        old = [entry("a", "# A\n\n## Water {#water}\n", 0), entry("b", "# B\n\n::: figure F {#f}\nx\n:::\n", 1)]
        new = [entry("n", "# New\n", 0), *(p.__class__(p.path, p.file, p.title, p.order + 1, p.depth, p.anchors,
               numbered=True, headings=p.headings, captions=p.captions, labels=p.labels) for p in old)]  # fmt: skip
        self.assertEqual(call_places(old, number_pages(old)), {("a", "water"): "Section 1.1", ("b", "f"): "Figure 2.1"})
        self.assertEqual(call_places(new, number_pages(new)), {("a", "water"): "Section 2.1", ("b", "f"): "Figure 3.1"})

    def test_places_without_numbers_are_called_by_their_titles(self):
        text = '# A {#top}\n\n## Water {#water}\n\n::: figure Rise {#f}\nx\n:::\n\n<a id="here"></a> Words.\n\n::: glossary\nBar\n: A shoal.\n:::\n'
        pages = [entry("a", text, 0, numbered=False)]
        self.assertEqual(
            call_places(pages, number_pages(pages)),
            {
                ("a", "top"): "A",
                ("a", "water"): "Water",
                ("a", "f"): "Rise",
                ("a", "here"): "A",
                ("a", "term-bar"): "Bar",
            },
        )
        pages = [entry("a", text, 0)]
        self.assertEqual(call_places(pages, number_pages(pages))["a", "top"], "Chapter 1")

    @given(st.lists(st.tuples(st.integers(0, 4), st.booleans(), st.lists(st.integers(1, 6), max_size=5)), max_size=12))
    def test_no_number_stands_twice(self, told):
        pages = [
            PageEntry(str(n), "", "", n, depth, numbered=numbered, headings=[Heading(v, "t", "t") for v in levels])
            for n, (depth, numbered, levels) in enumerate(told)
        ]
        numbers = number_pages(pages).values()
        shown = [n for page in numbers for n in (page.number, *page.headings) if n]
        self.assertEqual(len(shown), len(set(shown)))
