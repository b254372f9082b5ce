"""What functions give, in tests of every language that call members of it."""

import unittest

from tests.support.sources import examples_of

#: Sources in which functions give what has members, a test that calls these, and what it exercises.
OF_GIVEN = {
    "python": ({"src/sea/__init__.py": "from sea.ships import build\n", "src/sea/ships.py": "from __future__ import annotations\n"
                "class Ship:\n    def leave(self) -> Trip | None: ...\nclass Trip:\n    def end(self): ...\n    def far(self) -> Self: ...\n"
                "def build() -> 'Ship': ...\nasync def order() -> Ship: ...\ndef odd() -> list[Ship]: ...\n",
                "tests/test_sea.py": '''
from sea import build
from sea.ships import odd, order
async def test_it():
    """:example:"""
    trip = build().leave()
    trip.far().end()
    ship = await order()
    ship.leave()
    odd().end()
    odd().append(len(trip).leave())
'''}, ["sea.build", "sea.ships.Ship.leave", "sea.ships.Trip.far", "sea.ships.Trip.end", "sea.ships.order", "sea.ships.odd"]),
    "java": ({"src/main/java/sea/Ship.java": "package sea; public class Ship { public static Ship build() { return null; } public Trip leave() { return null; } }",
              "src/main/java/sea/Trip.java": "package sea; public class Trip { public void end() { } }",
              "src/test/java/sea/ShipTest.java": '''package sea;
class ShipTest {
    /** A ship leaves. */
    @Test @Tag("example") void leaves() { Ship ship = Ship.build(); var trip = ship.leave(); trip.end(); }
}'''}, ["sea.Ship.build()", "sea.Ship.leave()", "sea.Trip.end()"]),
    "kotlin": ({"src/main/kotlin/Ship.kt": "package sea\nclass Ship { fun leave(): Trip? = null }\nclass Trip { fun end() = 1 }\nfun build(): Ship = Ship()",
                "src/test/kotlin/ShipTest.kt": '''package sea
class ShipTest {
    /** @example */
    @Test fun leaves() { val ship = build(); ship.leave().end() }
}'''}, ["sea.build()", "sea.Ship.leave()", "sea.Trip.end()"]),
    "csharp": ({"src/Ship.cs": "namespace Sea; public class Ship { public Task<Trip> Leave() => null; }\npublic class Trip { public void End() {} }\n"
                "public static class Yard { public static Ship Build() => null; }",
                "Sea.Tests/ShipTests.cs": '''namespace Sea;
public class ShipTests {
    [Fact, Trait("Category", "example")]
    public async Task Leaves() { var ship = Yard.Build(); var trip = await ship.Leave(); trip.End(); }
}'''}, ["Sea.Yard.Build()", "Sea.Ship.Leave()", "Sea.Trip.End()"]),
    "typescript": ({"package.json": '{"name": "sea", "main": "src/index.ts"}',
                    "src/index.ts": "export class Ship { leave(): Promise<Trip> { return null; } }\nexport class Trip { end(): void {} }\nexport function build(): Ship { return null; }\n",
                    "src/index.test.ts": '''import { build } from "./index";
/** @example */
test("leaves", async () => { const ship = build(); const trip = await ship.leave(); trip.end(); });'''},
                   ["sea.build", "sea.Ship.leave", "sea.Trip.end"]),
    "go": ({"go.mod": "module sea\n", "ship.go": "package sea\n\ntype Ship struct{}\n\ntype Trip struct{}\n\nfunc Build() (*Ship, error) { return nil, nil }\n\n"
            "func (s *Ship) Leave() Trip { return Trip{} }\n\nfunc (t Trip) End() {}\n\n"
            "type Boat struct{}\n\nfunc (b *Boat) Row() {}\n\nfunc (b *Boat) Sink(a *[]int) {}\n",
            "ship_test.go": "package sea\n\nfunc ExampleBuild() {\n\ttrip := Build().Leave()\n\ttrip.End()\n"
            "\tnew(Boat).Row()\n\tboat := new(Boat)\n\tboat.Sink(new([]int))\n}\n"},
           ["sea.Build", "sea.Ship.Leave", "sea.Trip.End", "sea.Boat", "sea.Boat.Row", "sea.Boat.Sink"]),
    "rust": ({"Cargo.toml": '[package]\nname = "sea"\nversion = "1.0.0"\n', "src/lib.rs": '''
pub struct Ship;
pub struct Trip;
impl Ship { pub fn leave(&self) -> &Trip { &Trip } }
impl Trip { pub fn end(&self) {} pub fn far(self) -> Self { self } }
pub fn build() -> Ship { Ship }
#[cfg(test)]
mod tests {
    use super::*;
    /// @example
    #[test]
    fn leaves() { let ship = build(); ship.leave().far().end(); }
}
'''}, ["sea::build", "sea::Ship::leave", "sea::Trip::far", "sea::Trip::end"]),
    "cpp": ({"include/ship.hpp": "struct Trip { void end(); };\nclass Ship { public:\n  const Trip& leave();\n};\nShip build();\n",
             "tests/ship_test.cpp": '#include "ship.hpp"\n/** @example */\nTEST(Ship, Leaves) { auto ship = build(); ship.leave().end(); }\n'},
            ["build()", "Ship::leave()", "Trip::end()"]),
}  # fmt: skip

