import time
import unittest

from tests.support.sources import gather_files, read, symbols_of
from zarbek.core.findings.mention_context import around_in_page, around_in_symbol, plain_text
from zarbek.core.findings.text_rules import check_symbols
from zarbek.core.findings.type_rules import check_types
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.sources.comments.comment_blocks import wrong_comment
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

    def test_what_a_reader_sees_around_a_link_of_a_page(self):
        text = '<title>x</title>\n<p>Rests on <b>all</b> <a class=x\nhref="gone.html">what <i>is</i></a>, they &amp; we say.</p>\n<img src="b.png">'
        page = Page("p.html", "P", text, "p.html", form="html")
        told = [around_in_page(page, Mention(name, name, "page", field, line)) for name, field, line in (
            ("gone.html", "a", 3), ("b.png", "img", 4), ("nowhere", "a", 9))]  # fmt: skip
        self.assertEqual(
            told,
            [("x Rests on all ", "what is", ", they & we say."), ("", '<img src="b.png">', ""), ("", "nowhere", "")],
        )

    def test_many_links_on_one_line_cost_little(self):
        link = '<p>Of <a href="gone.html">it</a>.</p>'
        page = Page("p.html", "P", link * 100_000, "p.html", form="html")
        began = time.process_time()
        for n in range(0, 100_000, 40):
            mention = Mention("gone.html", "gone.html", "page", "a", 1, n * len(link) + link.index("href") + 1)
            self.assertEqual(around_in_page(page, mention)[1], "it")
        self.assertLess(time.process_time() - began, 10)

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
            "a method's parameter on its class": 'class C:\n    """D.\n\n    :param far: X."""\n    def __init__(self, a): ...\n    def go(self, far):\n        """G."""',
            "an attribute on its class": 'class C:\n    """D.\n\n    :param far: X."""\n    far = 1\n    def __init__(self, a): ...',
            "number tower": 'def f(a: int):\n    """D.\n\n    :param float a: A."""',
            "alias": 'def f(a: Path_ | None):\n    """D.\n\n    :param str a: A."""',
            "prose": 'def f(a: int):\n    """D.\n\n    :param a: A.\n    :type a: whatever fits"""',
            "one of several": 'def f(a: str | int):\n    """D.\n\n    :param int a: A."""',
        }.items():
            with self.subTest(name):
                self.assertEqual(self.findings(source), [])


class Untold(unittest.TestCase):
    def test_what_a_supplement_says_is_documentation(self):
        code = {"m.py": '"""M."""\ndef f(): ...\ndef g(): ...\nclass C: ...\n'}
        for text, left in {
            "---\nfor: api:m.f\n---\nLoads it.\n": "2 of 3 public types and functions have no documentation: g, C.",
            "---\nfor: api:m.*\nlanguage: de\n---\nText.\n": "3 of 3 public types and functions have no documentation: f, g, C.",
            "---\nfor: api:m.*\n---\n# Examples\n\n`f()`\n": "3 of 3 public types and functions have no documentation: f, g, C.",
        }.items():
            with self.subTest(text):
                self.assertEqual(self.undocumented(code | {"supplements/a.md": text}), [("m", left)])

    def undocumented(self, files):
        gathered, _, _ = gather_files(files)
        return [(f.subject, f.message) for f in gathered.findings if f.rule == "text/undocumented"]

    def test_what_everybody_may_use_and_nobody_describes_is_one_finding_a_module(self):
        self.assertEqual(
            self.undocumented({"m.py": 'def f(): ...\nclass C:\n    """C."""\n    def go(self): ...'}),
            [("m", "2 of 3 public types and functions have no documentation: f, go.")],
        )
        java = {f"h/{n}.java": f"package h;\npublic class {n} {{}}\n" for n in ("Berth", "Quay")}
        self.assertEqual(
            self.undocumented(java), [("h", "2 of 2 public types and functions have no documentation: Berth, Quay.")]
        )

    def test_what_nobody_can_reach_and_what_may_inherit_its_text(self):
        for files in (
            {"m.py": "def _f(): ..."}, {"m.py": 'class C(Base):\n    """C."""\n    def go(self): ...'}, {"m.py": "x = 1"},
            {"p/__init__.py": "", "p/_private.py": "def f(): ..."},
            {"Cargo.toml": '[package]\nname = "a"\n', "src/lib.rs": "mod inner;\n", "src/inner.rs": "pub fn f() {}\n"},
        ):  # fmt: skip
            with self.subTest(files):
                self.assertEqual(self.undocumented(files), [])


