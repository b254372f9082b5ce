import unittest

from tests.support.sources import gather_files, links_of, read_as
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import read_source

FILES = {
    "package.json": '{"name": "@halmere/board", "version": "1.2.0", "types": "dist/index.d.ts"}',
    "tsconfig.json": '{\n  // short names\n  "compilerOptions": {"baseUrl": ".", "paths": {"~/*": ["src/*"]},},\n}',
    "src/index.ts": '/**\n * Boards.\n * @packageDocumentation\n */\nexport { Board, type Row as BoardRow } from "./board";\n'
    'export * from "./rows";\nexport default function start(): void {}\n',
    "src/board.ts": """
        import { Sum, helper as h } from "~/rows";
        /** A row. */
        export interface Row<T = string> { /** Its id. */ id: T; note?(x: Sum): void }
        /**
         * See {@link Row | rows}, {@link Board#open}, [this]{@link Sum.total}, {@link start}, {@link Board.gone}.
         *
         * @deprecated Use {@link start} instead.
         */
        export abstract class Board<T extends Row> implements Row<T> {
          constructor(public readonly name: string, private n = 1) {}
          /**
           * Opens.
           * @param at - where
           * @throws {RangeError} if not
           */
          open(at: number): boolean;
          open(at: string): boolean;
          open(at: any): boolean { return true }
          get size(): number { return 1 }
          set size(v) {}
          #hidden = 1;
        }
        function inner() {}
        const LIMIT = 5;
        export { LIMIT as Most };
        """,
    "src/rows.ts": "/** Sum. */\nexport type Sum = { /** All. */ total: number };\nexport enum Part { A = 1, B }\n"
    "export const helper = async (a: Sum): Promise<Sum> => a;\n",
    "src/rows.test.ts": "export const untested = 1;\n",
}


