"""Names to what they mean, within a project and across."""

import unittest

from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.suggestions import suggest

TIDE_1 = {
    "pyproject.toml": '[project]\nname = "tide"\nversion = "1.0"\n',
    "tide/__init__.py": "from tide.windows import Window, LEAST\n__all__ = ['Window', 'LEAST']\n",
    "tide/windows.py": '''
        LEAST = 20
        class Base:
            def open(self): """Open."""
        class Window(Base):
            """A window."""
        def load(): """Load :class:`Window`."""
    ''',
}
TIDE_2 = {
    **TIDE_1,
    "pyproject.toml": '[project]\nname = "tide"\nversion = "2.0"\n',
    "tide/__init__.py": "from tide.windows import Window, SHORTEST\n__all__ = ['Window', 'SHORTEST']\n",
    "tide/windows.py": TIDE_1["tide/windows.py"].replace("LEAST", "SHORTEST"),
}


def link(files, *others, ranges=None):
    """{text of a mention: link} of every mention of a source."""
    _, index, symbols = gather_files({"pyproject.toml": '[project]\nname = "own"\nversion = "1"\n', **files})
    portal = MemoryPortal(index, *others, ranges=ranges)
    linker = Linker(index, portal)
    return {
        m.text: found
        for text in linker.link_symbols(symbols)
        for m, found in zip(text.mentions, text.links, strict=True)
    }


class WithinAProject(unittest.TestCase):
    def test_scopes_from_the_inside_outward(self):
        links = link(
            {
                "own/__init__.py": "",
                "own/a.py": '''
            def f(): """Module."""
            class C:
                def f(self):
                    """See :meth:`f`, :func:`own.a.f` and :class:`C`."""
        ''',
            }
        )
        self.assertEqual([links[n].path for n in ("f", "own.a.f", "C")], ["own.a.C.f", "own.a.f", "own.a.C"])

    def test_imports_and_reexports_lead_to_the_one_symbol(self):
        links = link({
            "own/__init__.py": "from .b import Thing as Public",
            "own/b.py": "class Thing:\n    def go(self): ...",
            "own/c.py": 'from own import Public as P\ndef f():\n    """:class:`P`, :class:`own.Public`, :meth:`own.Public.go`"""',
        })  # fmt: skip
        self.assertEqual(
            [links[n].path for n in ("P", "own.Public", "own.Public.go")],
            ["own.Public", "own.Public", "own.Public.go"],
        )

    def test_inherited_members_are_found_on_their_class(self):
        links = link(
            {
                "own/__init__.py": '''
            class A:
                def run(self): ...
            class B(A):
                """:meth:`own.B.run`"""
        '''
            }
        )
        self.assertEqual((links["own.B.run"].path, links["own.B.run"].via), ("own.A.run", "own.B.run"))

    def test_relative_names_and_prefixes(self):
        links = link({
            "zarbek.toml": '[prefixes]\n_x = "own.x"\n',
            "own/__init__.py": "", "own/x/__init__.py": "from own.y import Deep\n",
            "own/y.py": 'class Deep:\n    def dig(self):\n        """:meth:`.dig`, :class:`.Deep`, :class:`_x.Deep`"""',
        })  # fmt: skip
        self.assertEqual(
            [links[n].path for n in (".dig", ".Deep", "_x.Deep")], ["own.x.Deep.dig", "own.x.Deep", "own.x.Deep"]
        )


class FalseAlarms(unittest.TestCase):
    def test_what_must_not_be_reported(self):
        links = link(
            {
                "own/__init__.py": '''
            import numpy
            class Odd(numpy.ndarray):
                """:meth:`own.Odd.reshape`, :class:`numpy.ufunc`, :class:`ValueError`, :class:`DataFrame`"""
            class Any_:
                """:attr:`own.Any_.whatever` and `nothing` and `own.maybe`"""
                def __getattr__(self, name): ...
        '''
            }
        )
        self.assertEqual({found.outcome for found in links.values()}, {"outside"})

    def test_what_must_be_reported(self):
        links = link(
            {
                "own/__init__.py": '''
            class Realty:
                """:meth:`own.Realty.gone`, :func:`Reality` and :class:`own.Never`"""
        '''
            }
        )
        self.assertEqual({text: found.outcome for text, found in links.items()}, dict.fromkeys(links, "dangling"))


