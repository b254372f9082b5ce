"""A text that asks for nothing that differs is linked as before."""

import unittest

from hypothesis import given, settings

from tests.support.portals import MemoryPortal
from tests.support.randomsources import fill, sources
from tests.support.sources import gather_files
from zarbek.core.linking.changed_names import changed_names
from zarbek.core.linking.dependency_trace import NOBODY, made_key, root_of
from zarbek.core.linking.linker import Linker

SLUGS = ["lib", "mid", "use"]


def release(files, number, version):
    files = {fill(name, SLUGS): fill(text, SLUGS) for name, text in files.items()}
    return gather_files(files, slug=SLUGS[number], version=version)


def links(index, symbols, *others):
    linker = Linker(index, MemoryPortal(index, *others))
    return {text.path: text for text in linker.link_symbols(symbols)}


def plain(links):
    """Links without versions, which are those that count."""
    return [(k.outcome, k.kind, k.project, k.path, k.via, k.reason, k.stale, k.wanted) for k in links]


class Soundness(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(sources(0), sources(0), sources(1), sources(2))
    def test_what_is_not_touched_is_linked_alike(self, old_files, new_files, mid_files, use_files):
        _, old, _ = release(old_files, 0, "1.0.0")
        _, new, _ = release(new_files, 0, "1.0.1")
        _, mid, _ = release(mid_files, 1, "1.0.0")
        _, use, symbols = release(use_files, 2, "1.0.0")
        before, after = links(use, symbols, old, mid), links(use, symbols, old, new, mid)
        touched = changed_names(old, new)
        for path, text in before.items():
            asked = {key for project, key in text.asked if project == "lib"}
            if asked & touched or "@" in asked:
                continue
            self.assertEqual(plain(text.links), plain(after[path].links), (path, text.mentions))

    def test_a_member_that_comes_to_a_foreign_base_touches_those_who_derive(self):
        user = {"use/__init__.py": 'import lib\nclass Own(lib.Base):\n    """:meth:`Own.go` and :meth:`Own.stop`."""\n'}
        _, index, symbols = gather_files(user, slug="use", version="1.0")
        sides = [gather_files({"lib/__init__.py": f"class Base:\n    def {m}(self): ...\n"}, slug="lib", version=v)[1]
                 for m, v in (("go", "1.0"), ("stop", "1.1"))]  # fmt: skip
        before = links(index, symbols, sides[0])["use.Own"]
        self.assertEqual([k.outcome for k in before.links], ["linked", "linked", "outside"])
        self.assertNotEqual({key for _, key in before.asked} & changed_names(*sides), set())

    def test_an_edit_without_meaning_touches_nothing(self):
        old = gather_files({"lib/__init__.py": "def f(a):\n    return 1\n"}, slug="lib", version="1.0")[1]
        new = gather_files(
            {"lib/__init__.py": "# Moved down.\n\ndef f(a):\n    return 2\n"}, slug="lib", version="1.1"
        )[1]
        self.assertEqual(changed_names(old, new), frozenset())

    def test_nobodys_names_are_waited_for_by_their_beginning(self):
        _, index, symbols = gather_files(
            {"use/__init__.py": '""":func:`com.halmere.berth.plan`"""'}, slug="use", version="1"
        )
        self.assertIn((NOBODY, "python:com.halmere"), links(index, symbols)["use"].asked)
        self.assertEqual(root_of("github.com/halmere/mast"), "github.com/halmere")


class Made(unittest.TestCase):
    def test_words_that_macros_are_handed_ask_again_for_what_they_may_declare(self):
        frame = "/// X.\nnamespace x {{ class A {{}}; }}\n{}\n"
        before, after = (
            gather_files({"x.hpp": frame.format(t)}, version=v)[1] for t, v in (("", "1"), ("MAKE_VALUE(made)", "2"))
        )
        self.assertIn(made_key("made"), changed_names(before, after))


if __name__ == "__main__":
    unittest.main()
