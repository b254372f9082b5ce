"""Markdown in doc comments: what is prose, and what of it is a mention."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from markdown_it import MarkdownIt

from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown, indented_code, looks_like_markdown, prose_lines

PARSER = MarkdownIt("commonmark")


class Prose(unittest.TestCase):
    def test_code_is_no_prose(self):
        lines = "a\n```\ncode\n```\nb\n\n    code\n\n- c\n\n    of the item\n~~~\n```\n~~~\nd".split("\n")
        self.assertEqual(
            [lines[at] for at in prose_lines(lines) if lines[at]], ["a", "b", "- c", "    of the item", "d"]
        )

    @given(
        st.lists(st.sampled_from(["", "a", "    b", "- c", "  d", "\te", "> f", "1. g", "      h", "# i"]), max_size=12)
    )
    def test_indented_code_is_what_the_standards_parser_says(self, lines):
        blocks = [t.map for t in PARSER.parse("\n".join(lines)) if t.type == "code_block"]
        self.assertEqual(indented_code(lines), {line for start, end in blocks for line in range(start, end)})


class Mentions(unittest.TestCase):
    def test_names_links_and_addresses(self):
        lines = [
            "Uses `Boat`, `a + b`, [tide](api:sea.tide) and <https://sea.example/x>.",
            "",
            "    `Raft`",
            "```",
            "`Mast`",
            "```",
        ]
        sink = MentionSink(lines)
        self.assertEqual(convert_markdown(lines, 1, sink), "\n".join(lines))
        self.assertEqual([(m.name, m.origin, m.line) for m in sink.mentions],
                         [("Boat", "code", 1), ("api:sea.tide", "link", 1), ("https://sea.example/x", "url", 1)])  # fmt: skip

    def test_which_of_two_languages_a_text_is_in(self):
        for text in ("See [a](b).", "# Title\n\nText", "```\ncode\n```", "See [a][b]."):
            self.assertEqual((text, looks_like_markdown(text)), (text, True))
        for text in ("See :func:`a`.", "Note::\n\n    code", ".. note:: x\n\n[a](b)", "plain", "`a`_ is ``b``"):
            self.assertEqual((text, looks_like_markdown(text)), (text, False))


if __name__ == "__main__":
    unittest.main()
