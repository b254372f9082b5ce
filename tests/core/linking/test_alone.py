"""One project in a portal that holds nothing else: what it names of others is no fault of its texts."""

import unittest

from tests.support.sources import gather_files, links_of, page_links_of, pages_of


class Alone(unittest.TestCase):
    def outcomes(self, files):
        return {text: outcome for (_, text), (outcome, _) in links_of(files).items()}

    def test_java_brings_names_that_are_spelt_like_ones_own(self):
        found = self.outcomes({
            "a/Lists.java": "package a;\nimport java.util.*;\n"
            "/** Like {@link List}, {@link Recor}, {@link java.util.Map} and {@link Lists}. */\npublic class Lists {}\n",
            "a/Record1.java": "package a;\npublic class Recor1 {}\n",
        })  # fmt: skip
        self.assertEqual(
            [found[n] for n in ("List", "Recor", "java.util.Map", "Lists")], ["outside", "outside", "outside", "linked"]
        )

    def test_a_few_types_in_a_namespace_of_the_platform_do_not_own_it(self):
        files = {f"C{n}.cs": f"namespace Kit {{ public class C{n} {{}} }}\n" for n in range(30)}
        files["Tuple.cs"] = "namespace System { public class Tuple9 {} }\n"
        files["Use.cs"] = (
            "namespace Kit {\n/// <summary>See <see cref=\"T:System.Double\"/>, <see cref=\"System.Tuple9\"/>.</summary>\n"
            "public class Use {}\n}\n"
        )  # fmt: skip
        found = self.outcomes(files)
        self.assertEqual(found["T:System.Double"], "outside")

    def test_kotlin_names_extensions_by_what_they_extend(self):
        links = links_of({
            "k.kt": "package k\ninterface Scope\nobject Everywhere : Scope\n/** See [Scope.launch], [Everywhere.launch], [Scope.gone]. */\n"
            "class Use\nfun Scope.launch(a: Int) {}\nfun Scope.launch(a: String) {}\n",
        })  # fmt: skip
        found = {text: link for (_, text), link in links.items()}
        self.assertEqual(found["Scope.launch"], ("linked", "k.launch(Int)"))
        self.assertEqual(found["Everywhere.launch"][0], "linked")
        self.assertEqual(found["Scope.gone"][0], "dangling")

    def test_python_imports_what_is_not_read(self):
        found = self.outcomes({
            "p/__init__.py": "from ._fast import Tree\n",
            "p/a.py": '"""See :class:`p.Tree`, :class:`p.Gone`, :class:`CacheControl`."""\nclass _CacheControl: ...\n',
        })  # fmt: skip
        self.assertEqual([found[n] for n in ("p.Tree", "p.Gone", "CacheControl")], ["outside", "dangling", "outside"])

    def test_typescript_behind_a_barrel_that_the_build_makes(self):
        found = links_of({
            "package.json": '{"name": "kit", "types": "dist/made.d.ts"}',
            "src/index.ts": "export * from './hull';\nexport * from './deck';\n",
            "src/hull.ts": "/** See {@link Deck}, {@link Deck.clean}, {@link Missing}. */\nexport class Hull {}\n",
            "src/deck.ts": "export class Deck { clean(): void {} }\n",
        })  # fmt: skip
        by_text = {text: link for (_, text), link in found.items()}
        self.assertEqual(by_text["Deck"], ("linked", "kit.Deck"))
        self.assertEqual(by_text["Deck.clean"], ("linked", "kit.Deck.clean"))
        self.assertEqual(by_text["Missing"][0], "outside")

    def test_lifetimes_are_no_names(self):
        _, _, symbols = gather_files({
            "Cargo.toml": '[package]\nname = "ship"\nversion = "1.0.0"\n',
            "src/lib.rs": "pub mod de;\npub struct Reader<'de> { at: &'de Hull }\npub struct Hull;\n", "src/de.rs": "",
        })  # fmt: skip
        self.assertNotIn("de", {m.name for s in symbols for m in s.mentions})

    def test_guides_may_name_symbols_and_labels_of_their_program(self):
        links = page_links_of({
            "zarbek.toml": "", "p/__init__.py": "def f(): ...",
            "docs/index.md": "# One\n\n[a](p.f) [b](some-label) [c](gone.md) [d](sub/gone)\n",
        })  # fmt: skip
        self.assertEqual([links[n].outcome for n in ("p.f", "some-label", "gone.md", "sub/gone")],
                         ["linked", "outside", "dangling", "dangling"])  # fmt: skip

    def test_guides_may_lead_to_files_that_are_no_pages(self):
        files = {
            "docs/index.md": "# A\n\n[code](../src/a.py), [above](../../issues), [gone](gone.md)\n", "src/a.py": "X = 1\n",
        }  # fmt: skip
        _, index, _ = gather_files(files)
        self.assertEqual(list(index.pages), ["index"])
        self.assertEqual([m.name for page in pages_of(files) for m in page.mentions], ["docs/gone.md"])


