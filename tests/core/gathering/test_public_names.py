"""Under which of its names a symbol is known."""

import unittest

from tests.support.sources import gather_files, links_of

BODY = 'class X:\n    """It."""\n    def go(self): ...\n'


class Names(unittest.TestCase):
    def known(self, files):
        """Canonical path by the place of definition, of what is known by another name."""
        _, self.index, _ = gather_files(files)
        return {origin: path for path, origin in self.index.origins.items()}

    def test_a_package_offers_what_a_private_module_defines(self):
        known = self.known({"p/__init__.py": "from ._a import X\n__all__ = ['X']\n", "p/_a.py": BODY})
        self.assertEqual(known, {"p._a.X": "p.X"})
        go = self.index.symbols["p.X.go"]
        self.assertEqual((go.parent, go.module, go.visibility), ("p.X", "p._a", "public"))

    def test_the_nearest_package_goes_before_shorter_names(self):
        files = {"p/__init__.py": "from .q import X\n", "p/q/__init__.py": "from .a import X\n", "p/q/a.py": BODY}
        self.assertEqual(self.known(files), {"p.q.a.X": "p.q.X"})
        self.assertEqual(self.index.public_names("p.q.X"), ["p.X", "p.q.a.X"])

    def test_a_name_that_begins_like_its_module_lies_in_its_package(self):
        self.known({"p/__init__.py": "from .x import xs\n__all__ = ['xs']\n", "p/x.py": "def xs():\n    'It.'\n"})
        self.assertEqual((self.index.symbols["p.xs"].parent, self.index.symbols["p.xs"].module), ("p", "p.x"))

    def test_what_is_offered_on_purpose_goes_before_what_is_used(self):
        files = {"p/__init__.py": "", "p/a.py": BODY, "p/b/__init__.py": "from ..a import X\ndef f(x: X): ...\n"}
        self.assertEqual(self.known(files), {})
        self.assertEqual(self.index.public_names("p.a.X"), [])
        self.assertEqual(self.index.aliases["p.b.X"], "p.a.X")

    def test_what_a_module_only_uses_is_not_handed_on_by_a_star(self):
        files = {"p/__init__.py": "", "p/utils.py": BODY, "p/io/__init__.py": "from .work import *\n",
                 "p/io/work.py": "from ..utils import X\ndef load(): return X\n"}  # fmt: skip
        self.assertEqual(self.known(files), {"p.io.work.load": "p.io.load"})

    def test_what_is_private_and_has_a_name_for_others_is_known_by_that(self):
        files = {
            "p/__init__.py": "",
            "p/_core.py": "",
            "p/cm.py": "from .work import _Mapper as Mapper\n",
            "p/work.py": "class _Mapper: ...\n",
        }
        self.assertEqual(self.known(files), {"p.work._Mapper": "p.cm.Mapper"})

    def test_what_is_compiled_or_comes_by_a_star_from_it_is_no_misspelling(self):
        text = "'''See :mod:`p.fast`, :class:`p.Tree`, :class:`p.sub.Leaf`.'''\nfrom ._tree import *\n"
        files = {"p/__init__.py": text, "p/fast.cpython-311.so": "x", "p/_tree.pyx": "x",
                 "p/sub.py": "def f(): ...\n"}  # fmt: skip
        found = {text: outcome for (_, text), (outcome, _) in links_of(files, slug="p").items()}
        self.assertEqual(found, {"p.fast": "outside", "p.Tree": "outside", "p.sub.Leaf": "dangling"})

    def test_what_nobody_can_reach_is_private(self):
        self.known({"p/__init__.py": "", "p/_a.py": BODY})
        self.assertEqual({self.index.symbols[n].visibility for n in ("p._a.X", "p._a.X.go")}, {"private"})

    def test_a_private_function_under_a_public_name_is_public(self):
        self.known({"p/__init__.py": "from ._a import _f as f\n__all__ = ['f']", "p/_a.py": "def _f(): ..."})
        self.assertEqual((self.index.symbols["p.f"].visibility, self.index.symbols["p.f"].name), ("public", "f"))

    def test_a_module_of_the_same_name_keeps_it(self):
        known = self.known({"p/__init__.py": "from .x import x\n", "p/x.py": "def x(): ..."})
        self.assertEqual(known, {})
        self.assertEqual(self.index.symbols["p.x"].kind, "module")

    def test_names_that_come_when_they_are_asked_for(self):
        known = self.known({
            "p/__init__.py": "_TABLE = {'X': '._a', 'mod': ['no', 1]}\n_MORE = {'_b': ['f', 'g']}\n"
            "def __getattr__(name):\n    from ._c import Z\n",
            "p/_a.py": BODY, "p/_b.py": "def f(): ...\ndef g(): ...", "p/_c.py": "class Z: ...",
        })  # fmt: skip
        self.assertEqual(known, {"p._a.X": "p.X", "p._b.f": "p.f", "p._b.g": "p.g", "p._c.Z": "p.Z"})

    def test_members_through_accessors_and_what_decorators_hand_on(self):
        self.known({"p/words.py": "class Words:\n    def cut(self): ...\n", "p/__init__.py": """
            from . import words
            class Column:
                words = accessor("words", words.Words)
            @hand_on(["cut"], words.Words)
            class Frame: ...
        """})  # fmt: skip
        self.assertEqual(self.index.symbols["p.Column.words"].through, ["words.Words"])
        self.assertEqual(self.index.symbols["p.Frame"].through, ["words.Words"])
        self.assertEqual(sorted(self.index.public_names("p.words.Words.cut")), ["p.Column.words.cut", "p.Frame.cut"])

    def test_in_rust_what_is_used_publicly_of_a_private_module(self):
        known = self.known({
            "Cargo.toml": '[package]\nname = "ship"\nversion = "1.0.0"\n',
            "src/lib.rs": "mod hull;\npub mod deck;\npub use hull::Hull;\n",
            "src/hull.rs": "pub struct Hull;\nimpl Hull { pub fn new() {} }\npub struct Rib;\npub mod inner {}\n",
            "src/deck.rs": "pub use crate::hull::Hull;\npub struct Mast;\n",
        })  # fmt: skip
        self.assertEqual(known, {"ship::hull::Hull": "ship::Hull"})
        found = {p: e.visibility for p, e in self.index.symbols.items()}
        self.assertEqual((found["ship::Hull::new"], found["ship::hull::Rib"]), ("public", "internal"))
        self.assertEqual((found["ship::deck"], found["ship::hull::inner"]), ("public", "internal"))

    def test_in_rust_a_function_and_a_private_module_may_share_a_name(self):
        files = {
            "Cargo.toml": '[package]\nname = "ship"\nversion = "1.0.0"\n',
            "src/lib.rs": "mod sail;\npub mod tie;\npub use sail::sail;\npub use tie::tie;\n/// [sail], [`ship::sail`] and [sail()].\npub fn far() {}\n",
            "src/sail.rs": "/// Sails.\npub fn sail() {}\nfn inner() {}\n", "src/tie.rs": "pub fn tie() {}\n",
        }  # fmt: skip
        self.assertEqual(self.known(files), {"ship::sail::sail": "ship::sail()"})
        found = {p: (e.kind, e.visibility, e.name, e.parent) for p, e in self.index.symbols.items()}
        self.assertEqual(found["ship::sail()"], ("function", "public", "sail", "ship"))
        self.assertEqual(found["ship::sail"][:2], ("module", "private"))
        self.assertEqual(found["ship::tie::tie"][1], "public")
        linked = {text: name for (path, text), (_, name) in links_of(files).items() if path == "ship::far"}
        self.assertEqual(set(linked.values()), {"ship::sail()"})

    def test_in_typescript_what_the_entry_exports(self):
        known = self.known({
            "package.json": '{"name": "kit", "main": "dist/index.js"}',
            "src/index.ts": "export { Hull, keel as Keel } from './hull';\n",
            "src/hull.ts": "/** A. */\nexport class Hull {}\n/** B. */\nexport const keel = 1;\n/** C. */\nexport const rib = 2;\n",
        })  # fmt: skip
        self.assertEqual(known, {"kit/hull.Hull": "kit.Hull", "kit/hull.keel": "kit.Keel"})


if __name__ == "__main__":
    unittest.main()
