"""Guides in reStructuredText."""

import tempfile
import time
import unittest
from contextlib import suppress
from pathlib import Path

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.sources import gather_files, page_links_of, pages_of
from zarbek.core.findings.change_mentions import quoted_in_page
from zarbek.core.findings.mention_context import around_in_page
from zarbek.core.sources.guides.parts import Parts
from zarbek.core.sources.guides.rst_reader import read_rst_guide

GUIDE = """
==========
Tide guide
==========

:summary: How the sea moves.

.. _reading:

Reading a table
===============

See `the other <other.rst>`_, `Window <api://tide/tide.Window>`_, reading_ and |x| [1]_, :py:func:`tide.load`,
``tide.peak`` and * a star.

So :math:`h_0`, and

.. math:: h = \\sqrt{t}

.. |x| replace:: *what stands for it*

.. warning:: Watch *out*.

.. code-block:: python
   :example: api://tide/tests.test_a.test_one

   load("`tick`")

.. figure:: images/a.png
   :alt: The bar

   At low water.

.. _heights:

====  ======
Port  Height
====  ======
HAL   1|2
====  ======

term
   what it means

.. [1] The foot.

.. gadget:: of another program
   :width: 3

   It holds `words <https://example.org/x>`_.

Second
------

1. one

   - inner

See heights_ and gone_.
"""


def read(text):
    return read_rst_guide(text, file="guides/a.rst", path="a", parts=Parts(lambda _: None, lambda _: None))[0]


