"""Sources that lead in circles or nowhere: an answer, in bounded time."""

import unittest
from unittest import mock

from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files
from zarbek.core.linking.index import ReleaseIndex, entry_of
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.resolver import Resolver
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol


def link(*projects):
    """(text, outcome) of every mention of the last of several projects, given as (slug, files)."""
    gathered = [gather_files(files, slug=slug, version="1.0.0") for slug, files in projects]
    portal = MemoryPortal(*(index for _, index, _ in gathered))
    _, own, symbols = gathered[-1]
    linker = Linker(own, portal)
    return [
        (mention.text, found.outcome) for text in linker.link_symbols(symbols)
        for mention, found in zip(text.mentions, text.links, strict=True)
    ]  # fmt: skip


class Circles(unittest.TestCase):
    def test_names_that_projects_offer_to_each_other_and_nobody_has(self):
        found = link(
            ("a", {"a/__init__.py": "from b import x, y\n"}),
            ("b", {"b/__init__.py": "from a import x\nfrom c import y\n"}),
            ("c", {"c/__init__.py": '"""See :func:`a.x`, :func:`a.y` and :func:`c.y`."""\nfrom b import y\n'}),
        )
        self.assertEqual({outcome for _, outcome in found} - {"outside", "dangling"}, set())

    def test_wildcards_and_modules_in_a_circle(self):
        found = link(
            ("a", {"a/__init__.py": "from b import *\n", "a/m.py": "from a import *\ndef real(): ...\n"}),
            (
                "b",
                {
                    "b/__init__.py": '"""See :func:`a.m.real` and :func:`a.none`."""\nfrom a import *\nfrom a.m import *\n'
                },
            ),
        )
        self.assertEqual(found[0], ("a.m.real", "linked"))

    def test_classes_that_derive_from_each_other_over_projects(self):
        found = link(
            ("a", {"a/__init__.py": "import b\nclass A(b.B):\n    def go(self): ...\n"}),
            (
                "b",
                {
                    "b/__init__.py": 'import a\nclass B(a.A):\n    """:meth:`B.go`, :meth:`a.A.go`, :meth:`a.A.none`."""\n'
                },
            ),
        )
        self.assertEqual([o for t, o in found if t in ("B.go", "a.A.go")], ["linked", "linked"])

    def test_a_class_that_derives_from_itself(self):
        self.assertEqual(
            [
                o
                for t, o in link(
                    ("a", {"a.py": 'class A(A):\n    """:meth:`A.go` :meth:`A.none`"""\n    def go(self): ...\n'})
                )
                if t == "A.go"
            ],
            ["linked"],
        )


class WithoutScopes(unittest.TestCase):
    def test_mentions_of_symbols_and_files_that_the_bundle_does_not_have(self):
        mention = Mention("a.b", "a.b", "link", "doc", 99_999, 7)
        lost = Symbol("x.y.z", "z", "function", "python", "nowhere", parent="not.there", file="gone.py",
                      mentions=[mention, Mention("~!.", "~!.", "type"), Mention("api://", "api://", "link")])  # fmt: skip
        index = ReleaseIndex("own", "1.0", symbols=[entry_of(lost)])
        linker = Linker(index, MemoryPortal(index))
        outcomes = [k.outcome for k in linker.link_symbol(lost).links]
        self.assertEqual(outcomes, ["outside", "outside", "dangling"])


class Many(unittest.TestCase):
    def test_one_missing_name_that_is_named_often_is_looked_for_once(self):
        user = {"use.py": "".join(f'def f{n}():\n    """{":func:`lib.none` " * 20}"""\n' for n in range(300))}
        real = Resolver._resolve
        with mock.patch.object(Resolver, "_resolve", autospec=True, side_effect=real) as resolve:
            found = link(("lib", {"lib.py": "def f(): ...\n"}), ("use", user))
        self.assertEqual((len(found), resolve.call_count), (6000, 1))


if __name__ == "__main__":
    unittest.main()
