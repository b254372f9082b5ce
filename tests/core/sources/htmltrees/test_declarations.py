"""Declarations as pages have them."""

import ast
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.htmltrees.declarations.form import NO_OWNER, Owner
from zarbek.core.sources.htmltrees.declarations.python import python_source
from zarbek.core.sources.htmltrees.declarations.reader import read_declaration

CPP = Owner("class", ("halmere", "Deck"))
JAVA = Owner("class", ("Deck",), "halmere.deck")
NAMES = st.from_regex(r"[a-z][a-z0-9_]{0,6}", fullmatch=True).filter(lambda n: not __import__("keyword").iskeyword(n))


def read(text, language, owner=NO_OWNER):
    found = read_declaration(text, language, owner)
    return found and (found.path, found.kind)


class Declarations(unittest.TestCase):
    def test_of_cpp(self):
        for text, expected in (
            ("halmere::Deck::Deck ( )", ("halmere::Deck::Deck()", "constructor")),
            ("Line halmere::Deck::line ( ) const inline", ("halmere::Deck::line()const", "method")),
            ("template<typename T > void halmere::Deck< T >::put ( const T & t ) [virtual]", ("halmere::Deck::put(T)", "method")),
            ("const A< B< C > >::D halmere::Deck::d ( )", ("halmere::Deck::d()", "method")),
            ("bool operator== ( const Deck & a, const Deck & b ) related", ("halmere::operator==(Deck,Deck)", "operator")),
            ("halmere::Deck::operator bool ( ) const", ("halmere::Deck::operator bool()const", "operator")),
            ("enum halmere::Deck::Side [protected]", ("halmere::Deck::Side", "enum")),
            ("typedef int halmere::Deck::Length", ("halmere::Deck::Length", "type")),
            ("friend class Crane", None), ("Returns the length.", None),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read(text, "cpp", CPP), expected)
        spaces = Owner("", ("halmere",))
        self.assertEqual(
            read("template<typename T>class halmere::Deck< T >", "cpp", spaces), ("halmere::Deck", "class")
        )
        self.assertEqual(
            read("template<typename T>class halmere::Deck< T, Wet >", "cpp", spaces), ("halmere::Deck<T,Wet>", "class")
        )
        self.assertEqual(read("template<> class halmere::Deck< 16 >", "cpp", spaces), ("halmere::Deck<16>", "class"))

    def test_of_java(self):
        for text, expected in (
            ("public\u00a0<T> List<T>\u00a0all\u200b(Class<? extends T> kind) throws Gone", ("halmere.deck.Deck.all(Class)", "method")),
            ("@Deprecated(since=\"2\", forRemoval=true) public Deck(String name)", ("halmere.deck.Deck.Deck(String)", "constructor")),
            ("static interface Deck.Part extends Comparable<Deck.Part>", ("halmere.deck.Deck.Part", "interface")),
            ("Moors the deck", None), ("public void moor() \u24d8 Notable", ("halmere.deck.Deck.moor()", "method")),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read(text, "java", JAVA), expected)
        self.assertEqual(
            read("public static final Side LEFT", "java", Owner("enum", ("Side",), "h")), ("h.Side.LEFT", "member")
        )

    def test_of_python(self):
        for text, owner, expected in (
            ("len(s)", Owner("module"), ("len", "function")), ("keys()", Owner("class", ("dict",)), ("dict.keys", "method")),
            ("class pontoon.Deck(name)", Owner("module", (), "pontoon"), ("pontoon.Deck", "class")),
            ("exception Sunk", Owner("module", (), "pontoon"), ("pontoon.Sunk", "exception")),
            ("classmethod of(name)", Owner("class", ("Deck",), "pontoon"), ("pontoon.Deck.of", "method")),
            ("How to moor", Owner("module", (), "pontoon"), None),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read(text, "python", owner), expected)

    def test_nothing_is_too_long_or_of_an_unknown_language(self):
        self.assertEqual(read("int f(" + "int a, " * 1000 + "int b)", "c"), None)
        self.assertEqual(read("int f(int a)", "fortran"), None)

    @given(NAMES, st.lists(NAMES, unique=True, max_size=4), st.lists(NAMES, unique=True, max_size=3))
    def test_what_is_optional_in_python_has_a_default(self, name, needed, optional):
        optional = [n for n in optional if n not in needed]
        text = ", ".join(needed) + "".join(f"[, {n}" for n in optional) + "]" * len(optional)
        _, source = python_source(f"{name}({text})", "")
        arguments = ast.parse(source).body[0].args
        self.assertEqual([a.arg for a in arguments.args], [*needed, *optional])
        self.assertEqual(len(arguments.defaults), len(optional))

    @given(st.text("ab_.()[]:=-> *,@\u2192'\\\"", max_size=30), st.sampled_from(["", "module", "class"]))
    def test_any_text_of_python_is_a_declaration_or_none(self, text, kind):
        told = python_source(text, kind)
        if told is not None:
            ast.parse(told[1])


if __name__ == "__main__":
    unittest.main()
