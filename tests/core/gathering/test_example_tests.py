"""Tests of every language as examples: found, marked, linked to what they call, with how they went."""

import unittest

from tests.support.sources import examples_of, gathered_bundle

OF_LANGUAGES = {
    "python": ({"src/sea/__init__.py": "class Ship:\n    def leave(self): ...\n", "tests/test_sea.py": '''
from sea import Ship
def test_leaving():
    """A ship leaves.

    :example:
    """
    ship = Ship()
    assert ship.leave() is None
'''}, "tests.test_sea.test_leaving", "Leaving", ["sea.Ship", "sea.Ship.leave"]),
    "java": ({"src/main/java/sea/Ship.java": "package sea; public class Ship { public int leave() { return 1; } }",
              "src/test/java/sea/ShipTest.java": '''package sea;
class ShipTest {
    private Ship ship;
    @BeforeEach void build() { ship = new Ship(); }
    /** A ship leaves. */
    @Test @Tag("example") void leavesTheHarbour() { assertEquals(1, ship.leave()); }
    @Test void other() { }
}'''}, "sea.ShipTest.leavesTheHarbour", "Leaves the harbour", ["sea.Ship.leave()"]),
    "kotlin": ({"src/main/kotlin/Ship.kt": "package sea\nclass Ship { fun leave() = 1 }",
                "src/test/kotlin/ShipTest.kt": '''package sea
class ShipTest {
    /**
     * A ship leaves.
     * @example Leaving
     */
    @Test fun `she leaves`() { val ship = Ship(); assertEquals(1, ship.leave()) }
}'''}, "sea.ShipTest.she-leaves", "Leaving", ["sea.Ship", "sea.Ship.leave()"]),
    "csharp": ({"src/Ship.cs": "namespace Sea; public class Ship { public int Leave() => 1; }",
                "Sea.Tests/ShipTests.cs": '''namespace Sea;
public class ShipTests {
    /// <summary>A ship leaves.</summary>
    [Fact, Trait("Category", "example")]
    public void Leaves() { var ship = new Ship(); Assert.Equal(1, ship.Leave()); }
}'''}, "Sea.ShipTests.Leaves", "Leaves", ["Sea.Ship", "Sea.Ship.Leave()"]),
    "typescript": ({"package.json": '{"name": "sea", "main": "src/index.ts"}',
                    "src/index.ts": "/** One. */\nexport class Ship { leave(): number { return 1; } }\n",
                    "src/index.test.ts": '''import { Ship } from "./index";
describe("A ship", () => {
    let ship: Ship;
    beforeEach(() => { ship = new Ship(); });
    /** She leaves.
     * @example */
    test("leaves the harbour", () => { expect(ship.leave()).toBe(1); });
});'''}, "", "A ship leaves the harbour", ["sea.Ship.leave"]),
    "go": ({"go.mod": "module sea\n", "ship.go": "package sea\n// Ship is one.\ntype Ship struct{}\n"
            "// Leave leaves.\nfunc (s Ship) Leave() int { return 1 }\n",
            "ship_test.go": '''package sea

// A ship leaves.
func ExampleShip_Leave() {
	ship := Ship{}
	fmt.Println(ship.Leave())
	// Output: 1
}
func TestShip(t *testing.T) { }
'''}, "sea.ExampleShip_Leave", "Ship leave", ["sea.Ship", "sea.Ship.Leave"]),
    "rust": ({"Cargo.toml": '[package]\nname = "sea"\nversion = "1.0.0"\n', "src/lib.rs": '''
/// One.
pub struct Ship;
impl Ship {
    /// One more.
    pub fn new() -> Ship { Ship }
    /// Leaves.
    pub fn leave(&self) -> u8 { 1 }
}
#[cfg(test)]
mod tests {
    use super::*;
    /// A ship leaves.
    ///
    /// @example
    #[test]
    fn leaves() { let ship = Ship::new(); assert_eq!(ship.leave(), 1); }
}
'''}, "sea::tests::leaves", "Leaves", ["sea::Ship::new", "sea::Ship::leave"]),
    "cpp": ({"include/ship.hpp": "/** One. */\nclass Ship { public:\n  /** Leaves. */\n  int leave(); };\n",
             "tests/ship_test.cpp": '''#include "ship.hpp"
class ShipTest : public ::testing::Test { protected: Ship ship; };
/** A ship leaves.
 *  @example */
TEST_F(ShipTest, LeavesTheHarbour) { EXPECT_EQ(ship.leave(), 1); }
'''}, "tests/ship_test.cpp::ShipTest::LeavesTheHarbour", "Leaves the harbour", ["Ship::leave()"]),
}  # fmt: skip


