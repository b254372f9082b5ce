"""Parameters of which only the whole project can say that nothing takes them."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import gather_files
from zarbek.core.findings.documented_options import keys_of

TYPES = st.sampled_from(
    ["number", "Map<string, number>", "{ deep: { er: 1 } }", "(a: X, b: Y) => void", "[1, 2][]", "'a;b'"]
)

TEXT = '''
    """Plans.

    :param tide: How high.
    :param berth: Which one.
    """
'''


def unknown(files):
    gathered, _, _ = gather_files(files)
    return [f.text for f in gathered.findings if f.rule == "stale/parameter"]


def python(body, head="def plan(tide, **options):", others=""):
    """The described parameters that nothing takes, of a function with further keywords."""
    lines = TEXT + "".join(f"    {line}\n" for line in body.split("\n"))
    other = "def moor(berth):\n    pass\ndef sail(wind, **rest):\n    rest.pop('crew')\ndef any_of(**rest):\n    print(rest)\n"
    return unknown({"p/__init__.py": others + head + lines, "p/other.py": other})


class Keywords(unittest.TestCase):
    def test_those_that_are_taken_here_or_where_they_are_handed(self):
        for body in ("options.pop('berth', 1)", "x = options['berth']", "if 'berth' in options:\n    pass",
                     "from p.other import moor\nreturn moor(**options)"):  # fmt: skip
            with self.subTest(body):
                self.assertEqual(python(body), [])

    def test_those_that_nothing_takes(self):
        for body in ("options.get('crew')", "from p.other import sail\nreturn sail(1, **options)",
                     "from .other import sail as go\nif options:\n    go(**options)"):  # fmt: skip
            with self.subTest(body):
                self.assertEqual(python(body), ["berth"])

    def test_silence_where_they_may_go_anywhere(self):
        for body in ("pass", "keep(options)", "return locals(), options.get('crew')", "dict(**options)",
                     "from p.other import any_of\nany_of(**options)", "from elsewhere import sail\nsail(**options)",
                     "options.get(name)", "get()(**options)", "return plan(1, **options)\noptions.clear()"):  # fmt: skip
            with self.subTest(body):
                self.assertEqual(python(body), [])

    def test_a_circle_of_calls_takes_what_its_parts_take(self):
        self.assertEqual(python("return plan(1, **options)"), ["berth"])

    def test_a_class_is_called_by_its_constructor_and_a_method_is_that_of_any_heir(self):
        made = "class Plan:\n    def __init__(self, berth):\n        pass\n"
        self.assertEqual(python("return Plan(**options)", others=made), [])
        self.assertEqual(python("return Plan(**options)", others=made.replace("berth", "b")), ["berth"])
        heirs = "class A:\n    def go(self): pass\nclass B(A):\n    def go(self, {}): pass\n"
        head = "class C(A):\n  def plan(self, tide, **options):"
        for parameter, names in (("berth", []), ("b", ["berth"])):
            self.assertEqual(python("return self.go(**options)", head, heirs.format(parameter)), names)


class Options(unittest.TestCase):
    @given(st.dictionaries(st.from_regex(r"[a-z$_]\w{0,8}", fullmatch=True), TYPES, min_size=1), st.sampled_from(",;"))
    def test_the_keys_of_a_type_are_those_outside_of_all_brackets(self, members, sign):
        text = "{ " + f"{sign} ".join(f"{name}?: {value}" for name, value in members.items() if ";" not in value) + " }"
        told = {name for name, value in members.items() if ";" not in value}
        self.assertEqual(keys_of(text) or frozenset(), told)
        self.assertIsNone(keys_of(text[:-1] + f"{sign} ...rest }}"))

    def described(self, declared, more=""):
        text = (
            "/**\n * Plans.\n * @param tide - t\n * @param options - o\n * @param options.berth - b\n"
            " * @param options.crew.size - c\n */\nexport function plan(tide: number, {}): void {{}}\n"
        )
        return unknown({"package.json": '{"name": "k"}', "index.ts": more + text.format(declared)})

    def test_what_is_taken_apart_or_written_out(self):
        for declared, names in (
            ("{ berth, crew = 1 }: any", []), ("{ berth: b, stern }: any", ["options.crew.size"]),
            ("{ berth, ...rest }: any", []), ("options: { berth: number; crew?: { size: () => void } }", []),
            ("options: { crew: Map<string, number> }", ["options.berth"]), ("options: { [name: string]: any }", []),
        ):  # fmt: skip
            with self.subTest(declared):
                self.assertEqual(self.described(declared), names)

    def test_members_of_the_types_of_the_project(self):
        types = (
            "export interface Base { berth: number }\nexport interface Full extends Base { crew: string[] }\n"
            "export interface Other extends Outside { berth: number }\nexport interface Open { [name: string]: any }\n"
        )
        for declared, names in (
            ("options: Full", []), ("options: Partial<Base>", ["options.crew.size"]), ("options?: Base | Full", []),
            ("options: Other", []), ("options: Open", []), ("options: Unknown", []), ("options: Base & object", []),
        ):  # fmt: skip
            with self.subTest(declared):
                self.assertEqual(self.described(declared, types), names)


if __name__ == "__main__":
    unittest.main()
