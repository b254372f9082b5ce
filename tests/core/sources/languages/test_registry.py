"""Whatever a file holds, reading it ends, says where things are, and gives text that renders harmlessly."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.sources import read_as
from zarbek.core.writing.html import render

SHARED = ["\n", "\n", " ", "{", "}", "(", ")", "<", ">", ";", ",", "x", "Y", "int", "é", "\u2028", '"', "'", "0"]
COMMENTS = [
    "/** ", " */", "/*", "// ", "/// ", "//! ", "@param x ", "\\brief ", "@see Y#x", "{@link Y#x(int)}", "[Y]", "[x][Y]",
    "{@code ", "}", "<see cref=\"Y\"/>", "<p>", "<script>alert(1)</script>", "[a](javascript:x)", "`", "# A\n", "- ",
]  # fmt: skip
FRAGMENTS = {
    "a/A.java": ["package a;\n", "class Y ", "public ", "void x(int x) ", "enum ", "@Override ", "record Y(int x) ", "->"],
    "a.kt": ["package a\n", "class Y ", "fun x() ", "val x = ", "object ", "companion object ", "data ", "interface Y ", "by "],
    "a.hpp": ["namespace a ", "class Y ", "template<class T> ", "#if 0\n", "#endif\n", "#define X(a) ", "operator", "enum ", "~"],
    "a.h": ["struct Y ", "typedef ", "#ifdef Y\n", "#else\n", "#endif\n", "extern \"C\" ", "static ", "(*x)", "union "],
    "a.cs": ["namespace a;", "class Y ", "public ", "int x { get; set; } ", "#region\n", "using Y = a.Y;", "record Y(int x)", "=>"],
    "a.js": ["export ", "class Y ", "function x(", "export * from './b';", "module.exports = ", "=>", "async ", "`${", "get "],
    "a.d.ts": ["declare ", "namespace Y ", "interface Y ", "type Y = ", "export default ", "keyof ", "declare module 'a' ", "?:"],
    "a.go": ["package a\n", "type Y struct ", "func (y *Y) X() ", "const (", "interface ", "import b \"c/d\"\n", "[T any]", "..."],
    "a.rs": ["pub ", "mod a ", "impl Y for x ", "trait Y ", "use a::{self, Y};", "macro_rules! x ", "#[doc = \"", "\"]", "#![", "'a"],
}  # fmt: skip
#: A documented declaration, around any text.
DOCUMENTED = {
    "a/A.java": ("package a;\n/** ", " */\npublic class A {}\n"),
    "a.kt": ("/** ", " */\nclass A\n"),
    "a.hpp": ("/** ", " */\nclass A {};\n"),
    "a.h": ("/*! ", " */\nint A(int x);\n"),
    "a.cs": ("/** ", " */\npublic class A {}\n"),
    "a.js": ("/** ", " */\nexport class A {}\n"),
    "a.d.ts": ("/** ", " */\nexport declare class A {}\n"),
    "a.go": ("package a\n/* ", " */\ntype A int\n"),
    "a.rs": ("/** ", " */\npub struct A;\n"),
}


class AnySource(unittest.TestCase):
    def check(self, file, source):
        lines = source.count("\n") + 1
        for path, symbol in read_as(source, file).items():
            self.assertEqual(symbol.path, path)
            self.assertIn(symbol.line, range(1, lines + 1), path)
            for mention in symbol.mentions:
                self.assertIn(mention.line, range(1, lines + 1), (path, mention))
            if not symbol.doc:
                continue
            html = str(render(f"{symbol.doc.summary}\n\n{symbol.doc.body}", lambda _address: None))
            self.assertNotRegex(html, r"<(script|style|iframe)|(href|src)=\"javascript:")

    def check_all(self, file):
        before, after = DOCUMENTED[file]
        declarations = st.lists(st.sampled_from(SHARED + COMMENTS + FRAGMENTS[file] * 3), max_size=60).map("".join)
        inside = st.lists(st.sampled_from(SHARED + COMMENTS), max_size=40).map("".join)
        documented = inside.map(lambda text: before + text.replace("*/", "").replace("/*", "") + after)

        @settings(max_examples=80)
        @given(declarations | documented)
        def any_source(source):
            self.check(file, source)

        texts = [s.doc.summary for s in read_as(f"{before}Floats{after}", file).values() if s.doc]
        self.assertIn("Floats", texts)
        any_source()


def _add(file):
    def test(self):
        self.check_all(file)

    setattr(AnySource, f"test_{file.replace('/', '_').replace('.', '_')}", test)


for _file in FRAGMENTS:
    _add(_file)


if __name__ == "__main__":
    unittest.main()