class Prepared(unittest.TestCase):
    def test_c_names_are_everybodys_whatever_marks_them_and_whatever_else_is_beside_them(self):
        files = {
            "tools/pretty.py": "def show(): ...\n",
            "hull.h": "#define HULL_EXTERN(type) extern __attribute__((visibility(\"default\"))) type\n"
            "#define HULL_CALLBACK(name) (*name)\n#define _HULL_MARK extern\n#define HULL_VAR _HULL_MARK\n"
            "typedef struct hull_plate hull_plate;\n"
            "typedef enum { HULL_DRY, HULL_WET } hull_state;\n"
            "typedef int HULL_CALLBACK(hull_watch)(hull_plate *plate, void *payload);\n"
            "/** Looks at a plate as `HULL_WET`; see `hull_free()`. */\n"
            "HULL_EXTERN(hull_state) hull_look(hull_plate *plate, hull_watch watch);\n"
            "HULL_VAR const hull_state hull_first;\n"
            "HULL_DEPRECATED_IN_2_FOR(hull_look)\nhull_state hull_see(hull_plate *plate);\n"
            "typedef struct old_plate old_plate HULL_DEPRECATED_TYPE_FOR(hull_plate);\nvoid hull_free(hull_plate *plate);\n",
        }  # fmt: skip
        _, index, _ = gather_files(files)
        kinds = {s.path: s.kind for s in index.symbols.values() if s.language == "c"}
        for name in ("hull_look", "hull_see", "hull_free"):
            self.assertEqual(kinds[name], "function", name)
        self.assertEqual((kinds["hull_watch"], kinds["hull_first"], kinds["old_plate"]), ("type", "constant", "type"))
        found = links_of(files)
        for path, text in (("hull_look", "hull_state"), ("hull_look", "hull_watch"), ("hull_look", "HULL_WET"),
                           ("hull_look", "hull_free()"), ("hull_see", "hull_plate")):  # fmt: skip
            self.assertEqual(found[path, text][0], "linked", (path, text))

    def test_rust_modules_elsewhere_conditions_and_macros_of_both_kinds(self):
        _, index, _ = gather_files({
            "Cargo.toml": '[package]\nname = "ship"\nversion = "1.0.0"\n',
            "src/lib.rs": '#[path = "../other/mod.rs"]\nmod inner;\npub use inner::Thing;\n'
            "cfg_rt! {\n    pub struct Made;\n}\n"
            "pub macro check {\n    ($a:expr) => { $a },\n    () => {},\n}\n/// After.\npub struct After;\n",
            "other/mod.rs": "/// A.\npub struct Thing;\n",
        })  # fmt: skip
        self.assertLessEqual({"ship::Thing", "ship::Made", "ship::After"}, index.symbols.keys())

    def test_rust_items_under_a_condition_or_given_to_a_macro(self):
        _, index, _ = gather_files({
            "Cargo.toml": '[package]\nname = "ship"\n',
            "src/lib.rs": "pub struct Hull;\nimpl Hull {\n    feature! {\n        #![all(unstable, arch = [\"x\"])]\n"
            "        /// Weighs.\n        pub fn weigh(&self) -> u8 { 1 }\n    }\n}\n"
            "pin_project! {\n    /// Decks.\n    pub struct Deck { #[pin] at: u8 }\n}\n",
        })  # fmt: skip
        self.assertEqual(index.symbols["ship::Hull::weigh"].visibility, "public")
        self.assertEqual(index.symbols["ship::Deck"].summary, "Decks.")

    def test_cpp_inline_namespaces_by_macros_conditions_inside_and_words_of_macros(self):
        found = links_of({
            "x.hpp": "#define X_BEGIN namespace x { inline namespace v1 {\n#define X_END }}\nX_BEGIN\n"
            "/// F; see x::f, x::made and x::lost.\nclass Use {};\n"
            "template <typename T>\n#ifndef READING\nint\n#else\nlong\n#endif\nf(T a);\n"
            "MAKE_VALUE(maker, made)\nX_END\n"
            "namespace y {\nusing namespace x;\n}\n/// See y::f.\nnamespace y { class More {}; }\n",
        })  # fmt: skip
        by_text = {text: link for (_, text), link in found.items()}
        self.assertEqual(by_text["x::f"], ("linked", "x::f(T)"))
        self.assertEqual((by_text["x::made"][0], by_text["x::lost"][0]), ("outside", "dangling"))
        self.assertEqual(by_text["y::f"], ("linked", "x::f(T)"))


if __name__ == "__main__":
    unittest.main()
