"""What style sheets load."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.htmltrees.styles import loaded_by


class Styles(unittest.TestCase):
    def test_pictures_fonts_and_sheets(self):
        css = """@import "a.css"; @import url(b.css) print; /* url(no.png) */
p { background: URL( "c d.png" ) no-repeat, image-set(url(e.png) 1x); content: "url(no.png)" }
@media print { @font-face { src: url(f.woff2), local("no") } }"""
        self.assertEqual([(a.address, a.line) for a in loaded_by(css)],
                         [("a.css", 1), ("b.css", 1), ("c d.png", 2), ("e.png", 2), ("f.woff2", 3)])  # fmt: skip

    @given(st.text("url(){}\"'@import;:\\/* a.", max_size=60))
    def test_no_text_is_too_broken(self, css):
        for loaded in loaded_by(css):
            self.assertGreaterEqual(loaded.line, 1)


if __name__ == "__main__":
    unittest.main()
