import unittest

from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files, links_of, read_as
from zarbek.core.linking.linker import Linker

SHIP = """
package a.b;

import java.util.List;
import static a.b.Side.PORT;

/**
 * A ship. See {@link #sail(int, List)} and {@link Side#PORT the left}.
 *
 * <pre>{@code
 * @Override ship.sail(1);
 * }</pre>
 *
 * @param <T> what she carries
 * @since 1.2
 */
@Deprecated(since = "2.0")
public class Ship<T extends Cargo> extends Hull implements Floating {
    /** Most knots. */
    public static final int MAX = 20, MIN[] = {};
    private int speed;

    /** Makes one. */
    public Ship(String... names) {}

    /**
     * Sails. It costs {@literal <fuel>} &amp; {@code a < b}.
     *
     * @param knots how fast,
     *     not more than {@link #MAX}
     * @return the way
     * @throws IllegalStateException if moored
     * @see Hull#depth()
     */
    protected <U> List<U> sail(final int knots, List<T> with) throws java.io.IOException { return null; }

    // Drifts with the tide.
    public void drift() {}

    enum Flag { /** Red. */ RED(1), BLUE { void x() {} } }
    record Point(int x, int... y) {}
    @interface Mark { int value() default 3; }
    interface Deep { void dive(); }
}
"""