class Everywhere(unittest.TestCase):
    def test_a_marked_test_is_an_example_of_what_it_calls(self):
        for language, (files, path, title, called) in OF_LANGUAGES.items():
            with self.subTest(language):
                _, found, texts = examples_of(files)
                self.assertEqual([(s.path, s.example.title) for s in found], [(path or found[0].path, title)])
                text = texts[found[0].path]
                links = [k for m, k in zip(text.mentions, text.links, strict=True) if m.field == "exercised"]
                self.assertEqual(list(dict.fromkeys(k.path for k in links if k.outcome == "linked")), called)
                self.assertEqual({k.outcome for k in links} - {"linked", "outside"}, set())
                self.assertEqual(
                    found[0].doc.summary.rstrip("."), "A ship leaves" if language != "typescript" else "She leaves"
                )

    def test_what_is_only_called_alike_is_not_exercised(self):
        files = {"src/sea/__init__.py": "", "src/sea/more.py": "def tie(): ...\ndef far(): ...\n", "tests/test_sea.py": '''
from sea import more
def test_it():
    """:example:"""
    def tie(): ...
    tie()
    more.far()
'''}  # fmt: skip
        _, found, texts = examples_of(files)
        links = texts[found[0].path].links
        self.assertEqual([link.path for link in links if link.outcome == "linked"], ["sea.more.far"])

    def test_code_sees_what_its_file_imports_and_not_what_is_around(self):
        files = {"src/sea/__init__.py": "leave = attrgetter('trip')\nclass Ship: ...\ndef far(): ...\n",
                 "src/sea/tests/test_one.py": '''
from sea import leave, Ship as Boat
def test_it():
    """:example:"""
    leave(Boat()); far()
def test_again():
    """As :func:`far`.

    :example:
    """
    leave(Boat()); far()
''', "src/sea/tests/test_two.py": '''
from sea import far, Ship as leave
class TestMore:
    def test_it(self):
        """:example:"""
        leave(); far()
'''}  # fmt: skip
        _, found, texts = examples_of(files)
        expected = {"test_again": ["leave", "Ship", ""], "test_it": ["leave", "Ship", ""], "TestMore": ["Ship", "far"]}
        for example in found:
            links = list(zip(texts[example.path].mentions, texts[example.path].links, strict=True))
            name = next(n for n in expected if n in example.path)
            called = [link.path.removeprefix("sea.") for m, link in links if m.field == "exercised"]
            self.assertEqual(called, expected.pop(name))
            told = [link.path for m, link in links if m.field != "exercised"]
            self.assertEqual(told, ["sea.far"] if name == "test_again" else [])  # Words are not code.
        self.assertEqual(expected, {})

    def test_nothing_of_it_dangles_or_owns_a_name(self):
        files, *_ = OF_LANGUAGES["python"]
        files = {**files, "tests/test_sea.py": files["tests/test_sea.py"].replace("ship.leave()", "ship.gone().more()")}
        gathered, found, texts = examples_of(files, slug="own")
        self.assertEqual({link.outcome for link in texts[found[0].path].links}, {"linked", "outside"})
        self.assertEqual(gathered.manifest.namespaces, ["sea"])

    def test_tests_of_javascript_that_hold_tests_and_ask_for_files_beside_them(self):
        files = {"package.json": '{"name": "sea", "main": "src/index.js"}', "src/index.js": "module.exports = {};\n",
                 "src/ropes.js": "function tie(a) {}\nfunction cut(a) {}\nmodule.exports = { tie, cut };\n",
                 "test/ropes.js": '''
const test = require('frame'), ropes = require('../src/ropes'), {cut} = require('../src/ropes');
test('ropes', function (t) {
    const rope = 3;
    /** @example */
    t.test('are tied', (st) => { st.equal(ropes.tie(rope), 1); cut(rope); st.end(); });
    t.test('are lost', (st) => { st.equal(ropes.tie(0), 0); });
    t.end();
});'''}  # fmt: skip
        _, (example,), texts = examples_of(files)
        self.assertEqual(example.example.title, "ropes are tied")
        parts = [(p.kind, p.text, p.result) for p in example.example.parts]
        told = [("outcome", "ropes.tie(rope)", "1"), ("step", "cut(rope);", "")]
        self.assertEqual(parts, [("set-up", "const rope = 3;", ""), *told])
        self.assertEqual([link.path for link in texts[example.path].links], ["sea/ropes.tie", "sea/ropes.cut"])

    def test_a_title_of_javascript_is_no_mark(self):
        files = {"package.json": '{"name": "sea"}', "src/index.js": "export function tie() {}\n", "test/sea.test.js": '''
it('example', () => { tie(); });
it('asks http://sea.example/', () => { tie(); });
it('is tagged', { tags: ['example'] }, () => { tie(); });
it.example('is said to be one', () => { tie(); });
'''}  # fmt: skip
        self.assertEqual([e.example.title for e in examples_of(files)[1]], ["is tagged", "is said to be one"])
        files["test/sea.test.js"] = "it.example.only('alone', () => { tie(); });\n"
        self.assertEqual([e.example.title for e in examples_of(files)[1]], ["alone"])

    def test_tests_in_a_namespace_of_their_own_see_the_one_around_it(self):
        cpp = {"include/sea.hpp": "namespace sea { int tie(int rope); }\n", "tests/sea_test.cpp": '''#include "sea.hpp"
namespace sea { namespace checks { namespace {
/** @example */
TEST(Ropes, AreTied) { EXPECT_EQ(tie(3), 1); far(); }
} } }'''}  # fmt: skip
        csharp = {"src/Sea.cs": "namespace Sea; public static class Ropes { public static int Tie(int rope) => 1; }",
                  "Sea.Tests/RopeTests.cs": '''namespace Sea.Tests;
public class RopeTests {
    [Fact, Trait("Category", "example")]
    public void Ties() { Assert.Equal(1, Ropes.Tie(3)); }
}'''}  # fmt: skip
        for files, called in ((cpp, ["sea::tie(int)"]), (csharp, ["Sea.Ropes.Tie(int)"])):
            _, (example,), texts = examples_of(files)
            links = texts[example.path].links
            self.assertEqual([link.path for link in links if link.outcome == "linked"], called)

    def test_of_a_long_test_the_beginning_is_shown_and_that_more_follows(self):
        long = 'def test_it():\n    """:example:"""\n' + "    far(1)\n" * 4000 + "    assert near() == 1\n"
        _, (example,), _ = examples_of({"tests/test_a.py": long})
        (part,) = example.example.parts
        self.assertTrue(part.text.startswith("far(1)\nfar(1)\n") and part.text.endswith("far(1)\n…"))
        self.assertLess(len(part.text), 21_000)

    def test_tests_without_a_mark_are_examples_where_the_project_says_so(self):
        files = {"tests/test_a.py": "def test_one(): assert f()\ndef test_two(): ...\n", "a.py": "def f(): ...",
                 "zarbek.toml": '[examples]\nshown = ["*.test_one"]\n'}  # fmt: skip
        self.assertEqual([s.name for s in examples_of(files)[1]], ["test_one"])
        files["zarbek.toml"] = '[examples]\ntests = ["checks/*.py"]\nshown = ["*"]\n'
        self.assertEqual(examples_of(files)[1], [])
        files["checks/a_of_it.py"] = files["tests/test_a.py"]
        self.assertEqual(
            [s.path for s in examples_of(files)[1]], ["checks.a_of_it.test_one", "checks.a_of_it.test_two"]
        )


