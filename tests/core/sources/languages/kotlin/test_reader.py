import unittest

from tests.support.sources import links_of, read_as

FARE = """
package halmere.fareglow

import halmere.ports.Port

/**
 * A fare for [Port] and [Fare.total]; [amount] is [the price][Fare.MAX].
 *
 * @param T what for
 * @property amount how much
 */
@Deprecated("old", ReplaceWith("Tariff"))
open class Fare<T : Any>(val amount: Int = 1, label: String) : Base<T>(amount), Sold by seller {
    /**
     * Total with [extra].
     * @param extra more
     * @return all
     * @throws IllegalStateException never
     */
    fun total(extra: Int, vararg more: Int): Long = amount.toLong()
    /** Makers. */
    companion object {
        /** Most. */
        const val MAX = 100
    }
    override val name: String get() = ""
    internal fun x() = 1
}
/** Sort. */
enum class Sort(val n: Int) {
    /** One. */
    DAY(1),
    WEEK(7),
}
fun String.asFare(n: Int = 1): Fare<Any> = Fare(n, this)
val Int.euros: String get() = "$this"
typealias Fares = List<Fare<Any>>
sealed interface State {
    data object Shut : State
}
private class Hidden { fun inner() {} }
"""


class Declarations(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = read_as(FARE, "Fare.kt")

    def test_kinds_and_levels(self):
        found = {p.removeprefix("halmere.fareglow."): (s.kind, s.visibility) for p, s in self.found.items()}
        for path, expected in {
            "Fare": ("class", "public"), "Fare.amount": ("property", "public"),
            "Fare.Fare(Int,String)": ("constructor", "public"), "Fare.total(Int,Int[])": ("method", "public"),
            "Fare.Companion.MAX": ("constant", "public"), "Fare.x()": ("method", "internal"),
            "Sort.DAY": ("member", "public"), "asFare(Int)": ("function", "public"), "euros": ("property", "public"),
            "Fares": ("type", "public"), "State.Shut": ("object", "public"), "Hidden.inner()": ("method", "private"),
        }.items():  # fmt: skip
            with self.subTest(path):
                self.assertEqual(found.get(path), expected)
        self.assertNotIn("Fare.label", found)

    def test_an_expression_body_before_a_companion_is_no_call(self):
        source = (
            "class A {\n    val x = 1\n    /** Made. */\n    companion object {\n        fun make() = A()\n    }\n}\n"
        )
        self.assertIn("A.Companion.make()", read_as(source, "A.kt"))

    def test_a_body_of_one_expression_tells_what_is_made(self):
        found = read_as("class A {\n fun b() = sea.Boat(1)\n fun me() = this\n fun n() = build()\n fun o() = Boat(1).n()\n"
                        " fun p(): Any = Boat(1)\n fun q() { Boat(1) }\n}\n", "A.kt")  # fmt: skip
        self.assertEqual({s.name: s.makes for s in found.values() if s.makes}, {"b": "sea.Boat", "me": "Self"})

    def test_declarations_may_share_their_lines(self):
        for source, paths in {
            "object O {\n  /** A */ const val A = 1\n  /** B */ const val B = 2\n}\nclass C\n": ["O", "O.A", "O.B", "C"],
            "/** A */ const val A = 1\n/** B */ const val B = listOf(1)\n/** f */ @JvmStatic fun f() = 2\n": ["A", "B", "f()"],
            "fun interface D { fun go(): Int }\nobject One : D { override fun go() = 1 }\n":
                ["D", "D.go()", "One", "One.go()"],
            "enum class E { A, B { override fun f() {} };\n  open fun f() {} }\nclass C\n": ["E", "E.A", "E.B", "E.f()", "C"],
            'fun f() = "${ 1 }"\nclass C(val s: String = "${ f() }") { fun g() = 1 }\n':
                ["f()", "C", "C.C(String)", "C.g()", "C.s"],
        }.items():  # fmt: skip
            with self.subTest(source):
                found = read_as("package p\n" + source, "a.kt")
                self.assertEqual(sorted(found), sorted(f"p.{path}" for path in paths))
        found = read_as("package p\n/** A */ const val A = 1\n/** B */ const val B = 2\n", "a.kt")
        self.assertEqual([(s.doc.summary, s.line, s.value) for s in found.values()], [("A", 2, "1"), ("B", 3, "2")])

    def test_tags_and_deprecation(self):
        fare, total = self.found["halmere.fareglow.Fare"], self.found["halmere.fareglow.Fare.total(Int,Int[])"]
        self.assertEqual(fare.doc.deprecated.instead, "Tariff")
        self.assertEqual(self.found["halmere.fareglow.Fare.amount"].doc.summary, "how much")
        self.assertEqual((total.doc.returns[0].text, total.doc.raises[0].name), ("all", "IllegalStateException"))
        self.assertEqual(total.doc.summary, "Total with `extra`.")

    def test_names_in_brackets(self):
        found = links_of({"Fare.kt": FARE, "Port.kt": "package halmere.ports\nclass Port\n"})
        scope = "halmere.fareglow.Fare"
        self.assertEqual(found[scope, "Port"], ("linked", "halmere.ports.Port"))
        self.assertEqual(found[scope, "Fare.total"], ("linked", f"{scope}.total(Int,Int[])"))
        self.assertEqual(found[scope, "Fare.MAX"], ("linked", f"{scope}.Companion.MAX"))
