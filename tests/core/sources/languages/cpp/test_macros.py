"""Macros that hide declarations."""

import unittest

from zarbek.core.sources.languages.cpp.macros import collect_macros, parse_macros, prepare, words_of_calls


def prepared(text, *declared):
    found = prepare(text.encode(), parse_macros(declared))
    return found.data.decode(), [(text[start:end].strip(), name) for start, end, name in found.regions]


class Collecting(unittest.TestCase):
    def test_what_hides_declarations(self):
        text = (
            "#define HULL_API __attribute__((visibility(\"default\")))\n#define HULL_EMPTY\n#define HULL_BEGIN namespace hull {\n"
            "#define HULL_END }\n#define HULL_ALIAS HULL_API\n#define HULL_H\n#define HULL_SIZE 4\n#define HULL_ADD(a, b) ((a) + (b))\n"
            "#define HULL_CLASS(Base, Name) class Name : public Base {\n#define HULL_COPY(Name)\n#define HULL_QUIET throw()\n"
        )  # fmt: skip
        self.assertEqual(
            collect_macros(["a.h"], {"a.h": text}.get),
            [
                "HULL_ALIAS",
                "HULL_API",
                "HULL_BEGIN=namespace hull {",
                "HULL_CLASS(1)=class",
                "HULL_COPY()",
                "HULL_EMPTY",
                "HULL_END=}",
                "HULL_QUIET",
            ],
        )

    def test_words_that_macros_may_declare(self):
        self.assertEqual(
            words_of_calls(b"HULL_DECLARE(Mast, int)\n  HULL_TYPE(Keel)\nx = f(Deck);\nhull_do(Rope)\n"),
            ["Keel", "Mast", "int"],
        )


class Preparing(unittest.TestCase):
    def test_marks_are_blanked_where_they_stand(self):
        data, _ = prepared("HULL_API int f();\n", "HULL_API")
        self.assertEqual(data, "         int f();\n")

    def test_marks_that_are_called_go_with_what_they_are_given(self):
        data, _ = prepared("struct A { HULL_COPY(A) HULL_COPY((A, B)) int f(); };\n", "HULL_COPY()")
        self.assertEqual(data.split(), "struct A { int f(); };".split())

    def test_calls_without_an_end_go(self):
        for text in (
            "void f() {\n HULL_CHECK((a<b>::value),\n  NO_MAST_IS_THAT_LONG)\n}", "void f() { HULL_USING(sqrt) return; }",
            "#define HULL_DO(A) \\\n int A; \\\n f(A)\n\nHULL_DO(mast)\nHULL_DO(boom with words)\nint g();",
            "void f() {\n HULL_CHECK(a) // why\n}",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertNotRegex(prepared(text)[0], r"HULL_(?!DO\(A)")

    def test_calls_at_the_end_of_a_class_go_and_values_of_enumerations_stay(self):
        for text, gone in (
            ("class A {\n int a();\n HULL_COPY(A)\n HULL_MOVE(A)\n};", True), ("class A {\nprotected:\n HULL_COPY(A)\n};", True),
            ("enum A {\n FIRST, /* one */\n HULL_LAST\n};", False), ("enum A {\n HULL_ONLY\n};", False),
            ("struct A {\n A(A&& a) HULL_NOEXCEPT_IF(b<A>::value)\n : c(a) {}\n};", True),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual("HULL" not in prepared(text)[0], gone)

    def test_namespaces_of_macros_are_regions(self):
        text = "HULL_BEGIN\nint f();\nHULL_END\nint g();\n"
        data, regions = prepared(text, "HULL_BEGIN=namespace hull {", "HULL_END=}")
        self.assertEqual(regions[0][1], "hull")
        self.assertIn("int f();", regions[0][0])
        self.assertNotIn("int g();", regions[0][0])
        self.assertNotIn("HULL", data)

    def test_length_and_lines_stay(self):
        for text in (
            "HULL_API(1, (2)) int f();\n#if A\nint g();\n#else\nint h();\n#endif\n",
            "HULL_BEGIN\nHULL_API\nHULL_END",
            "HULL_API",
        ):
            data, _ = prepared(text, "HULL_API", "HULL_BEGIN=namespace a { namespace b {", "HULL_END=} }")
            self.assertEqual((len(data), data.count("\n")), (len(text), text.count("\n")))


if __name__ == "__main__":
    unittest.main()
