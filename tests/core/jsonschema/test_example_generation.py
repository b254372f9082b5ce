"""Examples that are made: they fit, are always the same, and end."""

import unittest

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from zarbek.core.jsonschema.example_generation import example_for
from zarbek.core.jsonschema.schema_rows import limits_in_words, tree_of
from zarbek.core.jsonschema.validation import SchemaSet

NUMBERS = st.integers(-20, 20)
LEAVES = st.one_of(
    st.fixed_dictionaries({"type": st.just("string")}, optional={"minLength": st.integers(0, 9), "format": st.sampled_from(["date", "uuid", "email", "date-time", "uri", "ipv4"])}).filter(lambda s: not ("format" in s and "minLength" in s)),
    st.fixed_dictionaries({"type": st.just("string"), "pattern": st.sampled_from(["^S-\\d+$", "^[A-Z]{3}-[A-Z]{3}$", "^(a|b)+$", "x"])}),
    st.fixed_dictionaries({"type": st.just("integer")}, optional={"minimum": NUMBERS, "multipleOf": st.integers(1, 7)}),
    st.fixed_dictionaries({"type": st.just("number"), "exclusiveMinimum": NUMBERS}),
    st.fixed_dictionaries({"type": st.just("integer"), "exclusiveMaximum": NUMBERS}),
    st.fixed_dictionaries({"enum": st.lists(st.integers(), min_size=1, max_size=3)}),
    st.just({"type": "boolean"}), st.just({"type": ["string", "null"]}), st.just({"const": "x"}), st.just({}),
)  # fmt: skip


def _objects(inner):
    properties = st.dictionaries(st.sampled_from("abcd"), inner, max_size=3)
    return st.one_of(
        st.builds(lambda p, n: {"type": "object", "properties": p, "required": sorted({*p} & {*n})}, properties, st.lists(st.sampled_from("abcd"))),
        st.builds(lambda i, n: {"type": "array", "items": i, "minItems": n}, inner, st.integers(0, 3)),
        st.builds(lambda a, b: {"anyOf": [a, b]}, inner, inner),
        st.builds(lambda p: {"type": "object", "additionalProperties": p}, inner),
    )  # fmt: skip


SCHEMAS = st.recursive(LEAVES, _objects, max_leaves=8)


class Examples(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(SCHEMAS)
    def test_what_is_made_fits_and_is_the_same_again(self, schema):
        value = example_for(schema, lambda path: None)
        self.assertEqual(SchemaSet({}).misfits(value, schema), [], (value, schema))
        self.assertEqual(example_for(schema, lambda path: None), value)

    @settings(max_examples=100, deadline=None)
    @given(SCHEMAS)
    def test_rows_tell_every_property(self, schema):
        names = [row.name for row in tree_of(schema, lambda path: None) if row.name]
        assume(schema.get("type") == "object")
        self.assertLessEqual(set(schema.get("properties", {})), set(names))

    def test_directions(self):
        schema = {
            "type": "object",
            "properties": {
                "id": {"type": "integer", "readOnly": True},
                "pin": {"type": "string", "writeOnly": True},
                "a": {},
            },
        }
        self.assertEqual(sorted(example_for(schema, {}.get, "request")), ["a", "pin"])
        self.assertEqual(sorted(example_for(schema, {}.get, "response")), ["a", "id"])

    def test_recursion_ends_and_what_explodes_stays_small(self):
        node = {
            "type": "object",
            "required": ["kids"],
            "properties": {"kids": {"type": "array", "items": {"$ref": "api:N"}}, "up": {"$ref": "api:N"}},
        }
        self.assertEqual(example_for({"$ref": "api:N"}, {"N": node}.get), {"kids": [{}]})
        wide = {
            f"W{n}": {
                "type": "object",
                "properties": {f"p{i}": {"$ref": f"api:W{(n + i + 1) % 12}"} for i in range(12)},
            }
            for n in range(12)
        }
        self.assertLess(len(str(example_for({"$ref": "api:W0"}, wide.get))), 40_000)
        self.assertLessEqual(len(tree_of({"$ref": "api:W0"}, wide.get, levels=3)), 240)

    def test_what_is_written_goes_first(self):
        self.assertEqual(example_for({"type": "string", "examples": ["mine"], "default": "d"}, {}.get), "mine")
        self.assertEqual(example_for({"type": "integer", "default": 7}, {}.get), 7)

    def test_limits_in_words(self):
        self.assertEqual(
            limits_in_words(
                {
                    "minimum": 0,
                    "exclusiveMaximum": 5,
                    "minItems": 1,
                    "enum": ["a", 1],
                    "default": False,
                    "readOnly": True,
                }
            ),
            ["at least 0", "less than 5", "at least 1 item", "one of a, 1", "false if left out", "only in answers"],
        )

    def test_composition_and_recursion_in_rows(self):
        named = {
            "A": {"type": "object", "properties": {"b": {"$ref": "api:B"}}},
            "B": {"oneOf": [{"$ref": "api:A"}, {"type": "string"}]},
        }
        rows = tree_of({"$ref": "api:A"}, named.get, levels=3)
        self.assertEqual(
            [(r.depth, r.name or r.label, "".join(p.text for p in r.type), r.words) for r in rows],
            [(0, "", "A", []), (1, "b", "B", []), (2, "exactly one of", "A", ["as above"]), (2, "or", "text", [])],
        )  # fmt: skip
