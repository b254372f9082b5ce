"""Macros by example: what their calls write, within bounds."""

import time
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import read_as
from zarbek.core.sources.languages.rust.macro_expansion import Macros
from zarbek.core.sources.languages.rust.tokens import Group, TooDeep, parse_tokens, text_of


def expanded(rules, arguments):
    macros = Macros()
    macros.declare("m", rules)
    return " ".join(macros.expand("m", arguments).split())


class Expansion(unittest.TestCase):
    def test_fragments_end_where_the_language_lets_them(self):
        for pattern, arguments, written in (
            ("($n:ident, $t:ty)", "(A, Vec<(u8, u16)>)", "A = Vec<(u8, u16)>"),
            ("($n:ident: $t:ty;)", "(A: &'a [u8];)", "A = &'a [u8]"),
            ("($v:vis $n:ident $t:ty)", "(pub(crate) A [u8; 4])", "A = [u8; 4]"),
            ("($v:vis $n:ident $t:ty)", "(A Box<dyn Fn(u8) -> u8>)", "A = Box<dyn Fn(u8) -> u8>"),
            ("($n:ident => $t:expr)", "(A => f(1, 2) + 3)", "A = f(1, 2) + 3"),
            ("($n:ident $t:literal)", "(A -1.5)", "A = -1.5"),
            ("($n:ident $t:tt)", "(A {x, y})", "A = {x, y}"),
            ("($n:ident $t:block)", "(A { x })", "A = { x }"),
            ("($t:lifetime $n:ident)", "('a A)", "A = 'a"),
            ("($n:ident $t:item)", "(A pub fn f() {})", "A = pub fn f() {}"),
        ):
            with self.subTest(pattern):
                self.assertEqual(expanded([(pattern, "{ $n = $t }")], arguments), written)

    def test_repetitions_within_repetitions(self):
        rule = ("{ $( $(#[$a:meta])* $n:ident($($f:ty),*); )+ }", "{ $( $(#[$a])* struct $n($($f),*); )+ }")
        self.assertEqual(
            expanded([rule], "{ #[x = 1] #[y] A(u8, u16); B(); }"), "#[x = 1]#[y] struct A(u8,u16); struct B();"
        )

    def test_comments_are_the_attributes_that_they_stand_for(self):
        self.assertEqual(
            expanded([("($(#[$a:meta])* $n:ident)", "{ $(#[$a])* $n }")], '(/// Says "it".\n A)'),
            '#[doc = r###" Says "it"."###] A',
        )

    def test_the_first_rule_that_fits_is_taken_and_none_writes_nothing(self):
        rules = [("($n:ident)", "{ one $n }"), ("($n:ident, $m:ident)", "{ two $m $crate }")]
        self.assertEqual(expanded(rules, "(A)"), "one A")
        self.assertEqual(expanded(rules, "(A, B)"), "two B crate")
        self.assertEqual(expanded(rules, "(A, B, C)"), "")
        self.assertEqual(expanded([("($n:ident)", "{ $other }")], "(A)"), "")

    def test_what_would_write_without_end_writes_little(self):
        source = (
            "macro_rules! a { () => { a!{} a!{} a!{} a!{} a!{} a!{} pub fn f() {} } }\na!{}\n/// L.\npub fn last() {}\n"
        )
        begun = time.process_time()
        found = read_as(source, "lib.rs", "k")
        self.assertLess(time.process_time() - begun, 10)
        self.assertEqual(found["k::last"].doc.summary, "L.")

    @given(st.text(alphabet="$():*+?,;{}[]<>=>'\"/#!abtyident literal0\n", max_size=120), st.text(max_size=80))
    def test_anything_is_expanded_or_left_alone(self, rule, arguments):
        macros = Macros()
        macros.declare("m", [(f"({rule})", f"{{{rule}}}")])
        self.assertIsInstance(macros.expand("m", f"({arguments})"), str)


class Tokens(unittest.TestCase):
    @given(st.text(alphabet="ab1 \n'\"\\/*#r!.:->=", max_size=80))
    def test_tokens_without_brackets_are_the_text_but_for_its_end(self, text):
        shown = text_of(parse_tokens(text, most=1000))
        self.assertEqual(text[: len(shown)], shown)

    def test_brackets_nest_strings_and_comments_hold_none(self):
        (group,) = parse_tokens('{ "}" /* } */ \'}\' r#"}"# // }\n x }', most=100)
        self.assertIsInstance(group, Group)
        self.assertEqual([t.text for t in group.inside], ['"}"', "'}'", 'r#"}"#', "x"])
        self.assertEqual(group.text, '{ "}" /* } */ \'}\' r#"}"# // }\n x }')

    def test_brackets_in_one_another_beyond_any_use_are_refused(self):
        with self.assertRaises(TooDeep):
            parse_tokens("(" * 100, most=1000)


if __name__ == "__main__":
    unittest.main()
