"""Whether a text speaks of what has changed."""

import unittest

from zarbek.core.changes.change import Detail
from zarbek.core.findings.change_mentions import block_in_symbol, lost_figures, repeats, spoken_of
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol

GONE = Detail("parameter-removed", "The parameter strict is gone.", True, "strict: bool = False", name="strict")
NEEDED = Detail("parameter-added", "It needs a new parameter port.", True, "", "port: str", "port")
OPTIONAL = Detail("parameter-added", "It takes a new optional parameter unit.", False, "", "unit = 'm'", "unit")
DEFAULT = Detail("default-changed", "limit is 20 if left out; it was 10.", False, "10", "20", "limit")
RETURNS = Detail("return-type", "It returns something else.", True, "Window", "list[Span]")
ERROR = Detail("error-removed", "It no longer fails with TableMissing.", False, "TableMissing", "")


class Speaking(unittest.TestCase):
    def test_only_what_is_named_quoted_or_called_is_spoken_of(self):
        for detail, block, is_spoken in (
            (GONE, "See [find](api:find).", False),
            (GONE, "Be strict with [find](api:find).", False),
            (GONE, "With `strict` set, [find](api:find) stops.", True),
            (GONE, "[find](api:find)\n\n```python\nfind(1, strict=True)\n```", True),
            (GONE, "[find](api:find)\n\n```python\nother(1, strict=True)\nfind(1)\n```", True),
            (NEEDED, "See [find](api:find), which takes a `day`.", False),
            (NEEDED, "[find](api:find)\n\n```pycon\n>>> find(1)\n```", True),
            (NEEDED, "[find](api:find)\n\n```pycon\n>>> find(1, port='a')\n>>> find(*given)\n```", False),
            (NEEDED, "Call `find()` or `tide.find()` first.", False),
            (NEEDED, "[find](api:find)\n\n```python\nfound = find()\n```", True),
            (OPTIONAL, "[find](api:find)\n\n```python\nfind(1)\n```", False),
            (DEFAULT, "[find](api:find) gives 10 of them.", False),
            (DEFAULT, "[find](api:find) gives `limit` of them, 10 if left out.", True),
            (DEFAULT, "[find](api:find) stops at `limit`.", False),
            (RETURNS, "[find](api:find) gives a `Window`.", True),
            (RETURNS, "[find](api:find) gives windows.", False),
            (ERROR, "[find](api:find) raises TableMissing.", True),
        ):  # fmt: skip
            with self.subTest(detail=detail.kind, block=block):
                self.assertEqual(bool(spoken_of([detail], block, "tide.find")), is_spoken)

    def test_examples_that_nest_beyond_every_parser_are_no_calls(self):
        block = "[find](api:find)\n\n```python\nfind(" + "(" * 100_000 + "\n```"
        self.assertEqual(spoken_of([NEEDED], block, "tide.find"), [])

    def test_numbers_and_units_that_a_text_had(self):
        old, new = Doc(summary="Heights in metres, 12 a day."), Doc(summary="Heights in feet, 24 a day.")
        for block, is_spoken in (("Taken in metres.", True), ("There are 12.", True), ("Heights of a day.", False)):
            with self.subTest(block):
                self.assertEqual(repeats(block, lost_figures(old, new)), is_spoken)

    def test_a_block_is_the_paragraph_with_the_examples_of_its_text(self):
        text = "Other.\n\nSee [f](api:f)\nfor more.\n\nLast.\n\n```python\nf(1)\n```"
        symbol = Symbol("m.g", "g", "function", "python", "m", doc=Doc(summary="Do.", body=text))
        block = block_in_symbol(symbol, Mention("f", "f", "link"))
        self.assertEqual(block, "See [f](api:f)\nfor more.\n\n```python\nf(1)\n```")


if __name__ == "__main__":
    unittest.main()
