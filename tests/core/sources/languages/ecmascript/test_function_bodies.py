"""What the bodies of functions of ECMAScript tell of what they give."""

import unittest

from tests.support.sources import read_as

#: Functions, and what they make.
FUNCTIONS = [
    ("function f() { return new Ship(1); }", "Ship"),
    ("const f = () => new sea.Ship();", "sea.Ship"),
    ("const f = async () => (await new Ship());", "Ship"),
    ("function f() { const it = new Ship(); it.x = 1; return it; }", "Ship"),
    ("function f() { let it = new Ship(); it = load(); return it; }", ""),
    ("function f() { const it = new Ship(), a = it; return a; }", ""),
    ("function f(a) { if (a) return null; return new Ship(); }", "Ship"),
    ("function f(a) { if (a) { return new Boat(); } return new Ship(); }", ""),
    ("function f() { const g = () => { return new Boat(); }; return new Ship(); }", "Ship"),
    ("function f() { class A { g() { return new Boat(); } } }", ""),
    ("function f() { return new Ship().leave(); }", ""),
    ("function* f() { return new Ship(); }", ""),
    ("function f() { use(new Ship()); return; }", ""),
]


class Made(unittest.TestCase):
    def test_is_what_every_end_of_a_function_makes(self):
        for source, made in FUNCTIONS:
            with self.subTest(source):
                (found,) = (s for s in read_as(source, "f.js").values() if s.name == "f")
                self.assertEqual(found.makes, made)

    def test_methods_may_give_their_object_and_what_is_declared_goes_before(self):
        reading = read_as("""export class Ship {
            tie() { return this; }
            boat() { return new Boat(); }
            far(): Place { return new Boat(); }
            *each() { return new Boat(); }
        }""", "f.ts")  # fmt: skip
        self.assertEqual({s.name: s.makes for s in reading.values() if s.makes}, {"tie": "Self", "boat": "Boat"})
