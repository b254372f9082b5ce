"""Inline markup of reStructuredText."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from markdown_it import MarkdownIt

from zarbek.core.sources.markup.inline import MentionSink, code_span, convert_inline, find_targets, shown_name

PARSER = MarkdownIt("commonmark")


def convert(text):
    sink = MentionSink(text.split("\n"))
    return convert_inline(text, 1, sink), sink.mentions


class Roles(unittest.TestCase):
    def test_objects_labels_and_looks(self):
        for text, shown in (
            (":func:`sail`", "[`sail`](api:sail?function)"), (":py:class:`~sea.Boat`", "[`Boat`](api:~sea.Boat?class)"),
            (":meth:`sail it <Boat.sail>`", "[sail it](api:Boat.sail?method)"), (":ref:`the sea <sea>`", "the sea"),
            (":envvar:`SEA`", "`SEA`"), (":class:`!Boat`", "`Boat`"), (":strong:`so`", "**so**"), ("H\\ :sub:`2`\\ O", "H\\_2O"),
            (":pep:`8`", "[PEP 8](<https://peps.python.org/pep-0008/>)"), (":rfc:`2822#section-3`", "[RFC 2822](<https://www.rfc-editor.org/rfc/rfc2822#section-3>)"),
            (":pep:`the style <8>`", "[the style](<https://peps.python.org/pep-0008/>)"), (":pep:`no number`", "PEP no number"),
        ):  # fmt: skip
            self.assertEqual((text, convert(text)[0]), (text, shown))

    def test_what_they_mention(self):
        _, mentions = convert("Either :func:`sail` or :class:`the boat\n<sea.Boat>`, :pep:`8`, ``not :func:`this```.")
        self.assertEqual(
            [(m.name, m.role, m.line) for m in mentions], [("sail", "function", 1), ("sea.Boat", "class", 1)]
        )


class Links(unittest.TestCase):
    def test_each_form(self):
        lines = ("See `the sea <https://sea.example/>`_, `Land`_, Sky_, `moon`__ and `far`__; not dry_ or `wet`_.\n\n"
                 ".. _Land: https://land.example/\n.. _sky: https://sky.example/a\n   b\n__ https://moon.example/\n").split("\n")  # fmt: skip
        sink = MentionSink(lines)
        find_targets(lines, 1, sink)
        self.assertEqual(
            convert_inline(lines[0], 1, sink),
            "See [the sea](<https://sea.example/>), [Land](<https://land.example/>), [Sky](<https://sky.example/ab>), "
            "[moon](<https://moon.example/>) and far; not dry_ or wet.",
        )
        self.assertEqual([(m.name, m.line) for m in sink.mentions],
                         [("https://land.example/", 3), ("https://moon.example/", 6), ("https://sea.example/", 1)])  # fmt: skip


class Text(unittest.TestCase):
    def test_what_commonmark_would_take_for_markup(self):
        for text, shown in (
            ("Calls __init__ or _private.", r"Calls \_\_init__ or \_private."), ("Is n*m*k long.", r"Is n\*m\*k long."),
            ("A *word* and **two**.", "A *word* and **two**."), ("snake_case_name", "snake_case_name"), ("a[0] <b>", r"a\[0\] \<b>"),
            ("x._repr_html_()", r"x.\_repr_html_()"), ("See [1]_ and [#]_.", r"See \[1\] and \[#\]."),
        ):  # fmt: skip
            self.assertEqual((text, convert(text)[0]), (text, shown))

    @given(st.text(alphabet="ab_*`<>[]\\: .1", max_size=30))
    def test_words_stay(self, text):
        if "`" in text or "\\" in text or ":" in text:
            return
        html = PARSER.renderInline(convert(text)[0])
        self.assertEqual([c for c in text if c.isalnum()], [c for c in html.replace("<em>", "").replace("</em>", "").replace("<strong>", "")
                         .replace("</strong>", "").replace("&lt;", "").replace("&gt;", "") if c.isalnum()])  # fmt: skip

    @given(st.text(alphabet="ab` \n", min_size=1, max_size=20))
    def test_a_code_span_holds_any_text(self, text):
        (token,) = PARSER.parseInline(code_span(text))
        codes = [c.content for c in token.children if c.type == "code_inline"]
        if text.strip():
            self.assertEqual([" ".join(c.split()) for c in codes], [" ".join(text.split())])

    def test_what_readers_see_of_a_name(self):
        found = {name: shown_name(name) for name in ("~a.b.C", "~a.b.f()", ".C", "_tb.C", "a.b.C", "~C")}
        self.assertEqual(
            found, {"~a.b.C": "C", "~a.b.f()": "f()", ".C": "C", "_tb.C": "C", "a.b.C": "a.b.C", "~C": "C"}
        )


if __name__ == "__main__":
    unittest.main()
