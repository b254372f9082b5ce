"""Rust as trees of tokens."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.languages.rust.tokens import Group, TooDeep, parse_tokens, text_of, with_doc_attributes


class Tokens(unittest.TestCase):
    @given(st.text(alphabet="ab1 \n'\"#r(){}[]/*:->=.!\\", max_size=60))
    def test_what_is_read_is_written_again(self, text):
        trees = parse_tokens(text, most=1000)
        written = text_of(trees)
        self.assertEqual(
            "".join(written.split())[: len("".join(text.split()))].rstrip(")}]"), "".join(written.split()).rstrip(")}]")
        )
        self.assertEqual(text_of(parse_tokens(written, most=1000)), written)

    def test_kinds(self):
        trees = parse_tokens('fn r#type<\'a>(x: &\'a str) -> b\'x\' /* c */ "s\\"t" r#"raw"# /// doc\n..=', most=100)
        self.assertEqual(
            [(t.kind, t.text) for t in trees if not isinstance(t, Group)],
            [("word", "fn"), ("word", "r#type"), ("sign", "<"), ("lifetime", "'a"), ("sign", ">"), ("sign", "->"),
             ("char", "b'x'"), ("string", '"s\\"t"'), ("string", 'r#"raw"#'), ("doc", "/// doc"), ("sign", "..=")],
        )  # fmt: skip
        (group,) = (t for t in trees if isinstance(t, Group))
        self.assertEqual(group.text, "(x: &'a str)")

    def test_bounds(self):
        self.assertEqual(len(parse_tokens("a," * 500, most=100)), 101)
        with self.assertRaises(TooDeep):
            parse_tokens("(" * 100, most=1000)

    def test_what_nothing_closes_ends_with_the_text(self):
        self.assertEqual(text_of(parse_tokens("a (b [c", most=100)), "a (b [c])")
        self.assertEqual(text_of(parse_tokens("a ) b", most=100)), "a ) b")

    def test_comments_that_document_are_attributes(self):
        trees = with_doc_attributes(parse_tokens("/// Sails.\nfn f() { /** In. */ x }", most=100))
        self.assertEqual(text_of(trees), '#[doc = r###" Sails."###]\nfn f() { #[doc = r###" In. "###] x }')


if __name__ == "__main__":
    unittest.main()
