import unittest

from tests.support.sources import gather_files, pages_of
from zarbek.core.editions.restriction import restricted
from zarbek.core.editions.visibility import audience_of
from zarbek.core.gathering.flags import FlagRules
from zarbek.core.model.edition import NOTHING, Edition


def _symbols(files):
    return {symbol.path: symbol for symbol in gather_files(files, slug="own")[2]}


def variants(files):
    return {path: symbol.variants for path, symbol in _symbols(files).items() if symbol.variants}


class OfElements(unittest.TestCase):
    def test_patterns_hold_for_what_lies_within(self):
        files = {
            "a.py": "class A:\n    def f(self): ...\ndef g(): ...\n",
            "zarbek.toml": '[flags]\ninner = ["a.A"]\nodd = ["a.*"]\n',
        }
        found = variants(files)
        self.assertEqual((found["a.A"], found["a.A.f"], found["a.g"]), (["inner", "odd"], ["inner", "odd"], ["odd"]))
        self.assertNotIn("a", found)

    def test_comments_of_any_form(self):
        for file, text in {
            "a.py": 'def f():\n    """Do it.\n\n    :flag: inner, crew\n    """\n', "A.java": "/** Do it.\n * @flag inner, crew\n */\npublic class A {}\n",
            "a.ts": "/** Do it.\n * @flag inner, crew\n */\nexport class A {}\n", "a.hpp": "/** Do it.\n * @flag inner, crew\n */\nclass A {};\n",
            "lib.rs": "/// Do it.\n///\n/// @flag inner, crew\npub struct A;\n", "a.go": "package a\n\n// A does it.\n//\n// @flag inner, crew\ntype A struct{}\n",
        }.items():  # fmt: skip
            with self.subTest(file):
                files = {file: text, "go.mod": "module x.org/a\n", "package.json": '{"name": "p", "version": "1.0.0", "main": "a.ts"}',
                         "Cargo.toml": '[package]\nname = "own"\nversion = "1.0.0"\n[lib]\npath = "lib.rs"\n'}  # fmt: skip
                symbols = [s for s in _symbols(files).values() if s.variants]
                self.assertEqual([(sorted(s.variants), s.doc.body) for s in symbols][:1], [(["crew", "inner"], "")])
                self.assertNotIn("flag", symbols[0].doc.summary)

    def test_supplements_and_guides(self):
        files = {"a.py": "def f(): ...\ndef g(): ...\n", "supplements/x.md": "---\nfor: api://own/a.f\nflags: [inner]\n---\n",
                 "guides/ops/b.md": "---\nflags: [crew]\n---\n# B\n", "zarbek.toml": '[flags]\nops = ["ops"]\n'}  # fmt: skip
        self.assertEqual(variants(files), {"a.f": ["inner"]})
        pattern = "---\nfor: [api:a.f, api://own/a.g*, api://other/a]\nflags: [crew]\n---\n"
        self.assertEqual(variants(files | {"supplements/x.md": pattern}), {"a.f": ["crew"], "a.g": ["crew"]})
        self.assertEqual(
            {p.path: p.variants for p in pages_of(files, slug="own")},
            {"ops/b": ["crew", "ops"], "supplements/x": ["inner"]},
        )

    def test_supplements_for_what_not_all_readers_see_are_for_as_few(self):
        files = {
            "a.py": "class _A:\n    def f(self): ...\ndef g(): ...\n",
            "p/B.java": "package p;\nclass B { private int x; public int y; }\n",
        }
        private, internal = ["=internal", "=private"], ["=internal"]
        for targets, marks in {
            "[api:a._A]": private,
            "['api:a._A.*']": private,
            "[api:p.B]": internal,
            "[api:p.B#x, api:p.B]": internal,
            "[api:p.B.x, api:a._A]": private,
            "[api:a._A, api:a.g]": [],
            "[api:a._A, api://other/a]": [],
            "[api:a.gone]": [],
        }.items():
            with self.subTest(targets):
                (page,) = pages_of(files | {"supplements/x.md": f"---\nfor: {targets}\n---\nx\n"}, slug="own")
                self.assertEqual(page.variants, marks)
        self.assertEqual(
            [audience_of({"visibility": v}).has(["=internal", "x"]) for v in ("public", "private")], [False, True]
        )

    def test_a_pattern_is_no_expression(self):
        rules = FlagRules({"x": ["a.(b*", "c"]})
        self.assertEqual(
            [bool(rules.of(p)) for p in ("a.(bc", "a.b", "c", "c.d", "cd")], [True, False, True, True, False]
        )


class Rules(unittest.TestCase):
    def test_without_and_only(self):
        cases = [
            ([], [], ["x"], True),
            (["x"], [], ["x"], False),
            (["x"], [], [], True),
            ([], ["x"], [], False),
            (["y"], ["x"], ["x", "y"], False),
        ]
        for without, only, flags, expected in cases:
            with self.subTest((without, only, flags)):
                self.assertEqual(Edition(without=without, only=only).has(flags), expected)
        self.assertFalse(NOTHING.has([]))

    def test_a_restricted_index_has_no_name_of_the_rest(self):
        files = {
            "a.py": "class A:\n    def f(self): ...\nclass B: ...\n",
            "zarbek.toml": '[flags]\nx = ["a.A"]\n[editions.e]\nwithout = ["x"]\n',
        }
        _, index, _ = gather_files(files, slug="own")
        made = restricted(index, audience_of(index.manifest.options, index.manifest.editions["e"]))
        self.assertEqual(sorted(made.symbols), ["a", "a.B"])
        self.assertFalse(made.has_name("a.A.f"))

    def test_levels_are_at_most_those_of_the_project(self):
        self.assertEqual(
            audience_of({"visibility": "internal"}, Edition(visibility="public")).levels, ("public", "protected")
        )
        self.assertEqual(
            audience_of({"visibility": "public"}, Edition(visibility="private")).levels, ("public", "protected")
        )


if __name__ == "__main__":
    unittest.main()
