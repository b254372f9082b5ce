"""Descriptions beside SQL, in our own form and in others."""

import json
import unittest
from pathlib import Path

import jsonschema
import msgspec

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.datamodels.blocks import MAX_TEXT, Block, BlockTexts, used_in
from zarbek.core.sources.datamodels.descriptions import read_described, read_descriptions
from zarbek.core.sources.datamodels.form_schemas import model_schema, results_schema
from zarbek.core.sources.datamodels.settings import DescriptionPaths
from zarbek.core.sources.interfaces.documents import Document

OWN = """blocks:
  port: |
    A harbour.
tables:
  ships:
    description: All of them.
    row: One ship.
    from: [{name: the yard, address: "https://yard.example/"}, "api://yard/hulls"]
    columns:
      port: "{block port}"
      crew:
        description: >
          Hands aboard.
        checks: ["crew > 0", {text: crew < 99, name: few}]
        deprecated: Use hands.
"""
OTHER = """{"nodes": {
  "ships": {"info": {"about": "All of them.", "team": "Yard"}, "labels": ["a", "b"], "fields": {
     "crew": {"about": "Hands.", "tests": ["unique", {"within": {"of": [1]}}]}}},
  "calls": {"fields": {}}}}"""


class OwnForm(unittest.TestCase):
    def test_tables_columns_blocks_with_their_lines(self):
        found = read_descriptions(Document("a.model.yaml", OWN))
        table = found.tables[0]
        self.assertEqual(
            (table.name, table.form.row, table.line, found.blocks["port"]),
            ("ships", "One ship.", 6, ("A harbour.\n", 3)),
        )
        self.assertEqual([(c.name, c.form.description, c.line) for c in table.columns],
                         [("port", "{block port}", 10), ("crew", "Hands aboard.\n", 13)])  # fmt: skip
        self.assertEqual(table.columns[1].form.deprecated, "Use hands.")

    def test_what_is_no_part_of_it_is_told_with_its_line(self):
        for text, line, words in (
            ("tables:\n  a:\n    row: x\n    colums: {}\n", 4, "tables.a: Object contains unknown field `colums`"),
            ("tables:\n  a:\n    columns:\n      b:\n        type: []\n", 5, "tables.a.columns.b.type"),
            ("tables:\n  a: 3\n", 2, "tables.a"), ("tables: 3\n", 1, "tables"), ("blocks:\n  a: 1\n", 1, "blocks"),
            ("blocks: {}\nx: 1\n", 2, "`x`"), ("- 1\n", 1, "tables"), ("tables: {a: {", 2, "YAML"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(UnreadableText) as caught:
                read_descriptions(Document("a.model.yaml", text))
            self.assertEqual(caught.exception.line, line, text)
            self.assertIn(words, str(caught.exception))


class OtherForms(unittest.TestCase):
    PATHS = DescriptionPaths(
        tables="$.nodes.*", name="key", description="$.info.about", owner="$.info.team", tags="$.labels[*]",
        columns="$.fields.*", column_name="key", column_description="$.about", column_checks="$.tests[*]",
    )  # fmt: skip

    def test_are_read_by_paths(self):
        found = read_described(Document("a.json", OTHER), self.PATHS)
        ships, calls = found.tables
        self.assertEqual((ships.name, ships.form.description, ships.form.owner, ships.form.tags, ships.line),
                         ("ships", "All of them.", "Yard", ["a", "b"], 2))  # fmt: skip
        self.assertEqual([(c.name, c.form.description, c.form.checks, c.line) for c in ships.columns],
                         [("crew", "Hands.", ["unique", "within"], 3)])  # fmt: skip
        self.assertEqual((calls.name, calls.columns), ("calls", []))

    def test_a_path_that_is_none_is_told(self):
        paths = msgspec.structs.replace(self.PATHS, tables="$.[")
        with self.assertRaisesRegex(UnreadableText, "cannot be looked for"):
            read_described(Document("a.json", OTHER), paths)


class Blocks(unittest.TestCase):
    def test_stand_in_their_places(self):
        blocks = {"a": Block("A {block b}\n", "f", 1), "b": Block("B", "f", 1), "c": Block("{block c}", "f", 1)}
        texts = BlockTexts(blocks)
        self.assertEqual(texts.fill("{block a}, {block b} and {block gone}."), "A B, B and {block gone}.")
        self.assertEqual(texts.fill("{block c}"), "{block c}", "one within itself stays")
        self.assertEqual(used_in("{block a} {block b} {block a}"), ["a", "b"])

    def test_chains_do_not_grow_without_end(self):
        blocks = {str(n): Block(f"{{block {n + 1}}}" * 50, "f", 1) for n in range(20)} | {"20": Block("x" * 50, "f", 1)}
        self.assertLessEqual(len(BlockTexts(blocks).fill("{block 0}")), MAX_TEXT)


class Schemas(unittest.TestCase):
    def test_stand_in_the_documentation_as_they_are(self):
        docs = Path(__file__).parents[4] / "docs"
        for name, made in (("model", model_schema()), ("results", results_schema())):
            self.assertEqual(json.loads((docs / f"{name}.schema.json").read_text()), made)

    def test_admit_what_is_read_and_nothing_else(self):
        validator = jsonschema.Draft202012Validator(model_schema())
        for value in (
            {"tables": {"t": {"columns": {"a": "Text.", "b": {"checks": ["b > 0"], "from": ["x.y"]}}}}},
            {"blocks": {}},
        ):
            self.assertEqual(list(validator.iter_errors(value)), [])
        for value in ({"tables": {"t": {"colums": {}}}}, {"tables": []}, {"blocks": {"a": 3}}):
            self.assertTrue(list(validator.iter_errors(value)))
