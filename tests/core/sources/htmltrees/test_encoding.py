"""Bytes of pages to text."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.htmltrees.encoding import decode_page

PAGE = "<title>Höhe über Normalnull — 潮位</title>"


class Encodings(unittest.TestCase):
    def test_by_mark_by_what_the_page_says_and_by_its_bytes(self):
        latin = "<title>Höhe</title>"
        for data, text in (
            (PAGE.encode(), PAGE),
            (PAGE.encode("utf-8-sig"), PAGE),
            (PAGE.encode("utf-16"), PAGE),
            ("\ufeff".encode("utf-16-be") + PAGE.encode("utf-16-be"), PAGE),
            (b'<meta charset="iso-8859-1">' + latin.encode("latin-1"), '<meta charset="iso-8859-1">' + latin),
            (b'<meta http-equiv=content-type content="text/html; charset=EUC-JP">\xc4\xac', None),
            (b'<?xml version="1.0" encoding="ISO-8859-15"?>\xa4', '<?xml version="1.0" encoding="ISO-8859-15"?>€'),
            (b"<meta charset=utf-16>" + PAGE.encode(), "<meta charset=utf-16>" + PAGE),
            (b"<meta charset=no-such>" + PAGE.encode(), "<meta charset=no-such>" + PAGE),
        ):  # fmt: skip
            with self.subTest(data[:30]):
                found = decode_page(data)
                self.assertEqual(found, text) if text else self.assertTrue(found.endswith("潮"))

    def test_a_mark_counts_more_than_what_the_page_says(self):
        self.assertIn("Höhe", decode_page(b"\xef\xbb\xbf<meta charset=iso-8859-1>" + PAGE.encode()))

    def test_old_pages_that_say_nothing(self):
        text = "<p>Die Fähre fährt täglich außer Montag über die Förde, häufiger im Frühjahr.</p>" * 3
        self.assertEqual(decode_page(text.encode("windows-1252")), text)

    @given(st.binary(max_size=300))
    def test_any_bytes_are_some_text(self, data):
        self.assertIsInstance(decode_page(data), str)
        decode_page(b"<meta charset=shift_jis>" + data)


if __name__ == "__main__":
    unittest.main()
