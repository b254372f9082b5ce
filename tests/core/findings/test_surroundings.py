import unittest

from tests.support.sources import symbols_of
from zarbek.core.findings.surroundings import around_in_page, around_in_symbol, plain_text
from zarbek.core.findings.textrules import check_symbols
from zarbek.core.sources.guides.reader import read_guide


class Surroundings(unittest.TestCase):
    def test_the_sentence_around_a_mention(self):
        symbol = symbols_of('def f():\n    """Do.\n\n    First. Then `x` as :func:`g` says. Last.\n    """')["m.f"]
        mention = next(m for m in symbol.mentions if m.name == "g")
        self.assertEqual(around_in_symbol(symbol, mention), ("Then x as ", "g", " says."))

    def test_a_type_stands_in_its_signature(self):
        symbol = symbols_of("def f(a: Thing) -> Other: ...")["m.f"]
        self.assertEqual(
            [around_in_symbol(symbol, m) for m in symbol.mentions], [("f(a: ", "Thing", ")"), ("f(…) -> ", "Other", "")]
        )

    def test_a_sentence_over_several_lines_of_a_guide(self):
        page = read_guide(
            "# T\n\n- other\n- It was\n  once [here](gone.md) and\n  not.[^1]\n\nNext.", file="a.md", path="a"
        )
        self.assertEqual(around_in_page(page, page.mentions[0]), ("It was once ", "here", " and not."))

    def test_marks_are_not_read_aloud(self):
        self.assertEqual(plain_text("**A** `b` [c](api:c) \\[d\\]"), "A b c [d]")


class TextRules(unittest.TestCase):
    def findings(self, source):
        return [(f.rule, f.text, f.suggestion) for f in check_symbols(symbols_of(source).values())]

    def test_true_cases(self):
        self.assertEqual(
            self.findings('def f(new):\n    """D.\n\n    :param old: Gone."""'), [("stale/parameter", "old", "new")]
        )
        self.assertEqual(
            self.findings('def f(a: int):\n    """D.\n\n    :param str a: A."""'),
            [("text/type-conflict", "str", "int")],
        )

    def test_near_misses_are_not_reported(self):
        for name, source in {
            "variadic": 'def f(*a):\n    """D.\n\n    :param x: X."""',
            "keywords": 'def f(**a):\n    """D.\n\n    :param x: X."""',
            "decorated": '@magic\ndef f(a):\n    """D.\n\n    :param x: X."""',
            "private": 'def _f(a):\n    """D.\n\n    :param x: X."""',
            "a method's parameter on its class": 'class C:\n    """D.\n\n    :param far: X."""\n    def __init__(self, a): ...\n    def go(self, far): ...',
            "an attribute on its class": 'class C:\n    """D.\n\n    :param far: X."""\n    far = 1\n    def __init__(self, a): ...',
            "number tower": 'def f(a: int):\n    """D.\n\n    :param float a: A."""',
            "alias": 'def f(a: Path_ | None):\n    """D.\n\n    :param str a: A."""',
            "prose": 'def f(a: int):\n    """D.\n\n    :param a: A.\n    :type a: whatever fits"""',
            "one of several": 'def f(a: str | int):\n    """D.\n\n    :param int a: A."""',
        }.items():
            with self.subTest(name):
                self.assertEqual(self.findings(source), [])


if __name__ == "__main__":
    unittest.main()
