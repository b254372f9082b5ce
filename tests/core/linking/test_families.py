"""Languages of one platform share names across projects; others do not."""

import unittest

from tests.support.sources import gather_files, links_of

JAVA = {
    "pom.xml": "<project><groupId>h</groupId><artifactId>berths</artifactId><version>1.0</version></project>",
    "src/main/java/h/berths/Berth.java": """
        package h.berths;
        /** A berth. */
        public class Berth {
            /** Moors. */ public void moor(int lines) {}
            /** Casts off. */ public static int castOff() { return 0; }
        }""",
}


def index_of(files, slug):
    return gather_files(files, slug=slug, version="1.0")[1]


class Families(unittest.TestCase):
    def test_kotlin_finds_what_java_declares(self):
        found = links_of(
            {
                "fares/Fare.kt": """
                    package h.fares
                    import h.berths.Berth
                    import h.berths.Berth as Place
                    /** For [Berth], [Berth.moor], [Place.castOff], [h.berths.Berth.gone]. */
                    class Fare(val at: Berth)"""
            },
            index_of(JAVA, "berths"),
            slug="fares",
            version="1.0",
        )
        expected = {
            "Berth": ("linked", "h.berths.Berth"),
            "Berth.moor": ("linked", "h.berths.Berth.moor(int)"),
            "Place.castOff": ("linked", "h.berths.Berth.castOff()"),
            "h.berths.Berth.gone": ("dangling", "h.berths.Berth.gone"),
        }
        for text, link in expected.items():
            with self.subTest(text):
                self.assertEqual(found["h.fares.Fare", text], link)

    def test_another_family_does_not_see_the_same_name(self):
        python = {"h/__init__.py": "", "h/berths.py": '"""See :class:`h.berths.Berth`."""\n'}
        found = links_of(python, index_of(JAVA, "berths"), slug="papers", version="1.0")
        self.assertNotEqual(found["h.berths", "h.berths.Berth"][0], "linked")

    def test_typescript_finds_an_installed_package(self):
        charts = {
            "package.json": '{"name": "@h/charts", "version": "1.0.0", "types": "index.d.ts"}',
            "index.d.ts": "/** A chart. */\nexport declare class Chart {\n  /** Draws. */\n  draw(scale: number): void;\n}\n",
        }
        deck = {
            "package.json": '{"name": "@h/deck", "version": "1.0.0", "dependencies": {"@h/charts": "^1.0.0"}}',
            "src/deck.ts": """
                import { Chart as Map } from "@h/charts";
                /** Shows a {@link Map}, by {@link Map.draw}, not {@link Map.paint}. */
                export class Deck { map: Map; }""",
        }
        found = links_of(deck, index_of(charts, "charts"), slug="deck", version="1.0")
        outcomes = {text: link for (_, text), link in found.items()}
        self.assertEqual(outcomes["Map"][0], "linked")
        self.assertRegex(outcomes["Map.draw"][1], r"\bChart\.draw$")
        self.assertEqual(outcomes["Map.paint"][0], "dangling")

    def test_rust_finds_a_crate_it_depends_on(self):
        keel = {
            "Cargo.toml": '[package]\nname = "keel-math"\nversion = "1.0.0"\n',
            "src/lib.rs": "//! Sums.\n\n/// A keel.\npub struct Keel;\nimpl Keel {\n    /// Its depth.\n    pub fn depth(&self) {}\n}\n",
        }
        hull = {
            "Cargo.toml": '[package]\nname = "hull"\nversion = "1.0.0"\n[dependencies]\nkeel-math = "1"\n',
            "src/lib.rs": "use keel_math::Keel as K;\n/// A [`K`] of [`K::depth`], [keel_math::Keel], [`K::height`].\npub struct Hull;\n",
        }
        found = links_of(hull, index_of(keel, "keel-math"), slug="hull", version="1.0")
        outcomes = {text: link for (_, text), link in found.items()}
        self.assertEqual(outcomes["`K`"], ("linked", "keel_math::Keel"))
        self.assertEqual(outcomes["`K::depth`"], ("linked", "keel_math::Keel::depth"))
        self.assertEqual(outcomes["keel_math::Keel"], ("linked", "keel_math::Keel"))
        self.assertEqual(outcomes["`K::height`"], ("dangling", "keel_math::Keel::height"))

    def test_go_finds_a_module_by_its_import(self):
        mast = {
            "go.mod": "module h.example/mast\n",
            "mast.go": "package mast\n\n// Mast stands.\ntype Mast struct{ Height int }\n",
        }
        relay = {
            "go.mod": "module h.example/relay\nrequire h.example/mast v1.0.0\n",
            "relay.go": 'package relay\n\nimport m "h.example/mast"\n\n// Relay has a [m.Mast], a [m.Mast.Height], no [m.Sail].\ntype Relay struct{ On m.Mast }\n',
        }
        found = links_of(relay, index_of(mast, "mast"), slug="relay", version="1.0")
        outcomes = {text: link for (_, text), link in found.items()}
        self.assertEqual(outcomes["m.Mast"], ("linked", "h.example/mast.Mast"))
        self.assertEqual(outcomes["m.Mast.Height"], ("linked", "h.example/mast.Mast.Height"))
        self.assertEqual(outcomes["m.Sail"][0], "dangling")

    def test_cpp_finds_a_namespace_of_another_project(self):
        hull = {
            "hull.hpp": "#pragma once\n/// Hulls.\nnamespace hull {\n/// A plate.\nclass Plate { public: void weld(int n); };\n}\n"
        }
        yard = {
            "yard.hpp": "#include <hull/hull.hpp>\n/// Yards.\nnamespace yard {\nusing namespace hull;\n/// Welds a \\ref hull::Plate and \\ref Plate::weld.\nvoid build(const hull::Plate &p);\n}\n"
        }
        found = links_of(yard, index_of(hull, "hull"), slug="yard", version="1.0")
        outcomes = {text: link for (_, text), link in found.items()}
        self.assertEqual(outcomes["\\ref hull::Plate"], ("linked", "hull::Plate"))
        self.assertEqual(outcomes["\\ref Plate::weld."], ("linked", "hull::Plate::weld(int)"))


if __name__ == "__main__":
    unittest.main()
