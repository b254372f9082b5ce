import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import page_links_of
from zarbek.core.sources.guides.guide_order import order_pages
from zarbek.core.sources.guides.places import anchor_of
from zarbek.core.sources.guides.reader import read_guide
from zarbek.core.writing.html import PageMarks, render
from zarbek.core.writing.shown import Shown


class Guides(unittest.TestCase):
    def test_front_matter_headings_and_places(self):
        raw = "---\ntitle: A title\n---\n# One\n\nSee [x](api:x) and\n[y](sub/b.md#c) `code.name` ![p](../p.png).\n\n## Two\n\n## Two\n"
        page = read_guide(raw, file="guides/in/a.md", path="in/a")
        self.assertEqual((page.title, page.line), ("A title", 4))
        self.assertEqual([h.anchor for h in page.headings], ["one", "two", "two-1"])
        self.assertEqual(
            [(m.origin, m.name, m.line, m.column) for m in page.mentions],
            [
                ("link", "api:x", 6, 9),
                ("page", "guides/in/sub/b.md#c", 7, 5),
                ("code", "code.name", 7, 18),
                ("asset", "guides/p.png", 7, 34),
            ],
        )

    def test_an_address_from_the_root_is_below_that_of_the_source(self):
        page = read_guide("[x](/extras/a.md) and [y](../../b.md#c).\n", file="guides/in/a.md", path="in/a")
        self.assertEqual([m.name for m in page.mentions], ["extras/a.md", "b.md#c"])

    def test_a_page_without_a_summary_has_its_first_paragraph_as_one(self):
        raw = "# One\n\nLoad it with [load](api:load), *then*\nlook. ![Tide](t.png)\n\nMore.\n"
        self.assertEqual(read_guide(raw, file="a.md", path="a").summary, "Load it with load, then look. Tide")

    def test_places_that_the_author_named_can_be_addressed(self):
        page = read_guide('# One <a id="first"></a>\n\n<a name=two.x>Here</a> `<a id="code">`\n', file="a.md", path="a")
        self.assertEqual((page.title, page.headings[0].anchor, page.anchors), ("One", "one", ["first", "two.x"]))
        html = str(render(page.text, lambda _: None, marks=PageMarks(["one"])))
        self.assertIn('One <a id="first" rel="noopener"></a></h3>', html)
        self.assertIn('<a id="two.x" rel="noopener"></a>Here <code>&lt;a id="code"&gt;</code>', html)

    def test_roles_name_elements(self):
        text = "# On {class}`a.B`\n\nSee {py:func}`the plan <a.plan>`, {meth}`~a.B.go`, {ref}`more <there>` and {kbd}`x`: {x}.\n"
        page = read_guide(text, file="a.md", path="a")
        self.assertEqual(
            [(m.origin, m.text, m.name, m.role, m.line, m.column) for m in page.mentions],
            [("link", "a.B", "a.B", "class", 1, 14), ("link", "a.plan", "a.plan", "function", 3, 25),
             ("link", "~a.B.go", "~a.B.go", "method", 3, 42), ("label", "there", "there", "ref", 3, 64)],
        )  # fmt: skip
        self.assertEqual((page.title, page.summary), ("On a.B", "See the plan, go, more and x: {x}."))
        html = str(
            render(
                page.text,
                lambda address: Shown("/x") if address == "api:a.plan?function" else None,
                marks=PageMarks(["h"]),
            )
        )
        self.assertIn(
            '<p>See <a href="/x" rel="noopener">the plan</a>, <code>go</code>, more and <code>x</code>: {x}.</p>', html
        )

    def test_code_blocks_and_remote_pictures_hold_no_mentions(self):
        page = read_guide(
            "```\n[a](b.md)\n```\n\n![x](https://example.org/x.png) <mailto:a@b.example>", file="a.md", path="a"
        )
        self.assertEqual(page.mentions, [])

    def test_broken_front_matter_is_refused_with_a_sentence(self):
        with self.assertRaisesRegex(ValueError, "front matter is no YAML"):
            read_guide("---\na: [\n---\ntext", file="a.md", path="a")

    def test_aliases_in_front_matter_cannot_explode(self):
        bomb = "---\na: &a [x,x,x,x]\nb: &b [*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b]\ntitle: ok\n---\n# T\n"
        self.assertEqual(read_guide(bomb, file="a.md", path="a").title, "ok")

    def test_order_of_the_folder_when_nobody_says_otherwise(self):
        pages = [read_guide(f"# {p}", file=f"{p}.md", path=p) for p in ("b", "sub/a", "index", "a")]
        ordered, findings = order_pages(pages, None)
        self.assertEqual(([p.path for p in ordered], findings), (["index", "a", "b", "sub/a"], []))

    @given(st.lists(st.text(max_size=12), max_size=8))
    def test_anchors_of_one_page_are_different(self, titles):
        taken = {}
        anchors = [anchor_of(title, taken) for title in titles if not title.strip().rpartition("-")[2].isdigit()]
        self.assertEqual(len(anchors), len(set(anchors)))


class Code(unittest.TestCase):
    def test_qualified_names_in_code_are_mentions_that_never_dangle(self):
        links = page_links_of({
            "src/sea/__init__.py": "def load(): ...\n",
            "guides/a.md": "```python\nx = sea.load()\ny = sea.gone(self.b.c, 'sea.load', a)\n```\n\n```console\n$ sea.load\n```\n",
        })  # fmt: skip
        self.assertEqual({text: (k.outcome, k.path) for text, k in links.items()}, {
            "sea.load": ("linked", "sea.load"), "sea.gone": ("outside", ""),
        })  # fmt: skip


if __name__ == "__main__":
    unittest.main()
