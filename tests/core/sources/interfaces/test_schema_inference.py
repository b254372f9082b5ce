"""Samples without a schema."""

import unittest

from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.support.interfaces import described
from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.sources.interfaces.schema_inference import infer_schema

JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-50, 50) | st.floats(-5, 5) | st.sampled_from(["a", "2026-01-01", "x@y.example", ""]),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=3),
    max_leaves=8,
)  # fmt: skip


class Samples(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @example([[None, "a", "b"], ["a", "a"], ["a", "a"]])
    @example([[1, "a", "b", "a", "b", "a", "b"]])
    @given(st.lists(JSON, min_size=1, max_size=5))
    def test_an_inferred_schema_admits_its_samples(self, values):
        schema = infer_schema(values)
        schemas = SchemaSet({})
        for value in values:
            self.assertEqual(schemas.misfits(value, schema), [], schema)

    def test_what_all_samples_have_is_needed_and_the_evidence_is_told(self):
        symbols, _ = described({"log/samples/row-1.json": '{"a": 1, "b": "x"}', "log/samples/row-2.json": '{"a": 2.5}'})
        row = symbols["log.row"]
        self.assertEqual(row.interface.schema["required"], ["a"])
        self.assertEqual(row.interface.schema["properties"]["a"], {"type": "number"})
        self.assertEqual(row.flags, ["inferred"])
        self.assertIn("2 samples: log/samples/row-1.json", row.interface.evidence)

    def test_xml(self):
        symbols, _ = described(
            {
                "old/samples/a.xml": '<bill no="1"><item kg="2.5"/><item kg="3"/></bill>',
                "old/samples/b.xml": '<bill no="2"><item kg="1"/><note>x</note></bill>',
            }
        )
        content = symbols["old.bill"].interface.content
        self.assertEqual([(p.name, p.least, p.most) for p in content.parts], [("item", 1, -1), ("note", 0, 1)])
        self.assertEqual(symbols["old.item.@kg"].type, "decimal")

    def test_a_broken_sample_is_a_finding(self):
        _, findings = described({"s/samples/a.json": "{", "s/samples/b.xml": "<a>"})
        self.assertEqual([f.rule for f in findings], ["text/unreadable", "text/unreadable"])


if __name__ == "__main__":
    unittest.main()
