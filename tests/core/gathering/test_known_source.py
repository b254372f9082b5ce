"""A source that is gathered again and again by one process gives what it gives who gathers it once."""

import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import write_files
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.gathering.known_source import KnownSource
from zarbek.core.material.held_bundle import HeldBundle, Holder

#: What each file may hold: names that others hand on, hide, double, and describe.
TEXTS = {
    "p/__init__.py": (
        '"""A package."""\n',
        '"""A package."""\nfrom p._inner import Thing\n\n__all__ = ["Thing"]\n',
        '"""Another text."""\nfrom p._inner import Thing as Item, help_out\n',
        None,
    ),
    "p/_inner.py": (
        'class Thing:\n    """A thing."""\n\n    def go(self, far):\n        """Go.\n\n        :param fra: how far."""\n',
        'class Thing:\n    """A thing, told again."""\n\n\ndef help_out(**keywords):\n    """Help."""\n',
        "class Thing(Other):\n    pass\n",
        "class Thing(:\n",
        None,
    ),
    "p/other.py": ('class Other:\n    """Of `p.Thing`."""\n', "\n\nclass Other:\n    pass\n", None),
    "lib.rs": ("//! A crate.\npub mod inner;\npub use inner::Kept;\n", "//! A crate.\nmod inner;\n"),
    "inner.rs": ("/// Kept.\npub struct Kept;\n", "/// Kept.\npub struct Kept;\n/// New.\npub fn add() {}\n", None),
    "docs/a.md": ("# A\n\nSee `p.Thing`.\n", "# A\n\n{include=b.md}\n", None),
}  # fmt: skip
PICKS = st.fixed_dictionaries({file: st.sampled_from(texts) for file, texts in TEXTS.items()})


def held(folder: Path, known: KnownSource | None) -> HeldBundle:
    holder = Holder()
    gather(folder, Path(), GatherOptions(slug="s", version="1", use_cache=False, known=known, write=holder))
    return holder.bundle


class Again(unittest.TestCase):
    @given(st.lists(PICKS, min_size=2, max_size=4))
    def test_whatever_is_saved_in_between(self, saves):
        known = KnownSource()
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for files in saves:
                for file in files:
                    (folder / file).unlink(missing_ok=True)
                write_files(folder, {file: text for file, text in files.items() if text is not None})
                self.assertEqual(held(folder, known), held(folder, None))

    def test_what_is_as_it_was_is_not_read_again_and_what_went_is_forgotten(self):
        known = KnownSource()
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(Path(name), {"a.py": '"""A."""\n', "b.py": '"""B."""\n'})
            held(folder, known)
            before = dict(known.readings.decoded)
            (folder / "a.py").write_text('"""Another."""\n')
            held(folder, known)
            self.assertEqual(len(before.keys() & known.readings.decoded.keys()), 1)
            self.assertEqual(len(known.readings.encoded), 2)


if __name__ == "__main__":
    unittest.main()
