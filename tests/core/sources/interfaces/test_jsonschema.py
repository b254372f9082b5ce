"""JSON Schema, its older drafts, and references by what a schema calls itself."""

import unittest

from tests.support.interfaces import described
from tests.support.sources import gather_files, links_of


class JsonSchema(unittest.TestCase):
    def test_older_drafts_are_brought_to_2020_12(self):
        symbols, findings = described({
            "v/a.schema.json": """{"$schema": "http://json-schema.org/draft-07/schema#", "title": "A",
              "items": [{"type": "string"}], "additionalItems": false, "dependencies": {"a": ["b"], "c": {"minProperties": 2}},
              "definitions": {"B": {"type": "integer"}}, "properties": {"b": {"$ref": "#/definitions/B"}}}"""
        })  # fmt: skip
        self.assertEqual(findings, [])
        self.assertEqual(
            symbols["v.a"].interface.schema,
            {"title": "A", "prefixItems": [{"type": "string"}], "items": False, "dependentRequired": {"a": ["b"]},
             "dependentSchemas": {"c": {"minProperties": 2}}, "properties": {"b": {"$ref": "api:v.a.B"}}},
        )  # fmt: skip
        self.assertEqual(symbols["v.a.B"].kind, "schema")

    def test_anchors_and_identities_lead_across_projects(self):
        fleet = {
            "e/ship.schema.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "https://s.example/fleet/ship", "type": "object", "$defs": {"Crew": {"type": "integer"}}}'
        }
        cargo = {
            "c/load.schema.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "properties": {"s": {"$ref": "https://s.example/fleet/ship"}, "c": {"$ref": "https://s.example/fleet/ship#/$defs/Crew"}, "l": {"$ref": "#lot"}, "m": {"$ref": "https://s.example/fleet/gone"}}, "$defs": {"L": {"$anchor": "lot", "type": "string"}}}'
        }
        _, index, _ = gather_files(fleet, slug="fleet", version="1.0.0")
        found = links_of(cargo, index, slug="cargo")
        self.assertEqual(found["c.load", "https://s.example/fleet/ship"], ("linked", "e.ship"))
        self.assertEqual(found["c.load", "https://s.example/fleet/ship#/$defs/Crew"], ("linked", "e.ship.Crew"))
        self.assertEqual(found["c.load", "#lot"], ("linked", "c.load.L"))
        self.assertEqual(found["c.load", "https://s.example/fleet/gone"][0], "dangling")

    def test_a_wrong_schema_is_told_and_read(self):
        symbols, findings = described(
            {
                "a.schema.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema",\n"type": "strin", "properties": {"b": {}}}'
            }
        )
        self.assertEqual([(f.rule, f.line) for f in findings], [("text/breaks-standard", 2)])
        self.assertEqual(len(symbols), 2)


class References(unittest.TestCase):
    def test_a_schema_that_says_what_its_address_is_is_referred_to_by_that(self):
        files = {
            "refs/schema.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "https://sea.example/v1/schema", "allOf": [{"$ref": "meta/core"}, {"$ref": "meta/none"}, {"$ref": "near.json"}]}',
            "refs/deep/core.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "https://sea.example/v1/meta/core", "type": "object"}',
            "refs/near.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object"}',
        }
        found = {text: outcome for (_, text), (outcome, _) in links_of(files).items()}
        self.assertEqual(found, {"meta/core": "linked", "meta/none": "dangling", "near.json": "linked"})


if __name__ == "__main__":
    unittest.main()
