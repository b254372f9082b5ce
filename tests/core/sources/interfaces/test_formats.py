"""JSON Schema, AsyncAPI, GraphQL, Protocol Buffers, WSDL, and samples without a schema."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.interfaces import described
from tests.support.sources import gather_files, links_of
from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.sources.interfaces.schema_inference import infer_schema


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


ASYNC = """
asyncapi: 3.0.0
info: {title: Fleet, version: '1'}
channels:
  pos: {address: 'ships/{id}/pos', parameters: {id: {description: The ship.}}, messages: {p: {$ref: '#/components/messages/Pos'}}}
operations:
  tell: {action: send, channel: {$ref: '#/channels/pos'}}
  take: {action: receive, channel: {$ref: '#/channels/pos'}, messages: [{$ref: '#/channels/pos/messages/p'}]}
components:
  messages:
    Pos: {name: pos, headers: {type: object, required: [ship], properties: {ship: {type: string}}}, payload: {$ref: '#/components/schemas/Pos'}, examples: [{payload: {lat: north}}]}
  schemas: {Pos: {type: object, properties: {lat: {type: number}}}}
"""


class AsyncApi(unittest.TestCase):
    def test_3(self):
        symbols, findings = described({"fleet.yaml": ASYNC})
        tell = symbols["fleet.tell"].interface.operation
        self.assertEqual(
            (tell.method, tell.path, [p.name for p in tell.parameters]), ("SEND", "ships/{id}/pos", ["id"])
        )
        self.assertEqual(tell.body.media[0].schema, {"$ref": "api:fleet.messages.Pos"})
        self.assertEqual(symbols["fleet.take"].interface.operation.method, "RECEIVE")
        message = symbols["fleet.messages.Pos"].interface.answer
        self.assertEqual([(h.name, h.required) for h in message.headers], [("ship", True)])
        self.assertEqual([f.rule for f in findings], ["stale/example"])
        self.assertIn("at /lat a number was expected", findings[0].message)

    def test_2_names_things_from_the_other_side(self):
        symbols, _ = described(
            {
                "fleet.yaml": """
            asyncapi: 2.6.0
            info: {title: Fleet, version: '1'}
            channels:
              alarms:
                publish: {operationId: take, message: {oneOf: [{name: fire, payload: {type: string}}, {name: list, payload: {type: number}}]}}
                subscribe: {message: {payload: {type: boolean}}}
            """
            }
        )
        self.assertEqual(symbols["fleet.take"].interface.operation.method, "RECEIVE")
        self.assertEqual([m.name for m in symbols["fleet.take"].interface.operation.body.media], ["fire", "list"])
        self.assertIn("fleet.SEND alarms", symbols)


class GraphQl(unittest.TestCase):
    def test_types_fields_and_their_links(self):
        files = {
            "fleet.graphql": '"""Asks."""\ntype Query {\n  "A ship."\n  ship(id: ID! = "1", deep: Int): [Ship!]!\n}\ntype Ship implements Node {\n  id: ID!\n  old: Int @deprecated(reason: "Use id instead.")\n}\ninterface Node { id: ID! }\nextend type Ship { port: Prot }\n'
        }
        symbols, findings = described(files)
        ship = symbols["fleet.Query.ship"]
        self.assertEqual(ship.signatures[0].text, 'ship(id: ID! = "1", deep: Int): [Ship!]!')
        self.assertEqual(ship.doc.summary, "A ship.")
        self.assertEqual(symbols["fleet.Ship.old"].doc.deprecated.instead, "id")
        self.assertEqual(symbols["fleet.Ship"].bases, ["Node"])
        found = links_of(files)
        self.assertEqual(found["fleet.Query.ship", "Ship"], ("linked", "fleet.Ship"))
        self.assertIn("fleet.Ship.port", symbols)
        self.assertNotIn("stale/example", [f.rule for f in findings])

    def test_a_syntax_error_has_its_line(self):
        _, findings = described({"a.graphql": "type A {\n  b:\n}\n"})
        self.assertEqual([(f.rule, f.line) for f in findings], [("text/unreadable", 3)])


class References(unittest.TestCase):
    def test_a_schema_that_says_what_its_address_is_is_referred_to_by_that(self):
        files = {
            "refs/schema.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "https://sea.example/v1/schema", "allOf": [{"$ref": "meta/core"}, {"$ref": "meta/none"}, {"$ref": "near.json"}]}',
            "refs/deep/core.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "https://sea.example/v1/meta/core", "type": "object"}',
            "refs/near.json": '{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object"}',
        }
        found = {text: outcome for (_, text), (outcome, _) in links_of(files).items()}
        self.assertEqual(found, {"meta/core": "linked", "meta/none": "dangling", "near.json": "linked"})


class Protobuf(unittest.TestCase):
    def test_messages_services_and_comments(self):
        files = {
            "p/a.proto": 'edition = "2023";\npackage sea.v1;\nimport "p/b.proto";\n// A ship.\nmessage Ship {\n  string name = 1; // Its name.\n  oneof by { Crew crew = 2; }\n  map<string, Crew> all = 3;\n  // Old; use name instead.\n  int32 no = 4 [deprecated = true];\n}\nservice Ships {\n  rpc Watch(Ship) returns (stream Crew);\n}\n',
            "p/b.proto": 'syntax = "proto2";\npackage sea.v1;\nmessage Crew { required int32 size = 1 [default = 3]; }\n',
        }
        symbols, findings = described(files)
        self.assertEqual([f.rule for f in findings if f.rule != "text/undocumented"], [])
        self.assertEqual(symbols["sea.v1.Ship"].doc.summary, "A ship.")
        self.assertEqual((symbols["sea.v1.Ship.name"].doc.summary, symbols["sea.v1.Ship.name"].line), ("Its name.", 6))
        self.assertEqual(symbols["sea.v1.Ship.all"].type, "map<string, Crew>")
        self.assertEqual(symbols["sea.v1.Ship.no"].doc.deprecated.instead, "name")
        self.assertEqual(symbols["sea.v1.Crew.size"].signatures[0].text, "required int32 size = 1 [default = 3]")
        self.assertEqual(symbols["sea.v1.Ships.Watch"].signatures[0].text, "rpc Watch(Ship) returns (stream Crew)")
        found = links_of(files)
        self.assertEqual(found["sea.v1.Ships.Watch", "Crew"], ("linked", "sea.v1.Crew"))

    def test_what_is_imported_and_missing_is_taken_to_exist(self):
        symbols, findings = described(
            {
                "a.proto": 'syntax = "proto3";\npackage a;\nimport "far/money.proto";\nmessage A { far.Money m = 1; far.Other o = 2; }\n'
            }
        )
        self.assertEqual(symbols["a.A.m"].type, "far.Money")
        self.assertNotIn("text/unreadable", [f.rule for f in findings])

    def test_one_broken_file_leaves_the_others(self):
        symbols, findings = described({
            "a.proto": 'syntax = "proto3";\npackage a;\nmessage A { string b = 1; }\n', "b.proto": 'syntax = "proto3";\npackage b;\nmessage B {\n  string x = ;\n}\n',
        })  # fmt: skip
        self.assertIn("a.A.b", symbols)
        self.assertIn(("text/unreadable", "b.proto", 4), [(f.rule, f.file, f.line) for f in findings])

    def test_a_warning_is_no_error_and_a_name_belongs_to_what_its_file_imports(self):
        head = 'syntax = "proto3";\n'
        symbols, findings = described({
            "a.proto": head + 'package a;\nimport "b.proto";\nmessage A { string x = 1; }\n',
            "b.proto": head + "package b;\nmessage B { string y = 1; }\n",
            "c.proto": head + 'package c;\nimport "far/one.proto";\nmessage C { far.one.One z = 1; }\n',
            "d.proto": head + 'package d;\nimport "far/two.proto";\nmessage D { far.two.Two w = 1; }\n',
            "e.proto": head + "package b;\nmessage B { string again = 1; }\n",
        })  # fmt: skip
        self.assertLessEqual({"a.A.x", "c.C.z", "d.D.w"}, symbols.keys())
        left_out = [f.file for f in findings if f.rule == "text/unreadable"]
        self.assertEqual(left_out, ["e.proto"])


class Wsdl(unittest.TestCase):
    def test_1_1(self):
        symbols, findings = described(
            {
                "ports.wsdl": """<definitions name="Ports" xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:t="urn:x:ports"
              xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:x:ports">
              <types><xs:schema targetNamespace="urn:x:ports"><xs:element name="ask" type="xs:string"/></xs:schema></types>
              <message name="In"><part name="body" element="t:ask"/></message>
              <message name="Bad"><part name="fault" type="xs:string"/></message>
              <portType name="Ports"><operation name="Find"><documentation>Finds a port.</documentation><input message="t:In"/><fault message="t:Bad" name="none"/></operation></portType>
            </definitions>"""
            }
        )
        operation = symbols["ports.Find"].interface.operation
        self.assertEqual((operation.method, operation.body.media[0].schema), ("CALL", {"$ref": "api:ports.ask"}))
        self.assertEqual([(a.status, a.text) for a in operation.answers], [("fault", "none")])
        self.assertEqual(symbols["ports.Find"].doc.summary, "Finds a port.")
        self.assertEqual(symbols["ports.ask"].kind, "element")
        self.assertEqual(findings, [])

    def test_2_0(self):
        symbols, _ = described(
            {
                "ports.wsdl": """<description xmlns="http://www.w3.org/ns/wsdl" xmlns:t="urn:x:ports" targetNamespace="urn:x:ports">
              <interface name="P"><operation name="Find"><input element="t:ask"/><output element="t:got"/></operation></interface></description>"""
            }
        )
        self.assertEqual(
            symbols["ports.Find"].interface.operation.answers[0].media[0].schema, {"$ref": "api:ports.got"}
        )


JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-50, 50) | st.floats(-5, 5) | st.sampled_from(["a", "2026-01-01", "x@y.example", ""]),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=3),
    max_leaves=8,
)  # fmt: skip


class Samples(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
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
