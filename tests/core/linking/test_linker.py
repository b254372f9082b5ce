"""Names to what they mean, within a project and across."""

import unittest

from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files, links_of, page_links_of
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

    def test_a_module_that_answers_to_some_names_has_lost_the_others(self):
        hook = "def __getattr__(name):\n    if name {}:\n        return 1\n    raise AttributeError(name)\n"
        before = self.earlier({"own/__init__.py": "def steer(): ...\ndef row(): ...\n"})
        text = '""":func:`own.steer`, :func:`own.row`"""\n'
        for test, outcomes in (
            ('== "row"', {"own.steer": "dangling", "own.row": "outside"}),
            ("in TABLE", {"own.steer": "outside", "own.row": "outside"}),
        ):
            with self.subTest(test):
                links = link({"own/__init__.py": text + hook.format(test)}, before)
                self.assertEqual({t: found.outcome for t, found in links.items()}, outcomes)

    def test_a_package_that_offers_functions_called_like_their_modules_is_known_whole(self):
        files = {
            "own/__init__.py": "from own.bridges import *\nfrom own.cuts import *\n",
            "own/bridges.py": "from own.cuts import *\n__all__ = ['bridges']\ndef bridges():\n    \"\"\"See :func:`cuts`.\"\"\"\n",
            "own/cuts.py": "from own.bridges import *\n__all__ = ['cuts', 'boundary']\ndef cuts():\n    \"\"\"See :func:`boundary`.\"\"\"\n"
                           "def boundary(): ...\n",
        }  # fmt: skip
        _, before, _ = gather_files({"pyproject.toml": '[project]\nname = "own"\nversion = "1"\n', **files})
        later = {
            **files,
            "own/cuts.py": files["own/cuts.py"].replace(", 'boundary'", "").replace("def boundary", "def rim"),
        }
        _, after, symbols = gather_files({"pyproject.toml": '[project]\nname = "own"\nversion = "2"\n', **later})
        found = {}
        for text in Linker(after, MemoryPortal(after, before)).link_symbols(symbols):
            found.update((m.text, link.outcome) for m, link in zip(text.mentions, text.links, strict=True))
        self.assertEqual(found, {"cuts": "linked", "boundary": "dangling"})

    def test_names_of_an_earlier_release_that_are_elsewhere_now(self):
        """A base outside may have the one; of the other there is only one."""
        before = self.earlier({
            "own/http.py": "from .structs import HeaderSet\n\ndef parse(): return HeaderSet",
            "own/structs.py": "class HeaderSet: ...\nclass Multi:\n    def keys(self): ...",
        })  # fmt: skip
        links = link({
            "own/__init__.py": "",
            "own/http.py": 'def parse(): """A :class:`HeaderSet`."""',
            "own/structs.py": 'class HeaderSet: ...\nclass Multi(dict):\n    """See :meth:`keys`."""',
        }, before)  # fmt: skip
        self.assertEqual(
            {text: found.outcome for text, found in links.items()}, {"HeaderSet": "linked", "keys": "outside"}
        )

    def test_what_a_facade_hands_on_from_elsewhere_is_not_missed(self):
        old = {"Cargo.toml": '[package]\nname = "own"\nversion = "1.0.0"\n', "src/lib.rs": "pub mod parts;\npub use parts::Arg;\n",
               "src/parts.rs": "pub struct Arg;\nimpl Arg { pub fn short(&self) {} }\n"}  # fmt: skip
        text = "//! See [`Arg::short`][crate::Arg::short] and [`gone`](crate::gone::Arg).\n"
        new = {**old, "src/lib.rs": text + "pub use own_parts::*;\n"}
        del new["src/parts.rs"]
        found = links_of(new, gather_files(old, slug="own", version="1.0.0")[1], slug="own", version="2.0.0")
        self.assertEqual({outcome for outcome, _ in found.values()}, {"outside"})

    def test_related_names_of_a_class_are_its_members_too_and_no_misspelt_ones_of_others(self):
        links = link({
            "own/__init__.py": "",
            "own/shapes.py": """
                class Hull:
                    '''A hull.

                    See Also
                    --------
                    sort_planks
                    Domain
                    domian
                    '''
                    domain = 1
                    def sort_planks(self): '''Sorts.'''
            """,
            "own/a.py": "class Domain: ...", "own/b.py": "class Domain: ...",
        })  # fmt: skip
        self.assertEqual(
            (links["sort_planks"].outcome, links["sort_planks"].path), ("linked", "own.shapes.Hull.sort_planks")
        )
        self.assertEqual(links["Domain"].outcome, "outside")

    def test_a_template_of_which_only_specialisations_are_told(self):
        header = "template <> class Utf<8> {\npublic:\n  /// As all of \\ref Utf do, unlike \\ref Gone::go.\n  void go();\n};\n"
        self.assertEqual({outcome for outcome, _ in links_of({"u.hpp": header}, slug="p").values()}, {"outside"})

    def test_what_an_earlier_release_had_is_missed_by_its_bare_name(self):
        """Beside a base outside, of the class itself, and in headers."""
        java = "package a;\n/** Like {{@link Oct}}, {{@link #make(int)}}, {{@link #toString()}}. */\npublic class Hex {}{}\n"
        body = " { public void make(int n) {} }"
        old = {"a/Hex.java": java.format("", body), "a/Oct.java": "package a;\npublic class Oct {}\n"}
        found = links_of({"a/Hex.java": java.format(" extends Base", " {}")}, gather_files(old, slug="p", version="1")[1],
                         slug="p", version="2")  # fmt: skip
        self.assertEqual({text: outcome for (_, text), (outcome, _) in found.items() if text != "Base"},
                         {"Oct": "dangling", "#make(int)": "outside", "#toString()": "outside"})  # fmt: skip
        old["a/Hex.java"] = java.format(" extends Base", body)
        for was, outcome in ((body, "dangling"), (body.replace("public", "@Override public"), "outside")):
            old["a/Hex.java"] = java.format(" extends Base", was)
            found = links_of({"a/Hex.java": java.format(" extends Base", " {}")},
                             gather_files(old, slug="p", version="1")[1], slug="p", version="2")  # fmt: skip
            self.assertEqual(found["a.Hex", "#make(int)"][0], outcome)
        found = links_of({"a/Hex.java": java.format("", " {}")}, slug="p")
        self.assertEqual((found["a.Hex", "#make(int)"][0], found["a.Hex", "#toString()"][0]), ("dangling", "outside"))
        header = "/** See hull_free(). */\nvoid hull_make(void);\n"
        before = gather_files({"h.h": header + "void hull_free(void);\n"}, slug="p", version="1")[1]
        found = links_of({"h.h": header.replace("hull_free()", "\\ref hull_free()")}, before, slug="p", version="2")
        self.assertIn("dangling", {outcome for outcome, _ in found.values()})

    def test_what_does_the_same_in_another_way_may_be_named_when_it_is_deprecated(self):
        java = (
            "package a;\n/** A. See {@link #getDepth()}. */\npublic class Hex {\n    /** @deprecated No. */\n    @Deprecated\n"
            "    public int getDepth() { return 1; }\n    /** See {@link #getDepth()}. */\n    public void setDepth(int a) {}\n"
            "    /** See {@link #getDepth()}. */\n    public void sink() {}\n"
            "    /** See {@link #getDepth()}. */\n    public int getKeelDepth() { return 1; }\n}\n"
        )
        _, index, symbols = gather_files({"a/Hex.java": java})
        linker = Linker(index, MemoryPortal(index))
        stale = {t.path: [s for found in t.links for s in found.stale] for t in linker.link_symbols(symbols)}
        self.assertEqual(
            {path: found for path, found in stale.items() if found},
            {"a.Hex": ["deprecated"], "a.Hex.sink()": ["deprecated"]},
        )

    def test_a_package_of_which_all_is_deprecated_may_name_its_own(self):
        old = "package a.old;\n/** A. */\n@Deprecated\npublic class {} {{}}\n"
        told = "/** See {@link Hex}. */\npackage a.old;\n"
        files = {"a/old/Hex.java": old.format("Hex"), "a/old/package-info.java": told}
        for more, stale in (({}, 0), ({"a/old/Oct.java": old.format("Oct").replace("@Deprecated\n", "")}, 1)):
            _, index, symbols = gather_files({**files, **more}, slug="p", version="1")
            texts = list(Linker(index, MemoryPortal(index)).link_symbols(symbols))
            self.assertEqual(
                sum(len(found.stale) for text in texts for found in text.links if text.path == "a.old"), stale
            )

    def test_a_header_and_a_type_of_c_of_which_all_functions_are_deprecated(self):
        text = "/** A buffer. See ot_buffer_new(). */\ntypedef struct OtBuffer OtBuffer;\n"
        made = "/** Makes.\n * \\deprecated Use more. */\nvoid ot_buffer_{}(void);\n"
        old = "".join(made.format(name) for name in ("new", "free", "go"))
        for files, stale in (({"a.h": text + old}, 0), ({"a.h": text, "b.h": old}, 0),
                             ({"a.h": text, "b.h": old + "/** Keeps. */\nvoid ot_buffer_keep(void);\n"}, 1)):  # fmt: skip
            _, index, symbols = gather_files(files, slug="p", version="1")
            texts = list(Linker(index, MemoryPortal(index)).link_symbols(symbols))
            self.assertEqual(
                sum(len(found.stale) for text in texts for found in text.links if text.path == "OtBuffer"), stale
            )

    def test_an_overload_is_meant_by_the_bound_of_its_type_variable(self):
        java = (
            "package a;\npublic interface Hex<FUNC extends Number> {\n    int go(int n, FUNC f);\n}\n",
            "package a;\n/** Like {@link Hex#go(int, Number)}, not {@link Hex#go(int, Number, int)}. */\npublic class Oct {}\n",
        )
        found = links_of({"a/Hex.java": java[0], "a/Oct.java": java[1]}, slug="p")
        self.assertEqual(found["a.Oct", "Hex#go(int, Number)"], ("linked", "a.Hex.go(int,FUNC)"))
        self.assertEqual(found["a.Oct", "Hex#go(int, Number, int)"][0], "dangling")

    def test_a_file_that_cannot_be_read_is_one_finding_and_no_dangling_reference(self):
        standard = '"$schema": "https://json-schema.org/draft/2020-12/schema"'
        use = f'{{{standard}, "properties": {{"a": {{"$ref": "%s.schema.json"}}, "b": {{"$ref": "%s.schema.json#/$defs/B"}}}}}}'
        for broken, named, outcomes in (("{broken", "foo", {"outside"}), (f"{{{standard}}}", "bar", {"dangling"})):
            with self.subTest(named):
                found = links_of({"foo.schema.json": broken, "use.schema.json": use.replace("%s", named)})
                self.assertEqual({outcome for outcome, _ in found.values()}, outcomes)

    def test_what_only_one_symbol_was_called_is_missed_wherever_it_was(self):
        before = self.earlier({"own/a.py": "def steer_home(): ...\nclass Rig:\n    def haul(self): ...\n"})
        links = link({
            "own/__init__.py": "", "own/a.py": "class Rig: ...\n",
            "own/b.py": '""":func:`steer_home`, :meth:`Rig.haul`, :func:`dirname`."""\n',
            "own/c.py": 'from os.path import *\nclass C:\n    """:func:`steer_home`."""\n',
        }, before)  # fmt: skip
        outcomes = {text: found.outcome for text, found in links.items()}
        self.assertEqual(outcomes["Rig.haul"], "dangling")
        self.assertEqual(outcomes["dirname"], "outside")

    def test_the_root_of_a_crate_and_an_imported_type_are_known_whole(self):
        rust = links_of({
            "Cargo.toml": '[package]\nname = "ship"\nversion = "1.0.0"\n',
            "src/lib.rs": "pub mod deck;\npub fn sail() {}\n",
            "src/deck.rs": "/// See [`crate::sail`], [`crate::gone`] and [`super::gone_too`].\npub fn scrub() {}\n",
        })  # fmt: skip
        self.assertEqual([rust["ship::deck::scrub", f"`{n}`"][0] for n in ("crate::sail", "crate::gone", "super::gone_too")],
                         ["linked", "dangling", "dangling"])  # fmt: skip
        java = links_of({
            "a/Kind.java": "package a;\npublic enum Kind { BIG }\n",
            "b/Use.java": "package b;\nimport a.Kind;\n/** {@link Kind#BIG} or {@link Kind#SMALL}. */\npublic class Use {}\n",
        })  # fmt: skip
        self.assertEqual(java["b.Use", "Kind#BIG"][0], "linked")
        self.assertEqual(java["b.Use", "Kind#SMALL"], ("dangling", "a.Kind.SMALL"))

    def test_a_move_concerns_texts_that_write_the_old_place(self):
        before = self.earlier({"own/a.py": "def f(): ..."})
        text = '"""See :func:`f` and :func:`own.a.f`."""\nfrom .b import f{}\nf()\ndef g(): ...\n'
        for alias, moved in (("", ["moved"]), (" as f", [])):
            with self.subTest(alias):
                files = {"own/__init__.py": "", "own/a.py": text.format(alias), "own/b.py": "def f(): ..."}
                links = link(files, before)
                self.assertEqual((links["f"].stale, links["own.a.f"].stale), ([], moved))

    def earlier(self, files):
        pyproject = '[project]\nname = "own"\nversion = "0.9"\n'
        return gather_files({"pyproject.toml": pyproject, "own/__init__.py": "", **files})[1]

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
        outcomes = {text: (found.outcome, found.reason) for text, found in page_links_of(files).items()}
        self.assertEqual(outcomes, {
            "sub/two.md#part": ("linked", ""), "sub/two.md#no": ("dangling", "anchor"), "three.md": ("dangling", "page"),
            "p.png": ("linked", ""), "q.png": ("dangling", "asset"), "../index.md": ("linked", ""),
        })  # fmt: skip


if __name__ == "__main__":
    unittest.main()