#: The same where functions give several, or what is open for a time.
OF_SEVERAL = {
    "python": ({"src/sea/__init__.py": """
from contextlib import contextmanager
from typing import Iterator, Self
class Ship:
    def leave(self): ...
    def ropes(self) -> "list[Rope] | None": ...
    def tie(self): ...
    def sink(self): ...
class Rope:
    def cut(self): ...
    def hold(self): ...
class Fleet:
    def __iter__(self) -> Iterator[Ship]: ...
class Yard:
    def __enter__(self) -> Self: ...
    def last(self) -> Ship: ...
class Lock:
    def __enter__(self) -> Rope: ...
class Plain:
    def end(self): ...
def fleet() -> Fleet: ...
def plain() -> Plain: ...
def ropes() -> tuple[Rope, int]: ...
@contextmanager
def moored() -> Iterator[Ship]: ...
@contextmanager
def anchored():
    yield Ship()
def rope():
    \"\"\"One.

    :rtype: Rope
    \"\"\"
def built():
    ship = Ship()
    return ship
""", "tests/test_sea.py": '''
import sea
from sea import Lock, Ship, Yard, fleet, moored, plain
def test_it():
    """:example:"""
    with moored() as ship, Yard() as yard:
        first = next(iter(ship.ropes()))
    with Lock() as rope: rope.cut(1)
    with plain() as it: it.end()
    for each in sorted(fleet()): each.leave()
    [one.cut() for one in yard.last().ropes()[1:]]
    for this in [Ship(), Ship()]: this.ropes()[0].cut()
    first.cut()
    for no in sea.ropes(): no.cut(2).leave()
    with sea.anchored() as that: that.tie(sea.rope().hold(), sea.built().sink())
'''}, ["sea.moored", "sea.Yard", "sea.Ship.ropes", "sea.Lock", "sea.Rope.cut", "sea.plain", "sea.Plain.end", "sea.fleet",
       "sea.Ship.leave", "sea.Yard.last", "sea.Ship", "sea.ropes", "sea.anchored", "sea.Ship.tie", "sea.rope", "sea.Rope.hold",
       "sea.built", "sea.Ship.sink"]),
    "java": ({"src/main/java/sea/Ship.java": "package sea; public class Ship implements AutoCloseable { public static Ship open() { return null; } public List<Rope> ropes() { return null; } }",
              "src/main/java/sea/Rope.java": "package sea; public class Rope { public void cut() { } public void tie() { } public void end() { } }",
              "src/test/java/sea/ShipTest.java": '''package sea;
class ShipTest {
    @Test @Tag("example") void leaves() {
        try (var ship = Ship.open()) { for (var rope : ship.ropes()) rope.cut(); }
        for (Rope rope : all()) rope.tie();
        Rope[] two = all(); two[1].end();
    }
}'''}, ["sea.Ship.open()", "sea.Ship.ropes()", "sea.Rope.cut()", "sea.Rope.tie()", "sea.Rope.end()"]),
    "kotlin": ({"src/main/kotlin/Ship.kt": "package sea\nclass Ship { fun ropes(): List<Rope> = listOf() }\nclass Rope { fun cut() = 1\n fun end() = 1 }",
                "src/test/kotlin/ShipTest.kt": '''package sea
class ShipTest {
    /** @example */
    @Test fun leaves() { for (rope in Ship().ropes()) { rope.cut() }
        val all = Ship().ropes(); all[0].end() }
}'''}, ["sea.Ship", "sea.Ship.ropes()", "sea.Rope.cut()", "sea.Rope.end()"]),
    "csharp": ({"src/Ship.cs": "namespace Sea; public class Ship { public Task<IReadOnlyList<Rope>> Ropes() => null; }\n"
                "public class Rope { public void Cut() {} public void End() {} }\n",
                "Sea.Tests/ShipTests.cs": '''namespace Sea;
public class ShipTests {
    [Fact, Trait("Category", "example")]
    public async Task Leaves() { var ship = new Ship(); foreach (var rope in await ship.Ropes()) rope.Cut();
        var all = await ship.Ropes(); all[0].End(); }
}'''}, ["Sea.Ship", "Sea.Ship.Ropes()", "Sea.Rope.Cut()", "Sea.Rope.End()"]),
    "typescript": ({"package.json": '{"name": "sea", "main": "src/index.ts"}',
                    "src/index.ts": "export class Rope { cut(): void {} end(): void {} }\nexport const one = () => new Rope();\nexport function ropes(): Promise<Rope[]> { return null; }\n",
                    "src/index.test.ts": '''import { one, ropes } from "./index";
/** @example */
test("leaves", async () => { one().end(); for (const rope of await ropes()) rope.cut(); const all = await ropes(); all[0].end();
    for (const key in all) key.cut(); });'''}, ["sea.one", "sea.ropes", "sea.Rope.cut", "sea.Rope.end"]),
    "go": ({"go.mod": "module sea\n", "ship.go": "package sea\n\ntype Rope struct{}\n\nfunc Ropes() ([]*Rope, error) { return nil, nil }\n\n"
            "func (r *Rope) Cut() {}\n\nfunc (r *Rope) End() {}\n",
            "ship_test.go": "package sea\n\nfunc ExampleRopes() {\n\tropes, _ := Ropes()\n\tfor _, rope := range ropes {\n\t\trope.Cut()\n\t}\n"
            "\tropes[0].End()\n\tfor at := range ropes {\n\t\tat.Cut(at)\n\t}\n}\n"},
           ["sea.Ropes", "sea.Rope.Cut", "sea.Rope.End"]),
    "rust": ({"Cargo.toml": '[package]\nname = "sea"\nversion = "1.0.0"\n', "src/lib.rs": '''
pub struct Rope;
impl Rope { pub fn cut(&self) {} pub fn end(&self) {} pub fn tie(&self) {} }
pub fn ropes() -> Vec<Rope> { vec![] }
pub fn each<'a>() -> impl Iterator<Item = &'a Rope> + 'a { todo!() }
#[cfg(test)]
mod tests {
    use super::*;
    /// @example
    #[test]
    fn leaves() { let all = ropes(); for rope in all.iter() { rope.cut(); } for rope in each() { rope.tie(); } all[0].end(); }
}
'''}, ["sea::ropes", "sea::Rope::cut", "sea::each", "sea::Rope::tie", "sea::Rope::end"]),
    "cpp": ({"include/ship.hpp": "struct Rope { void cut(); void end(); void tie(); void slip(); void sink(); void burn(); };\nstd::vector<Rope> ropes();\n",
             "tests/ship_test.cpp": '''#include "ship.hpp"
/** @example */
TEST(Ship, Leaves) { auto all = ropes(); for (auto& rope : all) rope.cut(); for (const Rope& r : more) r.tie(); all[0].end();
    Rope** two = many(); two[1]->slip(); Rope three[3]; three[0].sink(); Rope one; one[0].burn(); }
'''}, ["ropes()", "Rope::cut()", "Rope::tie()", "Rope::end()", "Rope::slip()", "Rope::sink()"]),
}  # fmt: skip


class Given(unittest.TestCase):
    def test_what_a_function_gives_is_known_by_its_type(self):
        for language, (files, called) in [*OF_GIVEN.items(), *OF_SEVERAL.items()]:
            with self.subTest(language):
                _, found, texts = examples_of(files)
                self.assertEqual(len(found), 1)
                text = texts[found[0].path]
                links = [k for m, k in zip(text.mentions, text.links, strict=True) if m.field == "exercised"]
                self.assertEqual(set(dict.fromkeys(k.path for k in links if k.outcome == "linked")), set(called))
                self.assertEqual({k.outcome for k in links} - {"linked", "outside"}, set())


if __name__ == "__main__":
    unittest.main()