class WrongComments(unittest.TestCase):
    def test_only_a_comment_that_describes_what_stands_below(self):
        for comment, is_told in (
            ("Finds the berth of a ship.", True), ("The berths that are free now.", True), ("Berth allocation helpers", True),
            ("NOLINT berth is fine here", False), ("We keep the berth cached here", False),
            ("Inherited from the berth planner", False), ("Everything below is for testing only.", False),
        ):  # fmt: skip
            with self.subTest(comment):
                found = wrong_comment(comment, path="p.findBerths", name="findBerths", file="a", line=1, form="/** */")
                self.assertEqual(found is not None, is_told)


class Duplicates(unittest.TestCase):
    def found(self, source):
        return [(f.line, f.text) for f in read(source).findings if f.rule == "text/duplicate-definition"]

    def test_a_later_definition_hides_the_former(self):
        self.assertEqual(self.found('def f():\n    """F."""\n\ndef f(): ...'), [(4, "f")])
        self.assertEqual(self.found("class C:\n    def go(self): ...\n    x = 1\n    def go(self): ..."), [(4, "go")])

    def test_near_misses_are_not_reported(self):
        for near in (
            "if a:\n    def f(): ...\nelse:\n    def f(): ...",
            "try:\n    def f(): ...\nexcept E:\n    def f(): ...",
            "@overload\ndef f(a): ...\n@overload\ndef f(b): ...\ndef f(a, b=1): ...",
            "class C:\n    @property\n    def x(self): ...\n    @x.setter\n    def x(self, v): ...",
            "def f(): ...\nold = f\ndef f(): ...",
            "def f(): ...\ndel f\ndef f(): ...",
            "class A:\n    def f(self): ...\nclass B:\n    def f(self): ...",
        ):
            with self.subTest(near):
                self.assertEqual(self.found(near), [])


class StaleTypes(unittest.TestCase):
    TEXT = 'def f(a{}){}:\n    """F.\n\n    :param {} a: A.\n    :rtype: {}\n    """\n'

    def found(self, then, now, *text):
        old, new = (symbols_of(self.TEXT.format(*d, *text))["m.f"] for d in (then, now))
        return [(f.text, f.suggestion) for f in check_types(new, old, "1.0")]

    def test_a_type_that_was_true_once(self):
        self.assertEqual(self.found((": int", " -> str"), (": float", " -> str"), "int", "str"), [("int", "float")])
        self.assertEqual(self.found((": int", " -> str"), (": int", " -> bytes"), "int", "str"), [("str", "bytes")])

    def test_near_misses_are_not_reported(self):
        self.assertEqual(self.found((": int", ""), (": float", ""), "float", "str"), [])
        self.assertEqual(self.found((": int", ""), (": bytes", ""), "str", "str"), [])
        self.assertEqual(self.found((": int", ""), ("", ""), "int", "str"), [])
        self.assertEqual(self.found((": int", ""), (": int | None", ""), "int", "str"), [])
        old, new = (symbols_of(self.TEXT.format(d, "", "int", "str"))["m.f"] for d in (": int", ": Graph"))
        self.assertEqual([len(check_types(new, old, "1.0", names)) for names in ((), {"Graph"})], [1, 0])
        self.assertEqual(self.found((": List[int]", ""), (": list[int]", ""), "List[int]", "str"), [])


class Roles(unittest.TestCase):
    def test_are_not_words(self):
        text = "Ask for {term}`windows <window>`, told to the {term}`watch` as in {label}`lamps`.\n"
        page = read_guide(text, file="a.md", path="a")
        self.assertEqual(
            [around_in_page(page, m) for m in page.mentions],
            [("Ask for ", "windows", ", told to the watch as in lamps."),
             ("Ask for windows, told to the ", "watch", " as in lamps."),
             ("Ask for windows, told to the watch as in ", "lamps", ".")],
        )  # fmt: skip


if __name__ == "__main__":
    unittest.main()
