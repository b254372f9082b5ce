"""Names that a module makes at run time."""

import ast
import unittest

from zarbek.core.sources.languages.python.runtime_names import (
    dotted,
    extended_types,
    lazy_names,
    names_answered,
    types_given,
)


def lazy(text, module="sea", is_package=True):
    return dict(lazy_names(ast.parse(text).body, module, is_package))


class Lazy(unittest.TestCase):
    HOOK = "def __getattr__(name):\n    return load(name)\n"

    def test_each_form_of_table(self):
        for table, names in (
            ("_T = {'Boat': '.boats', 'Raft': 'sea.rafts'}", {"Boat": "sea.boats.Boat", "Raft": "sea.rafts.Raft"}),
            ("_T = {'Boat': ('sea.boats', 'OldBoat')}", {"Boat": "sea.boats.OldBoat"}),
            ("_T = {'boats': ['Boat', 'Raft']}", {"Boat": "sea.boats.Boat", "Raft": "sea.boats.Raft"}),
        ):
            self.assertEqual((table, lazy(self.HOOK + table)), (table, names))

    def test_a_table_without_a_hook_tells_nothing(self):
        self.assertEqual(lazy("_T = {'Boat': '.boats'}"), {})

    def test_what_the_hook_imports_itself(self):
        hook = "def __getattr__(name):\n    if name == 'Boat':\n        from .boats import Boat\n        return Boat\n    raise AttributeError\n"
        self.assertEqual(lazy(hook), {"Boat": "sea.boats.Boat"})

    def test_a_module_that_a_call_makes_anew(self):
        call = "sys.modules[__name__] = Lazy(__name__, {'boats': ['Boat']})"
        self.assertEqual(lazy(call), {"Boat": "sea.boats.Boat"})

    def test_names_that_a_hook_answers_to(self):
        for body, names in (
            (
                "if name == 'a' or name in ('b', 'c'):\n        return 1\n    raise AttributeError(name)",
                ["a", "b", "c"],
            ),
            (
                "match name:\n        case 'a' | 'b':\n            return 1\n    raise AttributeError(f'no {name}')",
                ["a", "b"],
            ),
            ("return getattr(inner, name)", None),
            ("if name in KNOWN:\n        return 1", None),
            ("raise AttributeError(name)", None),
        ):
            node = ast.parse(f"def __getattr__(name):\n    {body}").body[0]
            self.assertEqual((body, names_answered(node)), (body, names))


class Extended(unittest.TestCase):
    def test_types_that_get_members_when_the_module_runs(self):
        text = "setattr(Table, 'a', 1)\nadd_members(Row)\nView._add()\nfor n in names:\n    setattr(Cell, n, 1)\nBase.x = 2\nprint(low)"
        self.assertEqual(extended_types(ast.parse(text).body), {"Table", "Row", "View", "Cell", "Base"})

    def test_types_that_a_call_is_given(self):
        self.assertEqual(types_given(ast.parse("make(a.Boat, raft, MAX, base=Sea)").body[0].value), ["a.Boat", "Sea"])
        self.assertEqual(types_given(ast.parse("x").body[0].value), [])

    def test_plain_references(self):
        self.assertEqual(
            [dotted(ast.parse(t).body[0].value) for t in ("a.b.c", "a", "a().b", "None", "a[0]")],
            ["a.b.c", "a", "", "", ""],
        )


if __name__ == "__main__":
    unittest.main()
