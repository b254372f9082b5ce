"""The elements that pages document, whatever program has set them."""

import html
import time
import unittest
from textwrap import dedent

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import TakesTooLong
from zarbek.core.material.worker_pool import time_limit
from zarbek.core.sources.htmltrees.code_language import Sample, language_of_code
from zarbek.core.sources.htmltrees.discovery import TreeHints
from zarbek.core.sources.htmltrees.page_reader import parse_page
from zarbek.core.sources.htmltrees.page_symbols import symbols_of

#: A type on a page of its own: headings, and a line that declares below each.
JAVA = """<title>Pontoon</title><nav><a id=top href="x.html">All</a></nav><div>Package <a href="../index.html">halmere.deck</a></div>
<h1>Class Pontoon&lt;T&gt;</h1><hr><div>public final class <b>Pontoon&lt;T&gt;</b> extends Object</div><div>A deck that floats.</div>
<section id="summary"><h2>Method Summary</h2><table><tr><td>void<td><a href="#moor(int,char)">moor</a>(int, char)</table></section>
<section id="moor(int,char)"><h3>moor</h3><div>public&nbsp;void&nbsp;moor(int line,\u200b char side)</div>
<p id="p12">Moors the deck. At dawn only.</p><dl><dt>Since:<dd>1.2</dl></section>
<h3 id="Pontoon(java.lang.String)">Pontoon</h3><pre>@Deprecated(since="2") public Pontoon(String name)</pre><div>Deprecated. Use the other one.</div>
<h3 id="LENGTH">LENGTH</h3><pre>public static final int LENGTH</pre><h3 id="F4">F4</h3><pre>public static final int F4</pre><h2 id="notes">Notes</h2><p>Some more words.</p>"""
#: The same of C++, set in tables; an enumeration with its values in another; what stands beside the class.
CPP = """<title>works: halmere::Pontoon&lt; T &gt; Class Template Reference</title>
<div class=x>halmere::Pontoon&lt; T &gt; Class Template Reference<div>in <a href=g.html>Decks</a></div></div>
<a name="details"></a><h2>Detailed Description</h2><div>template&lt;typename T&gt;<br>class halmere::Pontoon&lt; T &gt;</div><p>A deck that floats.</p>
<h2>Members</h2><a id="a01f"></a><h2><a href="#a01f">\u25c6</a> moor() <span>[1/2]</span></h2><table><tr><td>
<table><tr><td>template&lt;typename T &gt; <tr><td>Line halmere::Pontoon&lt; T &gt;::moor <td>(<td>int&nbsp;<td>line, <tr><td><td><td>char&nbsp;<td>side <tr><td><td>)<td> const</table>
<td>inline</table><p>Moors the deck.</p>
<a id="a02e"></a><h2>Side</h2><table><tr><td>enum halmere::Pontoon::Side</table><table><tr><th colspan=2>Values
<tr><td><a id="a02e1"></a>Left <td><p>Where the sun sets.<tr><td><a id="a02e2"></a>Right<td></table>
<h2>Friends And Related Functions</h2><a id="a03d"></a><h2>operator==()</h2><table><tr><td>bool operator== <td>(<td>const Pontoon &amp;&nbsp;<td>a, <td>const Pontoon &amp;&nbsp;<td>b<td>)</table>"""
#: Functions of C, one after the other.
C = """<title>Mooring</title><h2><a name="mooring"></a>Mooring</h2><p>How decks are moored.</p>
<a name="deck-moor"></a><h3>deck_moor ()</h3><pre>int
deck_moor (Deck *deck,
           int line);</pre><p>Moors a deck.</p><h4>Returns</h4><p>Whether it holds fast.</p>
<a name="DeckSide"></a><h3>enum DeckSide</h3><p>A side of a deck.</p><h4>Values</h4><table><tr><td><a name="DECK-LEFT"></a>DECK_LEFT</td><td>Left.</td></table>
<a name="DeckFunc"></a><h3>DeckFunc ()</h3><pre>void (*DeckFunc) (Deck *deck);</pre><a name="DECK-MAX"></a><h3>DECK_MAX</h3><pre>#define DECK_MAX 12</pre>"""
#: Terms and descriptions of Python, by qualified names.
PYTHON = """<title>pontoon \u2014 decks</title><h1>pontoon \u2014 decks</h1><dl><dt id="term-deck">deck<dd>What floats.</dl>
<dl><dt id="pontoon.Deck">class pontoon.Deck(name, length=12)<dd><p>A deck.</p>
<dl><dt id="pontoon.Deck.moor">moor(line[, side])<dd>Moor it.</dl><dl><dt id="pontoon.Deck.name">name<dd>Its name is long.</dl></dl>
<dl><dt id="pontoon.sink">pontoon.sink(deck)<dd>Sink it.</dl><h2 id="see-also">See also</h2>"""


