"""Graphviz draws, and does nothing else."""

import copy
import time
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django import conf
from django.test import override_settings

from tests.support import apps_loaded  # noqa: F401
from zarbek.service.reference import diagrams
from zarbek.service.reference.diagrams import draw


class Drawing(unittest.TestCase):
    def setUp(self):
        home = Path(self.enterContext(TemporaryDirectory()))
        caches = copy.deepcopy(conf.settings.CACHES)
        caches["renderings"]["LOCATION"] = home
        self.enterContext(override_settings(CACHES=caches, RENDERINGS=home))

    def test_a_diagram_is_drawn_once(self):
        first = draw('digraph { "quay.Berth" -> pier }')
        self.assertIn(">quay.Berth</text>", first.svg)
        with mock.patch.object(diagrams, "_drawn", side_effect=AssertionError):
            self.assertEqual(draw('digraph { "quay.Berth" -> pier }'), first)

    def test_what_is_wrong_is_told_with_its_line(self):
        drawn = draw("digraph {\n a -> }")
        self.assertEqual((drawn.svg, drawn.why), ("", "syntax error in line 2 near '}'"))

    def test_files_are_not_read(self):
        picture = Path(self.enterContext(TemporaryDirectory())) / "secret.svg"
        picture.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>secret</text></svg>')
        drawn = draw(f'digraph {{ a [image="{picture}"] }}')
        self.assertNotIn("secret", drawn.svg.replace(str(picture), ""))
        self.assertNotIn("<image", drawn.svg)

    def test_what_takes_too_long_ends(self):
        edges = " ".join(f"n{a} -> n{a * 7 % 400 + b};" for a in range(330) for b in range(3))
        began = time.monotonic()
        drawn = draw(f"digraph {{ splines=ortho; nslimit=99999; mclimit=99999; {edges} }}")
        self.assertLess(time.monotonic() - began, 30)
        self.assertTrue(drawn.why)
        self.assertEqual(draw("graph {" + " " * 20_000 + "}").why, "it is longer than 20,000 characters")


if __name__ == "__main__":
    unittest.main()
