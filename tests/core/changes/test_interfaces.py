"""What breaks who calls and who is answered: the same change, in each direction."""

import unittest

from hypothesis import given, settings

from tests.core.jsonschema.test_example_generation import SCHEMAS
from tests.support.interfaces import HEAD, changes
from zarbek.core.changes.schemas import SchemaUse, compare_schemas

SENT, RECEIVED = SchemaUse(True, False), SchemaUse(False, True)


def told(old, new, sides):
    return [(d.kind, d.breaks) for d in compare_schemas(old, new, sides)]


class Schemas(unittest.TestCase):
    CASES = (
        # old, new, kind, breaks what is sent, breaks what is received
        ({"properties": {}}, {"properties": {"a": {}}}, "property-added", False, False),
        ({"properties": {}}, {"properties": {"a": {}}, "required": ["a"]}, "property-added", True, False),
        ({"properties": {"a": {}}}, {"properties": {}}, "property-removed", False, True),
        ({"properties": {"a": {}}}, {"properties": {"a": {}}, "required": ["a"]}, "required", True, False),
        ({"properties": {"a": {}}, "required": ["a"]}, {"properties": {"a": {}}}, "optional", False, True),
        ({"enum": ["a"]}, {"enum": ["a", "b"]}, "value-added", False, True),
        ({"enum": ["a", "b"]}, {"enum": ["a"]}, "value-removed", True, False),
        ({"type": "integer"}, {"type": "number"}, "type", False, True),
        ({"type": "number"}, {"type": "integer"}, "type", True, False),
        ({"type": "string"}, {"type": "integer"}, "type", True, True),
        ({"type": "string"}, {"type": ["string", "null"]}, "nullable", False, True),
        ({"type": ["string", "null"]}, {"type": "string"}, "nullable", True, False),
        ({"maxLength": 9}, {"maxLength": 5}, "limit", True, False),
        ({"maxLength": 5}, {"maxLength": 9}, "limit", False, False),
        ({"minimum": 1}, {}, "limit", False, False),
        ({"$ref": "api:p.A"}, {"$ref": "api:p.B"}, "type", True, True),
        ({"oneOf": [{"$ref": "api:A"}]}, {"oneOf": [{"$ref": "api:A"}, {"$ref": "api:B"}]}, "choice-added", False, True),
        ({}, {"additionalProperties": False}, "closed", True, False),
    )  # fmt: skip

    def test_by_direction(self):
        for old, new, kind, sent, received in self.CASES:
            with self.subTest(old=old, new=new):
                self.assertEqual(told(old, new, SENT), [(kind, sent)])
                self.assertEqual(told(old, new, RECEIVED), [(kind, received)])
                self.assertEqual(told(old, new, SchemaUse(True, True)), [(kind, sent or received)])

    def test_what_is_only_read_is_asked_of_nobody(self):
        new = {"properties": {"a": {"readOnly": True}}, "required": ["a"]}
        self.assertEqual(told({"properties": {}}, new, SENT), [("property-added", False)])

    def test_all_of_is_read_as_one(self):
        old = {"allOf": [{"properties": {"a": {}}}, {"required": ["a"]}]}
        self.assertEqual(told(old, {"properties": {"a": {}}, "required": ["a"]}, SENT), [])

    def test_places_are_named(self):
        old = {"properties": {"a": {"type": "array", "items": {"properties": {"b": {"enum": [1, 2]}}}}}}
        new = {"properties": {"a": {"type": "array", "items": {"properties": {"b": {"enum": [1]}}}}}}
        (detail,) = compare_schemas(old, new, SENT)
        self.assertEqual(detail.text, "a[].b may no longer be 2 in requests.")

    @settings(max_examples=150, deadline=None)
    @given(SCHEMAS)
    def test_a_schema_is_like_itself(self, schema):
        self.assertEqual(compare_schemas(schema, dict(schema), SchemaUse(True, True)), [])


def paths(text):
    return {"sea.yaml": HEAD + "paths:\n  /a:\n    post:\n      operationId: a\n" + text}


class Operations(unittest.TestCase):
    def check(self, old, new, *expected):
        with self.subTest(new):
            self.assertEqual([(t, b) for _, t, b in changes(paths(old), paths(new))], list(expected))

    def test_parameters(self):
        one = "      responses: {'200': {description: x}}\n      parameters: [{name: q, in: query, schema: {type: string}}"
        self.check(one + "]\n", one + ", {name: r, in: header, required: true, schema: {}}]\n",
                   ("It needs a new header parameter r.", True))  # fmt: skip
        self.check(one + ", {name: r, in: header, schema: {}}]\n", one + "]\n",
                   ("The header parameter r is no longer read.", True))  # fmt: skip
        self.check(one + "]\n", one.replace("{type: string}", "{type: string, enum: [a]}") + "]\n",
                   ("q is one of a now in requests.", True))  # fmt: skip

    def test_answers_and_bodies(self):
        self.check("      responses: {'200': {description: x}, '404': {description: x}}\n",
                   "      responses: {'201': {description: x}, '404': {description: x}}\n",
                   ("It no longer answers 200.", True), ("It may answer 201 now.", False))  # fmt: skip
        body = "      responses: {}\n      requestBody: {content: {application/json: {schema: {type: object, properties: {a: {type: string}}}}}}\n"
        self.check(body, body.replace("{a: {type: string}}", "{a: {type: string}, b: {type: string}}"),
                   ("The body.b is new and may be left out.", False))  # fmt: skip
        self.check("      responses: {}\n", "      responses: {}\n      security: [{k: []}]\n",
                   ("It asks who the caller is now: k.", True))  # fmt: skip

    def test_messages_go_the_other_way(self):
        def fleet(action, payload):
            return {
                "fleet.yaml": f"asyncapi: 3.0.0\ninfo: {{title: F, version: '1'}}\nchannels: {{c: {{address: c, messages: {{m: {{payload: {payload}}}}}}}}}\noperations: {{o: {{action: {action}, channel: {{$ref: '#/channels/c'}}}}}}\n"
            }

        old, new = "{type: object, properties: {a: {type: string}}}", "{type: object, properties: {}}"
        self.assertTrue(changes(fleet("send", old), fleet("send", new))[0][2])
        self.assertFalse(changes(fleet("receive", old), fleet("receive", new))[0][2])

    def test_graphql_and_protobuf(self):
        def graph(field, extra=""):
            return {"g.graphql": f"type Query {{ {field} }}\ninput I {{ a: Int {extra} }}\n"}

        for old, new, breaks in (
            (graph("a: Int"), graph("a: Int!"), False), (graph("a: Int!"), graph("a: Int"), True),
            (graph("a(b: Int!): Int"), graph("a(b: Int): Int"), False), (graph("a(b: Int): Int"), graph("a(b: Int!): Int"), True),
            (graph("a: Int"), graph("a: Int", "b: Int!"), True), (graph("a: Int"), graph("a: Int", "b: Int"), False),
        ):  # fmt: skip
            with self.subTest(new):
                self.assertEqual(any(b for _, _, b in changes(old, new)), breaks)