class Declarations(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = read_as(SHIP, "a/b/Ship.java")

    def test_a_test_of_statistics_is_no_test(self):
        files = {"a/TTest.java": "package a;\n/** A t-test. */\npublic class TTest {}\n",
                 "a/HexTest.java": "package a;\nimport org.junit.Test;\npublic class HexTest {}\n"}  # fmt: skip
        self.assertEqual(sorted(gather_files(files)[1].symbols), ["a", "a.TTest"])

    def test_every_kind_of_declaration_has_its_path_kind_and_level(self):
        found = {path.removeprefix("a.b.Ship"): (s.kind, s.visibility) for path, s in self.found.items()}
        self.assertEqual(
            found,
            {
                "": ("class", "public"), ".MAX": ("constant", "public"), ".MIN": ("constant", "public"),
                ".speed": ("field", "private"), ".Ship(String[])": ("constructor", "public"),
                ".sail(int,List)": ("method", "protected"), ".drift()": ("method", "public"),
                ".Flag": ("enum", "internal"), ".Flag.RED": ("member", "internal"),
                ".Flag.BLUE": ("member", "internal"), ".Point": ("record", "internal"),
                ".Point.x()": ("method", "internal"), ".Point.y()": ("method", "internal"),
                ".Mark": ("annotation", "internal"), ".Mark.value()": ("method", "internal"),
                ".Deep": ("interface", "internal"), ".Deep.dive()": ("method", "internal"),
            },
        )  # fmt: skip

    def test_the_declaration_is_shown_without_annotations_comments_and_body(self):
        self.assertEqual(
            self.found["a.b.Ship"].signatures[0].text,
            "public class Ship<T extends Cargo> extends Hull implements Floating",
        )
        self.assertEqual(
            self.found["a.b.Ship.sail(int,List)"].signatures[0].text,
            "protected <U> List<U> sail(final int knots, List<T> with) throws java.io.IOException",
        )

    def test_tags_become_the_common_structure(self):
        ship, sail = self.found["a.b.Ship"].doc, self.found["a.b.Ship.sail(int,List)"].doc
        self.assertEqual(ship.since, "1.2")
        self.assertEqual(ship.type_parameters[0].name, "T")
        self.assertEqual(ship.deprecated.since, "2.0")
        self.assertIn("```java\n@Override ship.sail(1);\n```", ship.body)
        self.assertEqual(sail.body, "It costs \\<fuel> & `a < b`.")
        self.assertEqual(sail.parameters[0].text, "how fast,\nnot more than [`MAX`](api:%23MAX)")
        self.assertEqual((sail.returns[0].text, sail.raises[0].name), ("the way", "IllegalStateException"))

    def test_mentions_keep_their_place_in_the_file(self):
        mention = next(m for m in self.found["a.b.Ship"].mentions if m.text == "Side#PORT")
        self.assertEqual((mention.line, mention.origin), (8, "link"))
        self.assertEqual(SHIP.split("\n")[mention.line - 1][mention.column - 1 :][: len(mention.text)], mention.text)

    def test_an_ordinary_comment_above_a_public_element_is_reported(self):
        found, _, _ = gather_files({"a/b/Ship.java": SHIP})
        self.assertEqual([(f.rule, f.subject, f.line) for f in found.findings],
                         [("text/wrong-comment", "a.b.Ship.drift()", SHIP[: SHIP.index("// Drifts")].count("\n") + 1)])  # fmt: skip


class Lent(unittest.TestCase):
    def test_members_of_a_hidden_base_belong_to_the_type_that_readers_see(self):
        found = links_of({
            "a/Shim.java": "package a;\nabstract class Shim {\n  /** Makes. */ public static void make() {}\n"
                           "  /** Own. */ void own() {}\n  /** Most. */ public static final int MOST = 3;\n}\n",
            "a/Seen.java": "package a;\n/** {@link #make}, {@link #own}, {@link Seen#MOST}, {@link Shim#make()}. */\n"
                           "public class Seen extends Shim {}\n",
        })  # fmt: skip
        links = {text: outcome for (path, text), (outcome, _) in found.items() if path == "a.Seen"}
        self.assertEqual(
            links,
            {
                "#make": "linked",
                "#own": "hidden",
                "Seen#MOST": "linked",
                "Shim#make()": "hidden",
                "Shim": links["Shim"],
            },
        )


class Values(unittest.TestCase):
    def test_the_value_of_a_constant_is_meant_as_such(self):
        found = links_of({"a/A.java": "package a;\n/** {@value #MOST}, {@value A#GONE}, {@value}. */\npublic class A {\n"
                                      "  /** m */ public static int MOST() { return 1; }\n  private static final int MOST = 3;\n}\n"})  # fmt: skip
        self.assertEqual(found["a.A", "#MOST"], ("hidden", "a.A.MOST"))
        self.assertEqual(found["a.A", "A#GONE"], ("dangling", "a.A.GONE"))


class Links(unittest.TestCase):
    FILES = {
        "a/Base.java": """
            package a;
            public class Base {
                /** From here. */ public void run(int n) {}
                public void run(String s) {}
                public int run;
                private void secret() {}
                public static class Inner {}
            }""",
        "a/Sub.java": """
            package a;
            import java.util.List;
            /** {@link #run} {@link #run(String)} {@link #run(java.lang.String)} {@link Inner} {@link #secret}
             * {@link Base#gone()} {@link List} {@link a.Base} {@link Nowhere} {@link #run(long)} */
            public class Sub extends Base {
                /** {@link #own} {@link Sub#Sub(int...)} */
                public Sub(int[] x) {}
                public class Deep {
                    /** {@link #own()} */
                    public void f() {}
                }
                public void own() {}
                @Override public void run(int n) {}
            }""",
    }

    def test_names_follow_the_rules_of_the_language(self):
        found = links_of(self.FILES)
        expected = {
            "#run": ("linked", "a.Base.run"),
            "#run(String)": ("linked", "a.Base.run(String)"),
            "#run(java.lang.String)": ("linked", "a.Base.run(String)"),
            "Inner": ("linked", "a.Base.Inner"),
            "#secret": ("hidden", "a.Base.secret()"),
            "Base#gone()": ("dangling", "a.Base.gone"),
            "List": ("outside", "java"),
            "a.Base": ("linked", "a.Base"),
        }
        for text, link in expected.items():
            with self.subTest(text):
                self.assertEqual(found["a.Sub", text], link)
        self.assertEqual(found["a.Sub.Sub(int[])", "Sub#Sub(int...)"], ("linked", "a.Sub.Sub(int[])"))
        self.assertEqual(found["a.Sub.Deep.f()", "#own()"], ("linked", "a.Sub.own()"))
        self.assertNotEqual(found["a.Sub", "Nowhere"][0], "dangling")

    def test_a_package_does_not_answer_for_packages_below_its_name(self):
        found = links_of({"a/X.java": "package a;\n/** {@link a.other.Thing} {@link a.Thing} */\npublic class X {}"})
        self.assertEqual(found["a.X", "a.other.Thing"][0], "outside")
        self.assertEqual(found["a.X", "a.Thing"][0], "dangling")

    def test_an_override_without_text_stands_for_what_it_overrides(self):
        _, index, _ = gather_files(self.FILES)
        linker = Linker(index, MemoryPortal(index))
        self.assertIn("untold", index.symbols["a.Sub.run(int)"].flags)
        target = linker.resolver_for("a.Sub").resolve("#run(int)", "a.Sub")
        self.assertEqual(target.entry.path, "a.Base.run(int)")
