"""Tables and columns, release by release."""

import unittest
from pathlib import Path

import msgspec
from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.changes.data_models import RULES, compare_data
from zarbek.core.model.datamodel import Check, Column, DataModel, Key, Table
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Symbol


def column(type="", **facts):
    return Symbol("sea.t.a", "a", "column", "sql", "sea", type=type, data=DataModel(column=Column(**facts)))


def table(**facts):
    return Symbol("sea.t", "t", "table", "sql", "sea", data=DataModel(table=Table("mariadb", **facts)))


def kinds(old, new):
    return [(d.kind, d.breaks) for d in compare_data(old, new)]


class Meaning(unittest.TestCase):
    def test_is_another_where_more_than_the_wording_is_new(self):
        for old, new, wanted in (
            ("Hours under way, by the clock.", "By the clock: hours under way.", []),
            ("Cars on deck.", "Cars on deck when the ramp went up, as the gates counted them.", []),
            ("Hours under way.", "", []), ("", "Hours under way.", []),
            ("Hours under way.", "Minutes in port before she sails.", [("meaning", True)]),
        ):  # fmt: skip
            with self.subTest(old=old, new=new):
                pair = [msgspec.structs.replace(column(), doc=Doc(text) if text else None) for text in (old, new)]
                self.assertEqual(kinds(*pair), wanted)


class Types(unittest.TestCase):
    def test_by_what_they_can_hold(self):
        for old, new, kind in (
            ("INT", "BIGINT", "widened"), ("BIGINT", "SMALLINT", "narrowed"), ("VARCHAR(10)", "VARCHAR(20)", "widened"),
            ("VARCHAR(20)", "VARCHAR(10)", "narrowed"), ("VARCHAR(20)", "TEXT", "widened"), ("TEXT", "VARCHAR(20)", "narrowed"),
            ("CHAR(20)", "VARCHAR(10)", "narrowed"), ("DECIMAL(5, 2)", "DECIMAL(6, 2)", "widened"),
            ("DECIMAL(5, 2)", "DECIMAL(5, 3)", "narrowed"), ("DECIMAL(5,2)", "INT", "changed"), ("INT", "INT UNSIGNED", "changed"),
            ("DATE", "DATETIME", "widened"), ("TEXT", "JSON", "changed"), ("ENUM('a')", "ENUM('a', 'b')", "changed"),
            ("INTEGER", "BIGINT", "widened"), ("INT(11)", "BIGINT(20)", "widened"),
        ):  # fmt: skip
            with self.subTest(old=old, new=new):
                self.assertEqual(kinds(column(old), column(new)), [(f"type-{kind}", kind != "widened")])

    def test_what_is_not_told_has_not_changed(self):
        for old, new in (("INT", ""), ("", "INT"), ("int", "INT")):
            self.assertEqual(kinds(column(old), column(new)), [])

    @given(st.integers(1, 99), st.integers(1, 99))
    def test_there_and_back_is_the_other_way_round(self, one, other):
        there = kinds(column(f"VARCHAR({one})"), column(f"VARCHAR({other})"))
        back = kinds(column(f"VARCHAR({other})"), column(f"VARCHAR({one})"))
        self.assertEqual({k for k, _ in there + back}, {"type-widened", "type-narrowed"} if one != other else set())


class Facts(unittest.TestCase):
    def test_of_a_column(self):
        for old, new, found in (
            ({"nullable": False}, {"nullable": True}, [("nullable", True)]),
            ({"nullable": False}, {}, [("nullable", True)]), ({"nullable": True}, {"nullable": False}, [("required", False)]),
            ({}, {"nullable": True}, []), ({"default": "1"}, {"default": "2"}, [("default", False)]),
            ({"computed": "a"}, {"computed": "b"}, [("computed", True)]),
            ({"checks": [Check("a > 0")]}, {"checks": [Check("a > 1")]}, [("check-removed", True), ("check-added", False)]),
        ):  # fmt: skip
            with self.subTest(old=old, new=new):
                self.assertEqual(kinds(column(**old), column(**new)), found)

    def test_of_a_table(self):
        key, unique = Key("primary", ["a"]), Key("unique", ["b"])
        there, other = (Key("foreign", ["a"], target=t, target_columns=["id"]) for t in ("sea.u", "sea.v"))
        for old, new, found in (
            ({"row": "One."}, {"row": "Two."}, [("row", True)]), ({}, {"row": "Two."}, []),
            ({"keys": [key]}, {"keys": [Key("primary", ["a", "b"])]}, [("key-changed", True)]), ({}, {"keys": [key]}, []),
            ({"keys": [unique]}, {}, [("unique-removed", True)]), ({}, {"keys": [unique]}, [("unique-added", False)]),
            ({"keys": [there]}, {"keys": [other]}, [("reference-removed", False), ("reference-added", False)]),
            ({"keys": [Key("index", ["a"])]}, {}, []),
        ):  # fmt: skip
            with self.subTest(old=old, new=new):
                self.assertEqual(kinds(table(**old), table(**new)), found)

    def test_every_rule_is_told_in_the_documentation(self):
        text = (Path(__file__).parents[3] / "docs/data-models.md").read_text()
        for kind, (breaks, words) in RULES.items():
            self.assertIn(f"| `{kind}` | {words} | {'breaks' if breaks else ''} |".replace("|  |", "| |"), text)
