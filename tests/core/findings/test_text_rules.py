"""What a text says of its own element."""

import unittest

from tests.support.sources import gather_files


def unknown(files):
    """Parameters that texts describe and signatures do not have."""
    gathered, _, _ = gather_files(files)
    return [f.text for f in gathered.findings if f.rule == "stale/parameter"]


class Parameters(unittest.TestCase):
    def test_a_described_parameter_that_is_not_there(self):
        source = 'def f(width):\n    """Do.\n\n    :param height: How high.\n    """\n'
        self.assertEqual(unknown({"p.py": source}), ["height"])

    def test_keywords_and_nothing_at_all(self):
        text = 'def f({}):\n    """Do.\n\n    :param height: How high.\n    :param color: Of the line.\n    """\n'
        for declared, names in (
            ("", ["height", "color"]), ("**rest", []), ("width, **rest", ["height"]), ("height, width, **rest", ["color"]),
            ("height, **rest", []), ("*all, width=1, **rest", []),
        ):  # fmt: skip
            with self.subTest(declared):
                self.assertEqual(unknown({"p.py": text.format(declared)}), names)

    def test_the_receiver_and_what_carries_overloads_out_have_names_too(self):
        method = 'class A:\n    def add(this, other):\n        """Adds.\n\n        :param this: One.\n        :param those: Two.\n        """\n'
        self.assertEqual(unknown({"p.py": method}), ["those"])
        overloads = (
            "from typing import overload\n@overload\ndef f(a: int) -> int: ...\n@overload\ndef f(a: str) -> str: ...\n"
            'def f(a, strict=False):\n    """Does.\n\n    :param strict: How.\n    :param loose: How not.\n    """\n'
        )
        self.assertEqual(unknown({"p.py": overloads}), ["loose"])

    def test_what_stands_among_parameters_and_names_none(self):
        text = 'def f(width):\n    """Does.\n\n    Parameters\n    ----------\n    {}\n\n    """\n'
        for entries, names in (
            ("Point, Line, list", []), ("a, ..., f : int", []), ("size - large, small: default.\n        As given.", []),
            ("width is of the form\n    (x, y), where\n\n    x : int\n        Left.", []), ("Note: nothing.", []),
            ("height: How high.", ["height"]), ("left, right : int", ["left", "right"]),
        ):  # fmt: skip
            with self.subTest(entries):
                self.assertEqual(unknown({"p.py": text.format(entries)}), names)

    def test_the_names_of_any_declaration_will_do(self):
        text = "/**\n * hull_make:\n * @width: how wide\n * @depth: how deep\n *\n * Makes.\n */\nint hull_make(int w, int d) { return 1; }\n"
        self.assertEqual(unknown({"h.c": text, "h.h": "int hull_make(int width, int depth);\n"}), [])
        self.assertEqual(unknown({"h.c": text, "h.h": "int hull_make(int width, int d);\n"}), ["depth"])

    def test_marks_of_privacy_and_what_is_taken_apart(self):
        code = "/**\n * Does.\n * @param size - how large\n */\nexport function f({}: any): void {{}}\n"
        for declared, names in (("_size", []), ("{ size, rest }", []), ("length", ["size"])):
            with self.subTest(declared):
                self.assertEqual(unknown({"package.json": '{"name": "k"}', "index.ts": code.format(declared)}), names)

    def test_what_a_script_leaves_out_hands_back_or_carries_out(self):
        left_out = "/**\n * Does.\n * @param {any} node - a\n * @param {any} stage - b\n */\nexport function f(node/*, stage*/) {}\n"
        returned = "/**\n * Makes.\n * @param {any} a - a\n * @return {Function} one\n * @param {any} b - of that one\n */\nexport function g(a) {}\n"
        overloads = (
            "/** Does. */\nexport function h(a: string): void;\nexport function h(b: number): void;\n"
            "/**\n * Does.\n * @param both - one of them\n */\nexport function h(both: any): void {}\n"
        )  # fmt: skip
        for file, source in (("f.js", left_out), ("g.js", returned), ("h.ts", overloads)):
            with self.subTest(file):
                self.assertEqual(unknown({"package.json": '{"name": "k"}', file: source}), [])

    def test_a_name_in_brackets_is_a_name_and_a_way_is_none(self):
        kotlin = "package k\n/**\n * Does.\n * @param [test] function that takes one.\n */\nfun f(test: Int) {}\n"
        self.assertEqual(unknown({"k.kt": kotlin}), [])
        header = "/**\n * Does.\n * @param[in] a first\n * @param [out] b second\n */\nvoid f(int a, int *b);\n"
        self.assertEqual(unknown({"f.h": header}), [])


if __name__ == "__main__":
    unittest.main()
