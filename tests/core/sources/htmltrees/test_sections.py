"""Parts of pages."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.model.bundle import TreeFacts
from zarbek.core.sources.guides.reader import read_guide
from zarbek.core.sources.guides.sections import sections_of as guide_sections
from zarbek.core.sources.htmltrees.sections import sections_of

WORDS = st.text("abc ", min_size=1, max_size=8).filter(str.strip)


class Sections(unittest.TestCase):
    def test_headings_with_a_place_begin_them(self):
        text = "<nav>All</nav><p>First.</p><h1>Deck</h1><p>Rests.<h2 id=m>Moor</h2><p>At <b>dawn</b>.<a name=x></a><h3>Cast</h3>off"
        self.assertEqual([tuple(s) for s in sections_of(text, TreeFacts(""))],
                         [("", "", "First. Deck Rests."), ("m", "Moor", "At dawn."), ("x", "Cast", "off")])  # fmt: skip

    @given(st.lists(st.tuples(WORDS, WORDS), max_size=5))
    def test_nothing_is_lost_between_them(self, parts):
        html = "".join(f"<h2 id=p{n}>{head}</h2><p>{text}</p>" for n, (head, text) in enumerate(parts))
        found = list(sections_of(html, TreeFacts("")))
        self.assertEqual([s.anchor for s in found], ["", *(f"p{n}" for n in range(len(parts)))])
        self.assertEqual(
            " ".join(f"{s.title} {s.text}" for s in found).split(), " ".join(f"{h} {t}" for h, t in parts).split()
        )

    def test_digests_of_a_frame_that_are_none_hide_nothing(self):
        told = [s.text for s in sections_of("<p>a<p>b", TreeFacts("", frame=["abc", "", "0" * 14]))]
        self.assertEqual(told, ["a b"])

    @given(st.lists(st.tuples(st.sampled_from(["# {}", "## {}", "{}\n---", "> # {}", "{}"]), WORDS), max_size=6))
    def test_those_of_guides(self, parts):
        text = "\n\n".join(form.format(word) for form, word in parts)
        page = read_guide(text, file="g.md", path="g")
        found = list(guide_sections(page))
        self.assertEqual([(s.anchor, s.title) for s in found[1:]], [(h.anchor, h.title) for h in page.headings])


if __name__ == "__main__":
    unittest.main()
