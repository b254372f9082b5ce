"""What becomes of the further keywords of a function."""

import ast
import unittest

from zarbek.core.sources.languages.python.keyword_arguments import keywords_of


def read(body, head="def f(a, **kw):"):
    return keywords_of(ast.parse(head + "".join(f"\n    {row}" for row in body.split("\n"))).body[0], "sea", False)


class Keywords(unittest.TestCase):
    def test_what_is_looked_at_by_name(self):
        found = read(
            'x = kw.pop("size")\nif "port" in kw:\n    y = kw["port"]\nz = kw.get("crew", 3)\nkw.setdefault("way", 1)'
        )
        self.assertEqual((found.taken, found.passed), (["crew", "port", "size", "way"], []))

    def test_what_they_are_handed_to(self):
        found = read('kw.pop("size")\nreturn sail(1, **kw)')
        self.assertEqual((found.taken, found.passed), (["size"], ["sail"]))

    def test_what_could_take_any_is_unknown(self):
        for body in (
            "return kw",
            "for name in kw:\n    pass",
            "kw[name] = 1",
            "use(kw)",
            "locals()\nkw.get('a')",
            "pass",
        ):
            self.assertEqual((body, read(body)), (body, None))

    def test_a_function_without_any(self):
        self.assertIsNone(read("return 1", "def f(a):"))

    def test_asking_whether_there_are_any_is_no_use(self):
        found = read('x = kw.pop("size")\nif kw:\n    raise TypeError(f"unknown: {list(kw)}")')
        self.assertEqual(found.taken, ["size"])


if __name__ == "__main__":
    unittest.main()