def read(page, language, file="deck/Pontoon.html", title=""):
    return symbols_of(parse_page(page), page, file, language, title)


def brief(symbols):
    return [(s.path, s.kind, s.place.anchor) for s in symbols]


class Pages(unittest.TestCase):
    maxDiff = None

    def test_a_type_with_headings_and_declarations(self):
        found = read(JAVA, "java", "halmere/deck/Pontoon.html")
        self.assertEqual(brief(found), [
            ("halmere.deck.Pontoon", "class", ""), ("halmere.deck.Pontoon.moor(int,char)", "method", "moor(int,char)"),
            ("halmere.deck.Pontoon.Pontoon(String)", "constructor", "Pontoon(java.lang.String)"),
            ("halmere.deck.Pontoon.LENGTH", "constant", "LENGTH"), ("halmere.deck.Pontoon.F4", "constant", "F4"),
        ])  # fmt: skip
        whole, moor, made, *_ = found
        self.assertEqual(
            (whole.doc.summary, whole.module, whole.place.certainty),
            ("A deck that floats.", "halmere.deck", "declared"),
        )
        self.assertEqual((moor.doc.summary, moor.line, moor.file), ("Moors the deck.", 4, "halmere/deck/Pontoon.html"))
        self.assertEqual([(p.name, p.type) for p in moor.signatures[0].parameters], [("line", "int"), ("side", "char")])
        self.assertEqual(made.doc.deprecated.text, "Use the other one.")

    def test_a_type_set_in_tables(self):
        found = read(CPP, "cpp", "classhalmere_1_1Pontoon.html", "halmere::Pontoon< T > Class Template Reference")
        self.assertEqual(brief(found), [
            ("halmere::Pontoon", "class", ""), ("halmere::Pontoon::moor(int,char)const", "method", "a01f"),
            ("halmere::Pontoon::Side", "enum", "a02e"), ("halmere::Pontoon::Side::Left", "member", "a02e1"),
            ("halmere::Pontoon::Side::Right", "member", "a02e2"),
            ("halmere::operator==(Pontoon,Pontoon)", "operator", "a03d"),
        ])  # fmt: skip
        self.assertEqual([s.place.certainty for s in found], ["declared"] * 3 + ["named"] * 2 + ["declared"])

    def test_what_a_heading_calls_is_called_though_nothing_is_in_its_brackets(self):
        page = """<title>halmere::Pontoon Class Reference</title><div>halmere::Pontoon Class Reference</div>
            <h2>Members</h2><a id="af1e"></a><h2>sides() [1/2]</h2>
            <table><tr><td>Side&lt;T&gt; halmere::Pontoon&lt;T&gt;::sides</table>"""
        found = read(page, "cpp", "Pontoon.html", "halmere::Pontoon Class Reference")
        self.assertEqual(brief(found)[1:], [("halmere::Pontoon::sides()", "method", "af1e")])

    def test_values_of_an_enumeration_without_a_name_are_members_of_its_type(self):
        page = """<title>halmere::Pontoon Class Reference</title><div>halmere::Pontoon Class Reference</div><h2>Members</h2>
            <a id="af2e"></a><h2>anonymous enum</h2><table><tr><td>anonymous enum</table><table><tr><th>Enumerator
            <tr><td><a id="af3e"></a>Longest<td>No deck is longer.</table><a id="af4e"></a><h2>moor()</h2><div>void moor()</div>"""
        found = read(page, "cpp", "classhalmere_1_1Pontoon.html", "halmere::Pontoon Class Reference")
        self.assertIn(("halmere::Pontoon::Longest", "member", "af3e"), brief(found))
        self.assertIn(("halmere::Pontoon::moor()", "method", "af4e"), brief(found))
        other = page.replace("<td>anonymous enum", "<td>anonymous enum<td>inherited")
        found = read(other, "cpp", "classhalmere_1_1Pontoon.html", "halmere::Pontoon Class Reference")
        self.assertNotIn("halmere::Pontoon::Longest", [s.path for s in found])

    def test_a_link_before_a_heading_is_no_name(self):
        page = """<title>Moor in halmere::deck</title><h1>Trait halmere::deck::Moor</h1><pre>pub trait Moor { }</pre>
            <section id="method.moor"><div><a href="src.html">source</a></div><h4>fn moor(&amp;self)</h4></section>"""
        found = read(page, "rust", "deck/trait.Moor.html", "Moor in halmere::deck")
        self.assertEqual(brief(found)[1:], [("halmere::deck::Moor::moor", "method", "method.moor")])

    def test_a_name_alone_is_a_value_of_the_enumeration_at_its_place(self):
        page = """<title>Side in halmere::deck</title><h1>Enum halmere::deck::Side</h1><pre>pub enum Side { Left, }</pre><h2 id=Values>Values</h2>
            <h3 id="variant.Left">Left</h3><p>Where the sun sets.</p><h3 id="notes">Notes</h3><p>More.</p>"""
        found = read(page, "rust", "deck/enum.Side.html", "Side in halmere::deck")
        self.assertEqual(brief(found)[1:], [("halmere::deck::Side::Left", "member", "variant.Left")])

    def test_a_place_that_marks_another_language_names_nothing_of_this_one(self):
        page = """<title>Decks in C</title><dl><dt id="c.DECK_MAX">DECK_MAX</dt><dd>Most.</dd><dt id="Deck.moor">moor()</dt></dl>
            <dl><dt id="Deck">class Deck()</dt><dd>A deck.</dd><dt id="Deck.sink">sink()</dt><dd>Sinks.</dd></dl>"""
        found = read(page, "python", "c-api.html")
        self.assertEqual([s.path for s in found], ["Deck", "Deck.sink"])

    def test_functions_one_after_the_other(self):
        found = read(C, "c", "mooring.html")
        self.assertEqual(brief(found), [
            ("deck_moor", "function", "deck-moor"), ("DeckSide", "enum", "DeckSide"),
            ("DeckSide::DECK_LEFT", "member", "DECK-LEFT"), ("DeckFunc", "type", "DeckFunc"), ("DECK_MAX", "macro", "DECK-MAX"),
        ])  # fmt: skip
        self.assertEqual({s.module for s in found}, {"mooring"}, "what a page holds belongs together")

    def test_terms_by_qualified_names(self):
        found = read(PYTHON, "python", "pontoon.html")
        self.assertEqual(brief(found), [
            ("pontoon.Deck", "class", "pontoon.Deck"), ("pontoon.Deck.moor", "method", "pontoon.Deck.moor"),
            ("pontoon.Deck.name", "attribute", "pontoon.Deck.name"), ("pontoon.sink", "function", "pontoon.sink"),
        ])  # fmt: skip
        self.assertEqual([p.name for p in found[1].signatures[0].parameters], ["line", "side"])

    def test_the_language_is_the_one_that_knows_most(self):
        for page, file, language in ((JAVA, "halmere/deck/Pontoon.html", "java"), (CPP, "classhalmere_1_1Pontoon.html", "cpp"),
                                     (C, "mooring.html", "c"), (PYTHON, "pontoon.html", "python")):  # fmt: skip
            with self.subTest(language):
                self.assertEqual(language_of_code([Sample(parse_page(page), page, file, "")]), language)
        guide = "<h1 id=a>How to moor</h1><p>Moor at dawn.</p><h2 id=b>Lines</h2><p>Use lines (of hemp).</p><dl><dt id=c>A term<dd>Words."
        self.assertEqual(language_of_code([Sample(parse_page(guide), guide, "g.html", "")]), "")
        said = '<script type="application/ld+json">{"@context":"https://schema.org","@type":"APIReference","programmingLanguage":"C#"}</script>'
        self.assertEqual(language_of_code([Sample(parse_page(said), said, "g.html", "")]), "csharp")

    def test_hints_say_where_names_and_kinds_stand(self):
        page = """<title>x</title><p class=k>Struct</p><h1>Deck</h1><p>struct Deck { int a; };</p>
<h3 id=moor><b class=n>moor</b></h3><pre>int moor(int line);</pre><h3 id=tie>tie</h3><pre>int tie(int line);</pre>"""
        hints = TreeHints(kind="p.k", symbol="b.n")
        found = symbols_of(parse_page(page), page, "deck.html", "cpp", "Deck", hints)
        self.assertEqual([(s.path, s.kind) for s in found], [("Deck", "struct"), ("Deck::moor(int)", "method")])
        self.assertEqual(
            brief(read(page, "cpp", "deck.html", "Deck")),
            [("moor(int)", "function", "moor"), ("tie(int)", "function", "tie")],
        )

    def test_no_declaration_outlives_the_time_of_its_page(self):
        page = "<h1>Class Deck</h1><pre>class Deck</pre>" + "".join(
            f"<h3 id=deck{n}>f{n}</h3><pre>void f{n}(int a)</pre>" for n in range(9_000)
        )
        with self.assertRaises(TakesTooLong), time_limit(0.2, TakesTooLong("it takes too long")):
            symbols_of(parse_page(page), page, "Deck.html", "cpp")

    def test_a_listing_of_many_numbered_lines_is_read_soon(self):
        page = "<title>deck.rs</title><pre>" + "".join(
            f"<span id={n}>{n}</span> let line = {n};\n" for n in range(60_000)
        )
        began = time.process_time()
        self.assertEqual(read(page, "rust", "deck.rs.html", "deck.rs"), [])
        self.assertLess(time.process_time() - began, 15)

    def test_no_title_takes_long(self):
        began = time.process_time()
        for words in ("class a" + "<b>.a" * 70 + "!", "a" + " <a>::a" * 50 + " !", "class a" + "<" * 190 + ">" * 190 + "!",
                      "class " + "a<b<c>" * 60, "operator" + "<" * 300 + "!", "class a" + "<b>.a" * 9000):  # fmt: skip
            page = f"<title>x</title><h1 id=a>{html.escape(words)}</h1><pre>{html.escape(words)}</pre>"
            for language in ("java", "cpp", "python"):
                read(page, language, "a.html", words)
        self.assertLess(time.process_time() - began, 10, "one of these once took hours")

    def test_what_a_type_has_from_others_is_told_by_their_pages(self):
        page = """<nav><h2></h2></nav><h1>Struct halmere::Deck</h1><pre>pub struct Deck { }</pre><h2>Implementations</h2>
        <h3>impl Deck</h3><section id=m.moor><h4>pub fn moor(&amp;self)</h4></section><h5 id=examples>Examples</h5><p>Words.</p>
        <section id=m.cast><h4>pub fn cast(&amp;self)</h4></section>
        <h2 id=more>Methods from Deref&lt;Target = Float&gt;</h2><section id=m.rise><h4>pub fn rise(&amp;self)</h4></section>
        <h5 id=examples-1>Examples</h5><section id=m.sink><h4>pub fn sink(&amp;self)</h4></section>"""
        found = symbols_of(parse_page(page), page, "halmere/struct.Deck.html", "rust")
        self.assertEqual([s.path for s in found], ["halmere::Deck", "halmere::Deck::moor", "halmere::Deck::cast"])

    def test_a_page_about_one_function_is_that_function(self):
        page = "<h1>Function halmere::moor</h1><pre>pub fn moor(deck: &amp;Deck) -&gt; bool</pre><p>Moors a deck at night.</p>"
        found = symbols_of(parse_page(page), page, "halmere/fn.moor.html", "rust")
        self.assertEqual([(s.path, s.kind, s.place.anchor, s.doc.summary) for s in found],
                         [("halmere::moor", "function", "", "Moors a deck at night.")])  # fmt: skip

    def test_prose_declares_nothing(self):
        page = dedent("""
            <h1 id=d>Detailed Description</h1><p id=p>Returns the value (of the deck).</p><h2 id=s>Summary</h2>
            <p>Deck moor = good;</p><ul><li id=l>one; two<li id=m>Class Hierarchy</ul><h2 id=h>Class Hierarchy</h2>""")
        for language in ("java", "cpp", "c", "python"):
            with self.subTest(language):
                self.assertEqual(brief(read(page, language, "hierarchy.html", "Class Hierarchy")), [])

    @given(st.lists(st.sampled_from(["<h2 id=a>", "<dt id=b>", "<td>", "<table>", "<pre>", "</pre>", "int f(", ");", "class X",
                                     "a.b", "<a name=c></a>", "operator", "<", ">", "::", "\u25c6", " ", "enum E", "</table>"]),
                    max_size=25).map("".join), st.sampled_from(["java", "cpp", "c", "python"]))  # fmt: skip
    def test_any_page_documents_something_or_nothing(self, page, language):
        for symbol in read(page, language):
            self.assertTrue(symbol.path and symbol.name and symbol.place is not None)
            self.assertGreaterEqual(symbol.line, 1)


if __name__ == "__main__":
    unittest.main()