RESULTS = """<testsuites timestamp="2026-03-01T08:00:00">
<testsuite name="all"><testcase classname="tests.test_a.Of" name="test_one" time="0.5"><failure message="no"/></testcase>
<testcase classname="tests.test_a.Of" name="test_two[1]" time="0.25"/>
<testcase classname="tests.test_a.Of" name="test_two[2]" time="0.5"><skipped message="later"/></testcase>
<testcase classname="tests.test_b.Of" name="test_four"/>
</testsuite></testsuites>"""
TESTED = '''class TestOf:
    def test_one(self):
        """:example:"""
    def test_two(self):
        """:example: Twice"""
    def test_four(self):
        """:example:"""
'''


class Verdicts(unittest.TestCase):
    def read(self, results, **more):
        files = {"tests/test_a.py": TESTED.replace("TestOf", "Of(TestCase)"), "tests/test_b.py": "def test_four(): ...", "r/a.xml": results,
                 "zarbek.toml": '[examples]\nresults = ["r/*.xml"]\n', **more}  # fmt: skip
        with gathered_bundle(files) as bundle:
            return {v.path.rpartition(".")[2]: v for v in bundle.verdicts()}, list(bundle.findings())

    def test_are_those_of_the_run_with_the_worst_of_several(self):
        verdicts, findings = self.read(RESULTS)
        self.assertEqual({name: (v.state, v.at, v.seconds, v.told) for name, v in verdicts.items()}, {
            "test_one": ("failed", "2026-03-01T08:00:00", 0.5, "no"),
            "test_two": ("passed", "2026-03-01T08:00:00", 0.75, ""), "test_four": ("passed", "2026-03-01T08:00:00", None, ""),
        })  # fmt: skip
        self.assertEqual([(f.rule, f.subject, f.line) for f in findings if f.rule.startswith("stale/")],
                         [("stale/verdict", "tests.test_a.Of.test_one", 2)])  # fmt: skip

    def test_hostile_files_are_told_and_the_rest_goes_on(self):
        bomb = '<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><testsuite><testcase name="&b;"/></testsuite>'
        for results, why in (
            (bomb, "EntitiesForbidden"),
            ("<testsuite>", "no element found"),
            ("<html/>", "its root is neither"),
        ):
            verdicts, findings = self.read(results)
            self.assertEqual({v.state for v in verdicts.values()}, {"not-run"})
            self.assertIn(why, next(f.message for f in findings if f.file == "r/a.xml"))


if __name__ == "__main__":
    unittest.main()