class Modules(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        _, cls.index, symbols = gather_files(FILES)
        cls.symbols = {s.path.removeprefix("@halmere/board"): s for s in symbols}

    def test_what_is_exported_is_public(self):
        found = {p: s.visibility for p, s in self.symbols.items()}
        self.assertEqual(found["/board.Most"], "public")
        self.assertEqual(found["/board.inner"], "internal")
        self.assertEqual(found[".Board.n"], "private")
        self.assertEqual(found[".Board.#hidden"], "private")
        self.assertNotIn("/rows.test.untested", found)

    def test_barrels_give_names(self):
        names = {a.name: a.path for a in self.index.alias_list if a.public}
        self.assertIn(".BoardRow", self.symbols)
        self.assertIn(".Sum.total", self.symbols)
        self.assertEqual(self.index.origins["@halmere/board.BoardRow"], "@halmere/board/board.Row")
        self.assertEqual(names["@halmere/board.default"], "@halmere/board.start")

    def test_overloads_are_signatures_of_one_symbol(self):
        opened = self.symbols[".Board.open"]
        self.assertEqual(
            [s.text for s in opened.signatures], ["open(at: number): boolean", "open(at: string): boolean"]
        )
        self.assertEqual(opened.doc.parameters[0].text, "where")
        self.assertIn("settable", self.symbols[".Board.size"].flags)

    def test_folders_and_builds_of_one_package_are_no_modules_of_their_own(self):
        text = "/** Adds. */\nexport function add() {}\n"
        _, index, _ = gather_files({
            "package.json": '{"name": "dates", "version": "1.0.0", "main": "index.js", "module": "esm/index.js"}',
            "add/package.json": '{"module": "../esm/add/index.js"}', "add/index.js": "exports.add = function add() {};\n",
            "esm/add/index.js": text, "esm/index.js": 'export * from "./add/index.js";\n', "index.js": "exports.add = 1;\n",
        })  # fmt: skip
        self.assertEqual(index.manifest.namespaces, ["dates"])
        self.assertEqual([s for s in index.symbols if index.symbols[s].kind == "function"], ["dates.add"])

    def test_what_a_package_hands_out_to_nobody_is_internal(self):
        _, index, _ = gather_files({
            "package.json": '{"name": "ship", "version": "1.0.0", "exports": {".": "./dist/index.js", '
                            '"./deck": {"types": "./dist/deck/index.d.ts"}, "./internal/*": "./dist/*.js"}}',
            "src/index.ts": "export { sail } from './rig';\n", "src/rig.ts": "export function sail() {}\nexport class Rope {}\n",
            "src/deck/index.ts": "export function scrub() {}\n",
        })  # fmt: skip
        shown = {p: e.visibility for p, e in index.symbols.items() if e.kind != "module"}
        self.assertEqual(shown, {"ship.sail": "public", "ship/rig.Rope": "internal", "ship/deck.scrub": "public"})

    def test_a_source_and_what_a_build_made_of_it_are_one_module(self):
        _, index, _ = gather_files({
            "package.json": '{"name": "ship", "version": "1.0.0", "types": "index.d.cts"}',
            "src/deck.ts": "/** Source. */\nexport function deck(): void {}\n",
            "deck.d.cts": "/** Made. */\nexport declare function deck(): void;\n", "deck.js": "exports.deck = deck;\n",
            "sail.d.ts": "/** A. */\nexport declare function sail(): void;\n",
            "sail.d.cts": "/** B. */\nexport declare function sail(): void;\n", "esm/sail.js": "export function sail() {}\n",
        })  # fmt: skip
        functions = {p: e.file for p, e in index.symbols.items() if e.kind == "function"}
        self.assertEqual(functions, {"ship/deck.deck": "src/deck.ts", "ship/sail.sail": "sail.d.ts"})

    def test_links_go_through_imports_and_path_aliases(self):
        found = links_of(FILES)
        scope, base = "@halmere/board.Board", "@halmere/board"
        for text, link in {
            "Row": ("linked", f"{base}.BoardRow"),
            "Board#open": ("linked", f"{base}.Board.open"),
            "Sum.total": ("linked", f"{base}.Sum.total"),
            "start": ("linked", f"{base}.start"),
            "Board.gone": ("dangling", f"{base}.Board.gone"),
        }.items():
            with self.subTest(text):
                self.assertEqual(found[scope, text], link)


class Forms(unittest.TestCase):
    """Forms that the grammar does not know, and comments as they are written."""

    def test_signatures_may_stand_below_one_another_without_semicolons(self):
        found = read_as(
            """
            export interface Opener {
              (at: string): void
              <T>(at: T, how: number): T
              [key: string]: any
              name: string
            }
            export type * from "./rows"
            export class After {}
            """, "a.d.ts", "a",
        )  # fmt: skip
        self.assertLessEqual({"a.Opener.()", "a.Opener.[key]", "a.Opener.name", "a.After"}, found.keys())
        self.assertEqual(len(found["a.Opener.()"].signatures), 2)

    def test_only_types_are_mentioned_in_types(self):
        found = read_as(
            "export type X = 'foo' | `bar${Foo}` | { kind: 'q', opt?: Opt } | ((a: Sum, ...rest: Row[]) => a is Z);\n",
            "a.d.ts", "a",
        )  # fmt: skip
        self.assertEqual([m.text for m in found["a.X"].mentions], ["Foo", "Opt", "Sum", "Row", "Z"])

    def test_a_tag_that_says_all_by_its_name_leaves_the_text_to_the_element(self):
        found = read_as(
            "/**\n * @beta\n * Opens.\n *\n * @param at - where */\nexport declare function open(at: string): void;\n"
            "/** {@inheritDoc open} */\nexport declare function begin(at: string): void;\n", "a.d.ts", "a",
        )  # fmt: skip
        self.assertEqual(found["a.open"].doc.summary, "Opens.")
        self.assertEqual([p.name for p in found["a.open"].doc.parameters], ["at"])
        self.assertEqual(found["a.begin"].doc.summary, "See [`open`](api:open).")


class Scripts(unittest.TestCase):
    def test_how_type_parameters_vary_hides_nothing(self):
        source = (
            "/** A. */\nexport interface A<out O = unknown, in\n  I = string, in out X extends O = O> {\n  /** a */\n  a(x: I): O;\n}\n"
            "export abstract class B<const T> {\n  /** x */\n  abstract accessor x: T;\n}\n/** f */\nexport function f(): void;\n"
        )
        reading = read_source(source.encode(), SourceFile("a.ts", "typescript", "m"))
        found = {s.path: s for s in reading.symbols}
        self.assertLessEqual({"m.A", "m.A.a", "m.B", "m.B.x", "m.f"}, found.keys())
        self.assertEqual(reading.findings, [])
        self.assertIn("A<out O = unknown", found["m.A"].signatures[0].text)

    def test_a_text_may_be_marked_as_such(self):
        found = read_as(
            "/**\n * @name add\n * @category Sums\n * @summary Adds two.\n *\n * @description\n * Adds them; see {@link sub}.\n"
            " * Slowly.\n *\n * @param a - one\n */\nexport declare function add(a: number): number;\n", "a.d.ts", "m",
        )  # fmt: skip
        doc = found["m.add"].doc
        self.assertEqual((doc.summary, doc.sections), ("Adds two.", []))
        self.assertIn("Slowly.", doc.body)
        self.assertEqual([(m.text, m.line) for m in found["m.add"].mentions if m.origin == "link"], [("sub", 7)])

    def test_constructors_of_scripts_declare_fields(self):
        found = read_as(
            "export class Ship {\n  constructor(deep) {\n    /** Its draught. */\n    this.draught = deep;\n"
            "    if (deep) { this.keel = 1; }\n    this._log = [];\n    other.not = 1;\n"
            "    Object.defineProperties(this, { /** Its beam. */ beam: { value: 2 } });\n  }\n"
            "  /** See {@link Ship#draught}. */\n  sail() {}\n}\n", "ship.js", "ship",
        )  # fmt: skip
        shown = {p: s.visibility for p, s in found.items() if s.kind == "property"}
        self.assertEqual(
            shown,
            {
                "ship.Ship.draught": "public",
                "ship.Ship.keel": "public",
                "ship.Ship._log": "private",
                "ship.Ship.beam": "public",
            },
        )
        self.assertEqual(found["ship.Ship.beam"].doc.summary, "Its beam.")
        self.assertEqual(found["ship.Ship.draught"].doc.summary, "Its draught.")

    def test_a_type_may_import_where_it_stands(self):
        found = links_of({
            "package.json": '{"name": "ship", "version": "1.0.0"}', "types.d.ts": "export interface Deck {}\n",
            "hull.d.ts": 'export declare const hull: import("./types.js").Deck;\n',
        })  # fmt: skip
        self.assertEqual(found["ship/hull.hull", "Deck"], ("linked", "ship/types.Deck"))

    def test_javascript_tells_its_types_in_comments(self):
        found = read_as(
            "/** @typedef {{a: number}} Point */\n/**\n * Goes.\n * @param {string} [name=x] who\n * @returns {Point} where\n */\n"
            "function go(name) {}\nclass Ship {}\nmodule.exports = { go };\n", "ship.js", "ship",
        )  # fmt: skip
        self.assertEqual(found["ship.go"].doc.parameters[0].type, "string")
        self.assertTrue(found["ship.go"].doc.parameters[0].optional)
        self.assertEqual(found["ship.Point"].kind, "type")
        self.assertEqual((found["ship.go"].visibility, found["ship.Ship"].visibility), ("public", "internal"))

    def test_what_is_required_is_imported(self):
        _, index, _ = gather_files({
            "package.json": '{"name": "ship", "main": "lib/index.js"}',
            "lib/index.js": "const deck = require('./deck'), log = require('log').child;\nmodule.exports = { deck: deck };\n",
            "lib/deck.js": "const ship = require('..'), {swab, scrub: clean} = require(`./x`), own = require(name);\n"
            "const {rope, knot: tie} = require('./rig');\nfunction lay() {}\nmodule.exports = { lay };\n",
            "lib/rig.js": "function rope() {}\nfunction knot() {}\nmodule.exports = { rope, knot };\n",
        })  # fmt: skip
        self.assertEqual(index.scopes["ship"].imports, {"deck": "ship/deck", "log": "log.child"})
        imports = {"ship": "ship", "rope": "ship/rig.rope", "tie": "ship/rig.knot"}
        self.assertEqual(index.scopes["ship/deck"].imports, imports)
        shown = {e.path for e in index.symbols.values() if e.kind != "module"}
        self.assertLessEqual({"ship.deck", "ship/deck.lay", "ship/rig.rope"}, shown)  # What is handed on stays.
        self.assertTrue(shown.isdisjoint({"ship.log", "ship/deck.ship"}))

    def test_what_a_module_exports_as_a_whole_is_what_others_require(self):
        files = {
            "package.json": '{"name": "ship", "main": "lib/index.js"}',
            "lib/index.js": "const Hull = require('./hull'), {Deck} = require('./deck');\n"
            "module.exports = { Hull, TopDeck: Deck };\n",
            "lib/hull.js": "const Base = require('./base');\n/** One, see {@link Base}. */\nclass Hull extends Base {}\nmodule.exports = Hull;\n",
            "lib/base.js": "class Timber {\n  /** Bends. */\n  bend() {}\n}\nmodule.exports = Timber;\n",
            "lib/deck.js": "class Deck {}\nmodule.exports = { Deck };\n",
        }
        self.assertEqual(links_of(files)["ship.Hull", "Base"], ("linked", "ship/base.Timber"))
        _, index, _ = gather_files(files)
        shown = {e.path: e.kind for e in index.symbols.values() if e.kind not in ("module", "method")}
        self.assertEqual(shown, {"ship.Hull": "class", "ship.TopDeck": "class", "ship/base.Timber": "class"})

    def test_declarations_without_modules_are_global(self):
        found = read_as("interface Window { a: string }\ndeclare var window: Window;\ndeclare module 'foo' { function f(): void; }\n",
                        "lib.d.ts", "lib")  # fmt: skip
        self.assertEqual({p: s.visibility for p, s in found.items()},
                         {"lib": "public", "lib.Window": "public", "lib.Window.a": "public", "lib.window": "public",
                          "foo.f": "public"})  # fmt: skip