class AcrossProjects(unittest.TestCase):
    def setUp(self):
        _, self.one, _ = gather_files(TIDE_1)
        _, self.two, _ = gather_files(TIDE_2)

    def test_a_range_decides_which_release_counts(self):
        source = {"own/__init__.py": '"""Shorter than :data:`tide.windows.LEAST`."""'}
        old = link(source, self.one, self.two, ranges={"tide": "<2"})["tide.windows.LEAST"]
        new = link(source, self.one, self.two, ranges={"tide": ">=1"})["tide.windows.LEAST"]
        self.assertEqual((old.outcome, old.version), ("linked", "1.0"))
        self.assertEqual((new.outcome, new.reason, new.wanted), ("dangling", "symbol", "tide.windows.LEAST"))

    def test_what_came_with_the_same_value_is_likely(self):
        found = suggest("tide.windows.LEAST", self.two, self.one)
        self.assertEqual((found.name, found.certain), ("tide.SHORTEST", False))

    def test_members_through_a_base_of_another_project(self):
        links = link(
            {
                "own/__init__.py": '''
            from tide import Window
            class Mine(Window):
                """:meth:`own.Mine.open`"""
        '''
            },
            self.two,
        )
        self.assertEqual(
            (links["own.Mine.open"].project, links["own.Mine.open"].path), ("tide", "tide.windows.Base.open")
        )

    def test_absolute_addresses(self):
        text = "[a](api://tide/tide.Window) [b](api://tide@1.0/tide.LEAST) [c](api://nobody/x) [d](api://tide@9/x) [e](api://tide/tide.Gone)"
        links = link({"own/__init__.py": f'"""{text}"""'}, self.one, self.two)
        facts = {
            a.partition("//")[2]: (found.outcome, found.reason or ",".join(found.stale)) for a, found in links.items()
        }
        self.assertEqual(facts, {
            "tide/tide.Window": ("linked", ""), "tide@1.0/tide.LEAST": ("linked", "removed-later"),
            "nobody/x": ("dangling", "project"), "tide@9/x": ("dangling", "version"), "tide/tide.Gone": ("dangling", "symbol"),
        })  # fmt: skip


class Guides(unittest.TestCase):
    def test_pages_anchors_and_pictures(self):
        files = {
            "zarbek.toml": "", "docs/index.md": "# One\n\n[b](sub/two.md#part) [c](sub/two.md#no) [d](three.md) ![p](p.png) ![q](q.png)\n",
            "docs/sub/two.md": "# Two\n\n## Part\n\n[back](../index.md)\n", "docs/p.png": "x",
        }  # fmt: skip
        import tempfile
        from pathlib import Path

        from tests.support.sources import write_files
        from zarbek.core.gathering.gather import GatherOptions, gather
        from zarbek.core.material.bundlefile import BundleReader

        with tempfile.TemporaryDirectory() as name:
            gathered = gather(
                write_files(Path(name, "s"), files), Path(name, "b"), GatherOptions(slug="own", use_cache=False)
            )
            with BundleReader(gathered.path) as bundle:
                pages = list(bundle.pages())
        _, index, _ = gather_files(files, slug="own")
        linker = Linker(index, MemoryPortal(index))
        outcomes = {
            m.text: (found.outcome, found.reason)
            for t in linker.link_pages(pages)
            for m, found in zip(t.mentions, t.links, strict=True)
        }
        self.assertEqual(outcomes, {
            "sub/two.md#part": ("linked", ""), "sub/two.md#no": ("dangling", "anchor"), "three.md": ("dangling", "page"),
            "p.png": ("linked", ""), "q.png": ("dangling", "asset"), "../index.md": ("linked", ""),
        })  # fmt: skip


if __name__ == "__main__":
    unittest.main()
