"""Tests of Python as examples."""

import unittest

from zarbek.core.sources.examples.python_tests import read_python_tests
from zarbek.core.sources.languages.python.reader import parse_python

SOURCE = '''
import pytest
from sea import Ship, load

@pytest.fixture
def ship():
    return Ship("Wren")

class Sailing(unittest.TestCase):
    def setUp(self):
        self.ship = Ship("Wren")

    def test_ships_go_out(self):
        """She leaves.

        :example: Leaving
        """
        self.ship.leave(at=3)
        with self.subTest("far"):
            self.assertEqual("far", self.ship.place())
        # By now.
        self.assertTrue(self.ship.gone)
        with self.assertRaises(LookupError):
            self.ship.leave(at=4)

    def helper(self): ...

class NoTest:
    def test_nothing(self): ...

@pytest.mark.example
def test_names(ship):
    other, last = load(), load()
    assert ship.name() == "Wren"
    assert other.name() != ship.name()
    assert "W" in ship.name()
    assert not ship.gone
    assert isinstance(last, Ship)

async def test_plain(): assert load()
'''


def shown(test):
    return [(p.kind, p.text, p.how, p.result) for p in test.parts]


class OfPython(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.tests = {t.names[-1]: t for t in read_python_tests(SOURCE, parse_python(SOURCE), lambda _: True)}

    def test_are_functions_and_methods_that_the_frameworks_find(self):
        self.assertEqual(list(self.tests), ["test_ships_go_out", "test_names", "test_plain"])

    def test_are_marked_by_their_text_or_their_framework_and_no_others_are_read(self):
        found = read_python_tests(SOURCE, parse_python(SOURCE), lambda names: False)
        self.assertEqual([(t.names, t.title, t.doc.summary if t.doc else "") for t in found], [
            (["Sailing", "test_ships_go_out"], "Leaving", "She leaves."), (["test_names"], "", ""),
        ])  # fmt: skip
        by_name = read_python_tests(SOURCE, parse_python(SOURCE), lambda names: names == ["test_plain"])
        self.assertEqual([t.names[-1] for t in by_name], ["test_ships_go_out", "test_names", "test_plain"])

    def test_show_what_comes_out(self):
        self.assertEqual(shown(self.tests["test_ships_go_out"]), [
            ("step", "ship.leave(at=3)", "", ""),
            ("outcome", "ship.place()", "is", '"far"'), ("step", "# By now.", "", ""),
            ("outcome", "ship.gone", "is", "True"), ("outcome", "ship.leave(at=4)", "raises", "LookupError"),
        ])  # fmt: skip
        self.assertEqual([p.text for p in self.tests["test_ships_go_out"].setting], ['ship = Ship("Wren")'])
        self.assertEqual(shown(self.tests["test_names"])[1:], [
            ("outcome", "ship.name()", "is", '"Wren"'), ("outcome", "other.name()", "is not", "ship.name()"),
            ("outcome", "ship.name()", "has", '"W"'), ("outcome", "ship.gone", "is", "False"),
            ("outcome", "last", "is a", "Ship"),
        ])  # fmt: skip

    def test_call_what_their_variables_are_made_of_and_nothing_that_nobody_can_tell(self):
        calls = {
            name: [(m.name, m.line) for m in t.mentions if m.field == "exercised"] for name, t in self.tests.items()
        }
        self.assertEqual(calls["test_ships_go_out"], [("Ship.leave", 18), ("Ship.place", 20), ("Ship.leave", 24)])
        self.assertEqual(calls["test_names"], [("load", 33), ("Ship.name", 34), ("Ship.name", 35), ("Ship.name", 36),
                                               ("isinstance", 38)])  # fmt: skip


if __name__ == "__main__":
    unittest.main()
