"""What assertions say."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.examples.call_text import split_call, split_list
from zarbek.core.sources.examples.outcomes import SILENT, is_of_framework, outcome_in


class Outcomes(unittest.TestCase):
    def test_of_every_framework(self):
        for language, statement, wanted in (
            ("java", "assertEquals(3, q.free().size());", ("q.free().size()", "is", "3")),
            ("java", "assertThrows(Bad.class, () -> b.close());", ("b.close()", "raises", "Bad")),
            ("java", 'assertThat(q.name()).isEqualTo("a");', ("q.name()", "is", '"a"')),
            ("java", "assertThat(q.list()).hasSize(3);", ("q.list()", "has size", "3")),
            ("java", "Assertions.assertNotNull(q);", ("q", "is not", "null")),
            ("kotlin", "assertFailsWith<Bad> { p.use() }", ("p.use()", "raises", "Bad")),
            ("kotlin", "f.price() shouldBe 3", ("f.price()", "is", "3")),
            ("csharp", "Assert.Equal(3, g.Open(t).Count);", ("g.Open(t).Count", "is", "3")),
            ("csharp", "await Assert.ThrowsAsync<Bad>(async () => await g.Shut());", ("g.Shut()", "raises", "Bad")),
            ("csharp", 't.Name.Should().Be("x");', ("t.Name", "is", '"x"')),
            ("csharp", "Assert.That(x.A(), Is.Not.EqualTo(3))", ("x.A()", "is not", "3")),
            ("csharp", "Assert.That(() => x.A(), Throws.TypeOf<Bad>())", ("x.A()", "raises", "Bad")),
            ("typescript", "expect(roster.next()).toBe(4)", ("roster.next()", "is", "4")),
            ("typescript", "expect(() => r.next(1)).toThrow(RangeError)", ("r.next(1)", "raises", "RangeError")),
            ("typescript", "expect(x).not.toContain('a')", ("x", "does not have", "'a'")),
            ("javascript", "assert.deepEqual([1], a.b())", ("a.b()", "is", "[1]")),
            ("javascript", "st.deepEqual(qs.read('a'), { a: '' }, 'why');", ("qs.read('a')", "is", "{ a: '' }")),
            ("javascript", "t.notEqual(a, b)", ("a", "is not", "b")),
            ("javascript", "t.end();", SILENT),
            ("go", "assert.Len(t, xs, 3)", ("xs", "has length", "3")),
            ("go", "require.NoError(t, err)", SILENT),
            ("rust", 'assert_eq!(h.tip(2), 4, "why");', ("h.tip(2)", "is", "4")),
            ("rust", "assert!(h.tip() != 3)", ("h.tip()", "is not", "3")),
            ("cpp", "EXPECT_NEAR(a.b(), 3.0, 0.1);", ("a.b()", "is about", "3.0")),
            ("cpp", "REQUIRE_THROWS_AS(f(), Bad);", ("f()", "raises", "Bad")),
            ("c", 'TEST_ASSERT_EQUAL_STRING("x", f());', ("f()", "is", '"x"')),
        ):  # fmt: skip
            with self.subTest(statement):
                self.assertEqual(tuple(outcome_in(statement, language)), tuple(wanted) + ("",) * (3 - len(wanted)))

    def test_what_is_no_assertion_is_none(self):
        for language, statement in (("java", "b.open()"), ("typescript", "expectation.go()"), ("go", "r.Check(3)"),
                                    ("java", "assertEquals("), ("rust", "let x = 3;")):  # fmt: skip
            self.assertIsNone(outcome_in(statement, language), statement)
        for name in ("t.Errorf", "t.end", "st.test", "s2t.ok"):
            self.assertTrue(is_of_framework(name), name)
        for name in ("tide.Table", "set.equals", "it.ends", "t.testing"):
            self.assertFalse(is_of_framework(name), name)

    @given(st.text("ab(){}[]\"'`,\\ =<>.!", max_size=60), st.sampled_from(["java", "rust", "go", "typescript"]))
    def test_any_text_has_an_answer(self, text, language):
        outcome_in("assert(" + text, language)
        call = split_call(text)
        if call is not None:
            self.assertNotIn("(", call.head)

    @given(st.lists(st.sampled_from(["a", "f(x, y)", '"a, b"', "[1, 2]", "x => { return [x, 1]; }"]), min_size=1))
    def test_arguments_stay_whole(self, parts):
        self.assertEqual(split_list(", ".join(parts)), parts)


if __name__ == "__main__":
    unittest.main()
