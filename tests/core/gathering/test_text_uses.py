"""Which texts the comment of an element takes from elsewhere."""

import unittest

from zarbek.core.gathering.text_uses import with_uses
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Symbol


class Uses(unittest.TestCase):
    def names(self, text):
        (symbol,) = with_uses(
            [Symbol("dock.moor", "moor", "function", module="dock", language="python", doc=Doc(body=text))],
            text.encode(),
        )
        return [m.text for m in symbol.mentions]

    def test_each_is_named_once(self):
        self.assertEqual(
            self.names("{text}`tide` and {text}`tide`, then {text}` api://a/b#c `"), ["tide", "api://a/b#c"]
        )

    def test_code_that_shows_how_one_is_written_takes_none(self):
        for text in (
            "Write ``{text}`tide` ``.",
            "```\n{text}`tide`\n```",
            "    {text}`tide`",
            "````\n```\n{text}`tide`\n```\n````",
        ):
            with self.subTest(text):
                self.assertEqual(self.names(text), [])
                self.assertEqual(self.names(f"{text}\n\n{{text}}`wind`"), ["wind"])

    def test_quotes_that_are_not_closed_hide_nothing(self):
        self.assertEqual(self.names("Write `` or {text}`tide`."), ["tide"])


if __name__ == "__main__":
    unittest.main()
