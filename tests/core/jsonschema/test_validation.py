"""What does not fit, where, in words people can act on."""

import unittest

from zarbek.core.jsonschema.validation import SchemaError, SchemaMismatch, SchemaSet

NAMED = {
    "p.Ship": {
        "type": "object", "required": ["id", "name"],
        "properties": {"id": {"type": "integer", "readOnly": True}, "name": {"type": "string", "minLength": 1},
                       "key": {"type": "string", "writeOnly": True}, "tow": {"$ref": "api:p.Ship"},
                       "berth": {"oneOf": [{"$ref": "api:p.Berth"}, {"type": "null"}]}},
    },
    "p.Berth": {"type": "object", "required": ["no"], "properties": {"no": {"type": "string", "pattern": "^B"}}},
}  # fmt: skip


class Misfits(unittest.TestCase):
    def setUp(self):
        self.schemas = SchemaSet(NAMED)

    def check(self, value, *expected, direction=""):
        with self.subTest(value):
            self.assertEqual(
                self.schemas.misfits(value, {"$ref": "api:p.Ship"}, direction), [SchemaMismatch(*e) for e in expected]
            )

    def test_place_and_words(self):
        self.check({"id": 1, "name": "a"})
        self.check({"id": "x", "name": ""}, ("/id", 'a whole number was expected; this is "x"'),
                   ("/name", 'at least 1 characters were expected; this is ""'))  # fmt: skip
        self.check({"id": 1, "name": "a", "tow": {"id": 2}}, ("/tow", "name is missing"))
        self.check([], ("", "an object was expected; this is []"))

    def test_of_alternatives_the_nearest_is_told(self):
        self.check({"id": 1, "name": "a", "berth": None})
        self.check({"id": 1, "name": "a", "berth": {"no": "C1"}}, ("/berth/no", '"C1" does not match ^B'))
        self.check({"id": 1, "name": "a", "berth": {}}, ("/berth", "no is missing"))

    def test_what_is_only_read_is_not_asked_of_requests(self):
        self.check({"name": "a"}, direction="request")
        self.check({"name": "a"}, ("", "id is missing"), direction="response")

    def test_parts_of_symbols_and_what_is_not_known(self):
        self.assertEqual(
            self.schemas.misfits("C", {"$ref": "api:p.Berth#/properties/no"}),
            [SchemaMismatch("", '"C" does not match ^B')],
        )
        for unknown in ("api:p.Gone", "https://elsewhere.example/x", "api://other/Thing"):
            self.assertEqual(self.schemas.misfits({"any": 1}, {"$ref": unknown}), [])

    def test_formats(self):
        found = self.schemas.misfits("yesterday", {"type": "string", "format": "date"})
        self.assertEqual(found, [SchemaMismatch("", '"yesterday" is no date')])

    def test_a_schema_that_means_nothing_is_told(self):
        for wrong in ({"type": "strin"}, {"pattern": "("}, {"minimum": "x"}):
            with self.subTest(wrong), self.assertRaises(SchemaError):
                self.schemas.misfits(1, wrong)

    def test_recursion_ends(self):
        deep = {"id": 1, "name": "a"}
        for _ in range(50):
            deep = {"id": 1, "name": "a", "tow": deep}
        self.check(deep)
