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
    def test_of_languages_by_what_they_stand_in(self):
        halmere, package = Owner("", ("halmere",)), Owner("package", ("halmere.example/deck",))
        deck, kotlin = Owner("class", ("halmere", "Deck")), Owner("class", ("Deck",), "halmere.deck")
        struct, trait, union = (
            Owner("struct", ("halmere", "Deck")),
            Owner("trait", ("halmere", "Raise")),
            Owner("class", ("Deck",)),
        )
        for language, owner, text, expected in (
            ("csharp", deck, "public void Moor(Rope rope)", ("halmere.Deck.Moor(Rope)", "method")),
            ("csharp", deck, "public int Width { get; set; }", ("halmere.Deck.Width", "property")),
            ("csharp", deck, "public Deck(int width)", ("halmere.Deck.Deck(int)", "constructor")),
            ("csharp", deck, "public static bool operator ==(Deck a, Deck b)", ("halmere.Deck.operator ==(Deck,Deck)", "operator")),
            ("csharp", deck, "void hidden()", None), ("csharp", halmere, "sealed class Deck : Float, IRope", ("halmere.Deck", "class")),
            ("csharp", Owner("enum", ("halmere", "Light")), "Red = 1", ("halmere.Light.Red", "member")),
            ("csharp", Owner("interface", ("halmere", "IDeck")), "void Moor()", ("halmere.IDeck.Moor()", "method")),
            ("go", package, "func (d *Deck) Moor(r Rope) (err error)", ("halmere.example/deck.Deck.Moor", "method")),
            ("go", package, "type Deck struct { Width int // more }", ("halmere.example/deck.Deck", "struct")),
            ("go", package, "func Each(f func(d interface{}) bool)", ("halmere.example/deck.Each", "function")),
            ("go", package, "const Max = 3", ("halmere.example/deck.Max", "constant")), ("go", package, "Moor of decks", None),
            ("kotlin", kotlin, "fun moor(rope: Rope, turns: Int = 2): Boolean", ("halmere.deck.Deck.moor(Rope,Int)", "method")),
            ("kotlin", kotlin, "constructor(width: Int)", ("halmere.deck.Deck.Deck(Int)", "constructor")),
            ("kotlin", kotlin, "Moors a deck", None),
            ("kotlin", Owner("", (), "halmere.deck"), "data class Rope(val length: Int)", ("halmere.deck.Rope", "class")),
            ("kotlin", Owner("enum", ("Light",), "halmere.deck"), "RED", ("halmere.deck.Light.RED", "member")),
            ("typescript", union, "moor(rope: Rope, turns?: number): void", ("Deck.moor", "method")),
            ("typescript", union, "new Deck(width: number): Deck", ("Deck.constructor", "constructor")),
            ("typescript", union, "readonly depth: number", ("Deck.depth", "property")), ("typescript", union, "Moors a deck.", None),
            ("typescript", NO_OWNER, "interface Rope { length: number }", ("Rope", "interface")),
            ("typescript", NO_OWNER, "moor(deck: Deck): Promise<void>", ("moor", "function")),
            ("typescript", Owner("enum", ("Light",)), 'Red = "red"', ("Light.Red", "member")),
            ("rust", struct, "pub fn moor(&mut self, rope: &Rope) -> Result<(), Error>", ("halmere::Deck::moor", "method")),
            ("rust", struct, "width: u32", ("halmere::Deck::width", "field")), ("rust", struct, "fn clone(&self) -> Deck", None),
            ("rust", trait, "fn raise(&self) { ... }", ("halmere::Raise::raise", "method")),
            ("rust", Owner("enum", ("halmere", "State")), "Raised(u32)", ("halmere::State::Raised", "member")),
            ("rust", halmere, "pub struct Deck<T> { /* private fields */ }", ("halmere::Deck", "struct")),
            ("rust", halmere, "pub struct Id(pub u32);", ("halmere::Id", "struct")),
            ("rust", halmere, "macro_rules! deck { () => { ... }; }", ("halmere::deck!", "macro")), ("rust", halmere, "Decks in use", None),
        ):  # fmt: skip
            with self.subTest(f"{language}: {text}"):
                self.assertEqual(read(text, language, owner), expected)

    def test_of_cpp(self):
        for text, expected in (
            ("halmere::Deck::Deck ( )", ("halmere::Deck::Deck()", "constructor")),
            ("Line halmere::Deck::line ( ) const inline", ("halmere::Deck::line()const", "method")),
            ("template<typename T > void halmere::Deck< T >::put ( const T & t ) [virtual]", ("halmere::Deck::put(T)", "method")),
            ("const A< B< C > >::D halmere::Deck::d ( )", ("halmere::Deck::d()", "method")),
            ("bool operator== ( const Deck & a, const Deck & b ) related", ("halmere::operator==(Deck,Deck)", "operator")),
            ("halmere::Deck::operator bool ( ) const", ("halmere::Deck::operator bool()const", "operator")),
            ("enum halmere::Deck::Side [protected]", ("halmere::Deck::Side", "enum")),
            ("typedef Line<A<T>::wet, wet & dry ? WET : DRY> halmere::Deck<T>::Line", ("halmere::Deck::Line", "type")),
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
            ("@pontoon.moored", Owner("module", (), "pontoon"), ("pontoon.moored", "function")),
            ("abstractmethod sink", Owner("class", ("Deck",), "pontoon"), ("pontoon.Deck.sink", "method")),
            ("How to moor", Owner("module", (), "pontoon"), None),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read(text, "python", owner), expected)

    def test_what_people_leave_open_in_python_costs_no_other_parameter(self):
        for text, names in (
            ("execl(path, arg0, ...)", ["path", "arg0"]), ("spawn(mode, ..., env)", ["mode", "env"]),
            ("Counter([iterable-or-mapping])", ["iterable_or_mapping"]), ("f(a=...)", ["a"]), ("f(a[, ...])", ["a"]),
        ):  # fmt: skip
            with self.subTest(text):
                _, source = python_source(text, "")
                self.assertEqual([a.arg for a in ast.parse(source).body[0].args.args], names)

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
