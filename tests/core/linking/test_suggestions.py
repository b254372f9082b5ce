import unittest

from tests.support.sources import gather_files
from zarbek.core.linking.suggestions import suggest


def index(text, version="1", **more):
    files = {"p/__init__.py": "", "p/a.py": text, **more}
    return gather_files(files, slug="p", version=version)[1]


class Suggestions(unittest.TestCase):
    def check(self, name, before, after, expected):
        found = suggest(name, after, before)
        self.assertEqual((found.name, found.certain) if found else None, expected)

    def test_moved_to_another_module(self):
        self.check("p.a.f", index("def f(x: int): ..."), index("", **{"p/b.py": "def f(x: int): ..."}), ("p.b.f", True))

    def test_renamed_with_the_same_signature(self):
        self.check("p.a.f", index("def f(x: int): ..."), index("def g(x: int): ..."), ("p.a.g", False))

    def test_two_candidates_are_nobodys_guess(self):
        self.check(
            "p.a.f", index("def f(x: int): ..."), index("def long_one(x: int): ...\ndef another(x: int): ..."), None
        )

    def test_named_in_the_deprecation(self):
        old = index('def f():\n    """D.\n\n    .. deprecated:: 1\n       Use :func:`other`."""\ndef other(a, b): ...')
        self.check("p.a.f", old, index("def other(a, b): ..."), ("p.a.other", True))

    def test_the_only_one_of_that_name_and_near_spellings_are_likely(self):
        target = index("def load_table(): ...")
        self.check("p.zz.load_table", None, target, ("p.a.load_table", False))
        self.check("p.a.load_tabel", None, target, ("p.a.load_table", False))
        self.check("p.a.unrelated", None, target, None)


if __name__ == "__main__":
    unittest.main()
