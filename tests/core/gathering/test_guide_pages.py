"""Guides as a whole: labels across files, addresses, pictures, what was elsewhere before."""

import unittest

from tests.support.sources import gather_files, page_links_of, pages_of

SVG = "<svg xmlns='http://www.w3.org/2000/svg'/>"


def findings_of(files):
    gathered, *_ = gather_files(files, slug="own")
    return [(f.rule, f.file, f.line, f.text) for f in gathered.findings]


class Labels(unittest.TestCase):
    FILES = {
        "guides/a.md": "# A\n\n## Water {#water}\n\n::: glossary\nSailing window\n: A time.\n:::\n",
        "guides/b.md": "See [](label:water), [x](label:Wat_er), {label}`lights`, {ref}`elsewhere`, {term}`sailing  Window` and {term}`gone`.\n",
        "guides/c.rst": "C\n=\n\n:label:`the water <water>` and :ref:`water`.\n",
    }  # fmt: skip

    def test_lead_into_other_files_of_either_form(self):
        links = page_links_of(self.FILES)
        for text in ("label:water", "water"):
            self.assertEqual((links[text].outcome, links[text].path, links[text].anchor), ("linked", "a", "water"))
        self.assertEqual((links["sailing  Window"].path, links["sailing  Window"].anchor), ("a", "term-sailing-window"))

    def test_that_are_not_there_dangle_unless_another_program_may_have_them(self):
        links = page_links_of(self.FILES)
        self.assertEqual((links["lights"].reason, links["lights"].wanted, links["lights"].via), ("label", "lights", ""))
        self.assertEqual((links["gone"].reason, links["label:Wat_er"].via), ("label", "water"))
        self.assertEqual(links["elsewhere"].outcome, "outside")
        self.assertEqual(page_links_of({"guides/b.md": "{term}`gone`"})["gone"].outcome, "outside")

    def test_that_stand_twice_are_told_where_somebody_refers_to_them(self):
        files = {
            "guides/a.md": "# A {#x}\n\n# B {#y}\n",
            "guides/b.md": "---\ntitle: B\n---\n# C {#x}\n\n# D {#y}\n\n[](label:x)\n",
        }
        self.assertEqual(findings_of(files), [("dangling/label", "guides/b.md", 4, "x")])


class Addresses(unittest.TestCase):
    def test_two_files_of_one_address(self):
        files = {"guides/a.md": "One.\n", "guides/a.rst": "Two.\n"}
        self.assertEqual(findings_of(files), [("text/duplicate-page", "guides/a.rst", 1, "a")])
        self.assertEqual([p.file for p in pages_of(files, slug="own")], ["guides/a.md"])

    def test_former_ones_lead_to_the_page_and_are_stale(self):
        files = {"guides/b.md": "---\nformerly: [old/a, a]\n---\n# B\n\n## Part\n",
                 "guides/c.md": "[x](api://own/old/a#part) [y](api://own/old/a#gone)\n"}  # fmt: skip
        links = page_links_of(files)
        moved, gone = links["api://own/old/a#part"], links["api://own/old/a#gone"]
        self.assertEqual((moved.path, moved.anchor, moved.stale, moved.via), ("b", "part", ["moved"], "old/a"))
        self.assertEqual((gone.outcome, gone.reason), ("dangling", "anchor"))

    def test_contents_nest_as_deep_as_they_are_written(self):
        files = {f"guides/{n}.md": f"# {n}\n" for n in "abcd"}
        files["zarbek.toml"] = '[guides]\ncontents = ["a", ["b", ["c"], "d"]]\n'
        self.assertEqual(
            [(p.path, p.depth) for p in pages_of(files, slug="own")], [("a", 0), ("b", 1), ("c", 2), ("d", 1)]
        )

    def test_what_is_hidden_from_the_contents_is_no_unreached_page(self):
        files = {"zarbek.toml": '[guides]\ncontents = ["a"]\n', "guides/a.md": "# A\n",
                 "guides/b.md": "---\nhidden: contents\n---\n# B\n", "guides/c.md": "# C\n"}  # fmt: skip
        self.assertEqual(findings_of(files), [("text/unreached-page", "guides/c.md", 1, "C")])

    def test_wrong_settings_leave_the_page_out_and_say_why(self):
        (found,) = findings_of({"guides/a.md": "---\nhidden: everywhere\n---\n# A\n"}) or [()]
        self.assertEqual(found[:2], ("text/unreadable", "guides/a.md"))


class Pictures(unittest.TestCase):
    def test_that_nothing_names_are_told(self):
        files = {"guides/a.md": "![x](in/shown.svg)\n", "guides/in/shown.svg": SVG, "guides/in/spare.svg": SVG,
                 "guides/in/styled.svg": SVG, "guides/look.css": "a { background: url(in/styled.svg) }", "logo.svg": SVG}  # fmt: skip
        self.assertEqual(findings_of(files), [("text/unused-asset", "guides/in/spare.svg", 1, "spare.svg")])


if __name__ == "__main__":
    unittest.main()