class OfText(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.page = read(GUIDE)

    def test_is_kept_as_commonmark(self):
        self.assertEqual(
            (self.page.title, self.page.summary, self.page.form), ("Tide guide", "How the sea moves.", "made")
        )
        self.assertEqual([(h.level, h.anchor) for h in self.page.headings],
                         [(1, "tide-guide"), (2, "reading-a-table"), (3, "second")])  # fmt: skip
        for part in (
            "## Reading a table {#reading}",
            "[the other](other.rst), [Window](api://tide/tide.Window), [reading](#reading-a-table) and *what stands for it* [^1], "
            "{py:func}`tide.load`, `tide.peak` and \\* a star.",
            "::: warning\nWatch *out*.\n:::", '```python example=api://tide/tests.test_a.test_one\nload("`tick`")\n```',
            "::: figure At low water.\n![The bar](images/a.png)\n:::", '<a id="heights"></a>\n\n| Port | Height |\n| --- | --- |\n| HAL | 1\\|2 |',
            "So {math}`h_0`, and", "```math\nh = \\sqrt{t}\n```", "term\n: what it means", "[^1]: The foot.", "It holds [words](https://example.org/x).", "1. one\n\n   - inner",
            "See [heights](#heights) and [gone](#gone).",
        ):  # fmt: skip
            self.assertIn(part, self.page.text)

    def test_what_has_a_caption_keeps_it_and_its_label(self):
        page = read(
            ".. figure:: a.png\n   :name: rise\n\n   How it *rises*\n\n.. table:: Limits\n   :name: limits\n\n   == ==\n   A  B\n"
            "   == ==\n   1  2\n   == ==\n\n.. code-block:: python\n   :caption: Asking\n   :name: asking\n   :linenos:\n\n   x = 1\n\n"
            ".. example:: At noon\n\n   It is full.\n\n"
            '.. code-block:: dot\n   :caption: Who asks\n\n   digraph { "tide.Port" -> b; tide.Bar; d [label="tide.Bar!"] }\n'
        )
        self.assertEqual(
            [tuple(c) for c in map(msgspec.to_builtins, page.captions)],
            [("figure", "How it rises", "rise"), ("table", "Limits", "limits"), ("listing", "Asking", "asking"),
             ("example", "At noon", "example-at-noon"), ("figure", "Who asks", "figure-who-asks")],
        )  # fmt: skip
        self.assertEqual([m.name for m in page.mentions], ["guides/a.png", "tide.Port"])
        self.assertEqual([(n.name, n.of) for n in page.labels], [(n, n) for n in ("rise", "limits", "asking")])

    def test_terms_of_a_glossary_are_places(self):
        page = read(
            ".. glossary::\n\n   Sailing window\n      A time.\n\nother\n   none\n\nA :term:`sailing window` it is.\n"
        )
        self.assertEqual(page.anchors, ["term-sailing-window"])
        self.assertEqual([(m.name, m.origin) for m in page.mentions], [("term:sailing window", "label")])

    def test_fields_say_what_a_page_is(self):
        page = read("A\n=\n\n:numbered: no\n:formerly: b, c/d\n:hidden: search\n\nText.\n")
        self.assertEqual((page.numbered, page.formerly, page.hidden), (False, ["b", "c/d"], ["search"]))
        with self.assertRaisesRegex(ValueError, "numbered in its front matter is neither yes nor no"):
            read("A\n=\n\n:numbered: maybe\n\nText.\n")

    def test_what_opens(self):
        text = read(
            "A\n=\n\n.. details:: More of it\n\n   .. tab:: One\n\n      Text.\n\n   .. tab:: Two\n\n      More.\n"
        ).text
        self.assertIn(":::: details More of it\n::: tab One\nText.\n:::\n\n::: tab Two\nMore.\n:::\n::::", text)

    def test_mentions_stand_where_they_are_written(self):
        lines = GUIDE.split("\n")
        found = {m.text: m for m in self.page.mentions}
        for text in (
            "other.rst",
            "api://tide/tide.Window",
            "tide.load",
            "tide.peak",
            "images/a.png",
            "https://example.org/x",
        ):
            mention = found[text]
            self.assertEqual(lines[mention.line - 1][mention.column - 1 :][: len(text)], text)
        self.assertEqual((found["#gone"].origin, lines[found["#gone"].line - 1]), ("page", "See heights_ and gone_."))

    def test_findings_show_the_words_around(self):
        found = {m.text: m for m in self.page.mentions}
        self.assertIn("what stands for it", "".join(around_in_page(self.page, found["api://tide/tide.Window"])))
        quoted = next(m for m in self.page.mentions if m.field == "quoted")
        self.assertEqual(quoted_in_page(self.page, quoted), 'load("`tick`")')


class InAProject(unittest.TestCase):
    def test_guides_of_both_forms_lead_to_one_another(self):
        links = page_links_of({
            "guides/a.rst": "A\n=\n\nTo `b <b.md>`_, `its end <b.md#end>`_, c_ and `nowhere <d.rst>`_.\n\n.. _c:\n\nHere.\n",
            "guides/b.md": "# B\n\nTo [a](a.rst).\n\n## End\n",
        })  # fmt: skip
        self.assertEqual({text: (k.outcome, k.path, k.anchor) for text, k in links.items()}, {
            "b.md": ("linked", "b", ""), "b.md#end": ("linked", "b", "end"), "#c": ("linked", "a", "c"),
            "d.rst": ("dangling", "", ""), "a.rst": ("linked", "a", ""),
        })  # fmt: skip

    def test_what_cannot_be_read_is_told(self):
        gathered, *_ = gather_files({"guides/a.rst": "x" * 30_000 + "\n", "guides/b.rst": "B\n=\n"}, slug="s")
        self.assertEqual([p.path for p in pages_of({"guides/b.rst": "B\n=\n"}, slug="s")], ["b"])
        self.assertEqual([(f.rule, f.file) for f in gathered.findings], [("text/unreadable", "guides/a.rst")])
        gathered, *_ = gather_files(
            {"guides/a.rst": "A\n=\n\nOne.\n\n===  ==\na  b c\n===  ==\n\nTwo lost_.\n"}, slug="s"
        )
        (finding,) = gathered.findings
        self.assertEqual((finding.rule, finding.subject, finding.line), ("text/unreadable", "a", 7))
        self.assertIn("Malformed table", finding.message)


class Hostile(unittest.TestCase):
    def test_nothing_is_included_run_or_fetched(self):
        with tempfile.TemporaryDirectory() as name:
            secret = Path(name, "secret.txt")
            secret.write_text("the secret")
            page = read(
                f".. include:: {secret}\n\n.. literalinclude:: {secret}\n\n.. csv-table::\n   :file: {secret}\n\n"
                f".. csv-table::\n   :url: file://{secret}\n\n.. raw:: html\n   :file: {secret}\n\n"
                ".. raw:: html\n\n   <script>alert(1)</script>\n\n.. code-block:: python\n   :name: x\n\n   1\n\n"
                ".. role:: raw-html(raw)\n   :format: html\n\n:raw-html:`<script>alert(2)</script>`\n"
            )
            self.assertNotIn("the secret", page.text)
            self.assertNotRegex(page.text, r"(?<!\\)<script")

    def test_what_swells_or_nests_is_bounded(self):
        bomb = (
            "".join(f".. |x{n}| replace:: {f'|x{n + 1}| ' * 10}\n" for n in range(12))
            + ".. |x12| replace:: y\n\n|x0|\n"
        )
        deep = "".join("  " * n + "- a\n\n" for n in range(300))
        quotes = "".join(" " * n + "a\n\n" for n in range(500))
        for text in (bomb, deep, quotes, "=" * 100_000, "|" * 5_000, "`" * 5_000, "_" * 5_000, ".. [1]_\n" * 3_000):
            begin = time.process_time()
            with suppress(ValueError, RecursionError):
                read(text)
            self.assertLess(time.process_time() - begin, 20, text[:20])

    @settings(max_examples=60, deadline=None)
    @given(st.text("ab \n=-`_*|:.[]<>", max_size=200))
    def test_any_text_is_a_page_or_told_to_be_none(self, text):
        try:
            page = read(text)
        except ValueError:
            return
        self.assertNotRegex(page.text, r"(?<!\\)<script")


if __name__ == "__main__":
    unittest.main()
