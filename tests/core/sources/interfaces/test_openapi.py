"""OpenAPI of all versions to symbols, mentions in place and findings."""

import unittest

from tests.support.interfaces import HEAD, described, openapi
from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files, links_of
from zarbek.core.changes.schemas import SchemaUse, compare_schemas
from zarbek.core.jsonschema.schema_rows import limits_in_words
from zarbek.core.linking.linker import Linker

SEA = """
paths:
  /ships/{id}:
    parameters:
      - {$ref: '#/components/parameters/Id'}
    put:
      operationId: setShip
      tags: [Ships]
      summary: Change a ship
      description: |
        Refused with `409`, see [ports](api://ports).
      parameters:
        - {name: X-Trace, in: header, schema: {type: string}}
      requestBody:
        required: true
        content:
          application/json:
            schema: {$ref: '#/components/schemas/Ship'}
            example: {name: Ida, length: 3}
      responses:
        '200':
          description: Done.
          headers: {ETag: {schema: {type: string}}}
          content: {application/json: {schema: {$ref: '#/components/schemas/Ship'}}}
        '404': {$ref: '#/components/responses/Gone'}
      callbacks:
        moved: {'{$request.body#/url}': {post: {responses: {'204': {description: Taken.}}}}}
    get:
      responses: {default: {description: Anything.}}
webhooks:
  sunk: {post: {responses: {'204': {description: Taken.}}}}
components:
  parameters:
    Id: {name: id, in: path, required: true, schema: {type: string}}
  responses:
    Gone: {description: Gone., content: {application/json: {schema: {$ref: '#/components/schemas/Fault'}}}}
  schemas:
    Ship:
      type: object
      required: [name]
      properties:
        name: {type: string}
        length: {type: integer}
        tow: {$ref: '#/components/schemas/Ship'}
        crew: {$ref: '#/components/schemas/Crwe'}
    Fault: {type: object}
    Alone: {type: string}
"""


class Reading(unittest.TestCase):
    def setUp(self):
        self.symbols, self.findings = openapi(SEA)

    def test_every_part_is_a_symbol(self):
        self.assertEqual(
            {p: s.kind for p, s in self.symbols.items()},
            {
                "sea": "api", "sea.setShip": "operation", "sea.GET /ships/{id}": "operation",
                "sea.setShip.moved": "operation", "sea.webhooks.sunk": "operation", "sea.parameters.Id": "parameter",
                "sea.responses.Gone": "response", "sea.Ship": "schema", "sea.Fault": "schema", "sea.Alone": "schema",
            },
        )  # fmt: skip

    def test_an_operation_holds_what_callers_need(self):
        operation = self.symbols["sea.setShip"].interface.operation
        self.assertEqual((operation.method, operation.path, operation.tags), ("PUT", "/ships/{id}", ["Ships"]))
        self.assertEqual([(p.place, p.name, p.required, p.ref) for p in operation.parameters],
                         [("path", "id", True, "sea.parameters.Id"), ("header", "X-Trace", False, "")])  # fmt: skip
        self.assertEqual(operation.body.media[0].schema, {"$ref": "api:sea.Ship"})
        self.assertEqual([(a.status, a.ref, len(a.headers)) for a in operation.answers],
                         [("200", "", 1), ("404", "sea.responses.Gone", 0)])  # fmt: skip
        self.assertEqual(operation.callbacks, ["sea.setShip.moved"])
        self.assertTrue(self.symbols["sea.webhooks.sunk"].interface.operation.incoming)

    def test_references_are_mentions_where_they_stand(self):
        mentions = {(m.name, m.field): m.line for m in self.symbols["sea.setShip"].mentions}
        lines = (HEAD + SEA).split("\n")
        self.assertIn("example", lines[mentions["api:sea.Ship", "request"]])
        self.assertIn("content", lines[mentions["api:sea.Ship", "response:200"] - 1])
        self.assertIn("`409`", lines[mentions["api:sea.setShip#409", "doc"] - 1])
        self.assertIn("api://ports", lines[mentions["api://ports", "doc"] - 1])
        self.assertNotIn(("api:sea.Fault", "response:404"), mentions, "the shared answer tells of it")

    def test_links_lead_by_method_and_path_by_id_and_to_parts(self):
        guide = "# G\n[a](<api://p/PUT /ships/{id}>) [b](api://p/setShip#404) [c](api://p/setShip#418) [d](api://p/Ship#name) [e](api://p/Ship#nmae)\n"
        found = links_of({"sea.yaml": HEAD + SEA, "docs/g.md": guide}, slug="p")
        self.assertEqual(found["sea.Ship", "#/components/schemas/Crwe"], ("dangling", "sea.Crwe"))
        _, index, _ = gather_files({"sea.yaml": HEAD + SEA, "docs/g.md": guide}, slug="p")
        self.assertEqual(index.aliases["PUT /ships/{id}"], "sea.setShip")
        self.assertEqual(index.symbols["sea.setShip"].anchors, ["200", "404", "id", "X-Trace", "request"])

    def test_schemas_know_in_which_direction_they_go(self):
        flags = {p: s.flags for p, s in self.symbols.items() if s.kind == "schema"}
        self.assertEqual(flags, {"sea.Ship": ["request", "response"], "sea.Fault": ["response"], "sea.Alone": []})

    def test_right_examples_give_no_finding(self):
        self.assertEqual([f.rule for f in self.findings], [])

    def test_an_example_that_does_not_fit_is_told_with_its_line(self):
        _, findings = openapi(SEA.replace("length: 3}", "length: three}"))
        (found,) = findings
        self.assertEqual((found.rule, found.target), ("stale/example", "sea.setShip"))
        self.assertIn('at /length a whole number was expected; this is "three"', found.message)
        self.assertIn("example:", (HEAD + SEA).split("\n")[found.line - 1])


class Versions(unittest.TestCase):
    def test_2_0(self):
        symbols, findings = openapi(
            """
            paths:
              /a/{b}:
                post:
                  consumes: [application/json]
                  parameters:
                    - {name: b, in: path, required: true, type: integer, maximum: 5}
                    - {name: body, in: body, required: true, schema: {$ref: '#/definitions/A'}}
                  responses: {'200': {description: Ok., schema: {type: array, items: {$ref: '#/definitions/A'}}}}
              /form:
                post:
                  operationId: send
                  parameters: [{name: f, in: formData, type: file, required: true}]
                  responses: {'204': {description: Ok.}}
            definitions: {A: {type: object, properties: {x: {type: string, x-nullable: true}}}}
            securityDefinitions: {k: {type: apiKey, in: query, name: key}}
            """,
            "swagger: '2.0'\ninfo: {title: Old, version: '1'}\nhost: x.example\nbasePath: /v1\n",
        )
        self.assertEqual(findings, [])
        operation = symbols["sea.POST /a/{b}"].interface.operation
        self.assertEqual(operation.parameters[0].schema, {"type": "integer", "maximum": 5})
        self.assertEqual(operation.body.media[0].schema, {"$ref": "api:sea.A"})
        self.assertEqual(symbols["sea.A"].interface.schema["properties"]["x"], {"type": ["string", "null"]})
        form = symbols["sea.send"].interface.operation.body
        self.assertEqual((form.media[0].type, form.media[0].schema["required"]), ("multipart/form-data", ["f"]))
        service = symbols["sea"].interface.service
        self.assertEqual([s.url for s in service.servers], ["https://x.example/v1"])
        self.assertEqual(service.schemes[0].words, "A key in the query parameter key.")

    def test_3_0_is_brought_to_the_schemas_of_today(self):
        symbols, _ = openapi(
            "paths: {}\ncomponents: {schemas: {A: {type: integer, nullable: true, minimum: 1, exclusiveMinimum: true, "
            "example: 3, enum: [3, 4]}, B: {$ref: '#/components/schemas/A', nullable: true}}}\n",
            "openapi: 3.0.3\ninfo: {title: A, version: '1'}\n",
        )
        self.assertEqual(
            symbols["sea.A"].interface.schema,
            {"type": ["integer", "null"], "exclusiveMinimum": 1, "examples": [3], "enum": [3, 4, None]},
        )
        self.assertEqual(symbols["sea.B"].interface.schema, {"anyOf": [{"$ref": "api:sea.A"}, {"type": "null"}]})

    def test_3_2_has_methods_of_its_own_and_streams(self):
        symbols, findings = openapi(
            """
            paths:
              /a:
                query: {responses: {'200': {description: Found., content: {application/jsonl: {itemSchema: {type: integer}}}}}}
                additionalOperations: {PURGE: {responses: {'204': {description: Gone.}}}}
            """,
            "openapi: 3.2.0\ninfo: {title: A, version: '1'}\n",
        )
        self.assertEqual(sorted(p for p in symbols if "/" in p), ["sea.PURGE /a", "sea.QUERY /a"])
        media = symbols["sea.QUERY /a"].interface.operation.answers[0].media[0]
        self.assertEqual(media.schema, {"type": "array", "items": {"type": "integer"}})
        self.assertEqual(findings, [])

    def test_what_breaks_the_standard_is_told_and_the_rest_is_read(self):
        symbols, findings = openapi(
            """
            paths:
              /a/{b}:
                get:
                  operationId: bad
                  parameters: [{name: b, in: path}]
                  responses: {'200': {description: Ok.}}
              /c:
                get: {operationId: good, responses: {'200': {description: Ok.}}}
            """
        )
        self.assertIn("sea.good", symbols)
        self.assertIn("sea.bad", symbols)
        self.assertEqual({f.rule for f in findings}, {"text/breaks-standard"})
        self.assertIn("paths › /a/{b} › get › parameters › 0", findings[0].message)
        self.assertEqual(findings[0].line, 8)


class SeveralFiles(unittest.TestCase):
    def test_parts_in_files_of_their_own_belong_to_their_files(self):
        symbols, findings = described({
            "sea/openapi.yaml": HEAD + "paths:\n  /a: {$ref: paths/a.yaml}\n",
            "sea/paths/a.yaml": "get:\n  operationId: getA\n  responses: {'200': {description: Ok., content: {application/json: {schema: {$ref: '../types.yaml#/A'}}}}}\n",
            "sea/types.yaml": "A:\n  type: object\n  properties: {b: {$ref: '#/B'}}\nB: {type: string}\n",
        })  # fmt: skip
        self.assertEqual(findings, [])
        self.assertEqual(symbols["sea.types.A"].interface.schema["properties"]["b"], {"$ref": "api:sea.types.B"})
        self.assertEqual((symbols["sea.types.B"].file, symbols["sea.types.B"].line), ("sea/types.yaml", 4))
        self.assertEqual(
            symbols["sea.getA"].interface.operation.answers[0].media[0].schema, {"$ref": "api:sea.types.A"}
        )

    def test_files_outside_of_the_source_are_not_read(self):
        symbols, _ = described({"a/sea.yaml": HEAD + "components: {schemas: {A: {$ref: '../../../etc/passwd#/x'}}}\n"})
        self.assertNotIn("passwd", str(symbols["sea.A"].interface.schema.get("properties")))
        self.assertEqual(len(symbols), 2)

    def test_cycles_end(self):
        symbols, _ = described({
            "sea.yaml": HEAD + "paths: {/a: {$ref: '#/paths/~1a'}}\ncomponents: {schemas: {A: {$ref: '#/components/schemas/B'}, B: {$ref: '#/components/schemas/A'}, C: {properties: {x: {$ref: '#/components/schemas/C/properties/x'}}}}, parameters: {P: {$ref: '#/components/parameters/P'}}}\n",
        })  # fmt: skip
        self.assertEqual(symbols["sea.A"].interface.schema, {"$ref": "api:sea.B"})
        self.assertEqual(symbols["sea.C"].interface.schema["properties"]["x"], {"$ref": "api:sea.C#/properties/x"})

    def test_an_overlay_changes_what_it_extends(self):
        overlay = "overlay: 1.0.0\ninfo: {title: o, version: '1'}\nextends: sea.yaml\nactions:\n  - {target: $.info, update: {summary: Told.}}\n  - {target: \"$.paths['/b']\", remove: true}\n"
        files = {
            "sea.yaml": HEAD
            + "paths: {/a: {get: {responses: {'200': {description: x}}}}, /b: {get: {responses: {'200': {description: x}}}}}\n"
        }
        symbols, findings = described({**files, "more.overlay.yaml": overlay})
        self.assertEqual(symbols["sea"].doc.summary, "Told.")
        self.assertNotIn("sea.GET /b", symbols)
        self.assertEqual(findings, [])
        _, findings = described({**files, "more.overlay.yaml": overlay.replace("$.info", "'$['")})
        self.assertEqual([(f.rule, f.file) for f in findings], [("text/breaks-standard", "more.overlay.yaml")])

    def test_behind_a_gateway_callers_see_other_addresses(self):
        for head, read in (
            (HEAD, "https://gate.example/sea"),
            ("swagger: '2.0'\ninfo: {title: S, version: '1'}\nhost: in.example\n", "https://gate.example/sea"),
        ):
            symbols, _ = described({
                "sea.yaml": head + "paths: {/internal/a: {get: {operationId: a, responses: {'200': {description: x}}}}}\n",
                "zarbek.toml": "[services.sea]\nserver = 'https://gate.example/sea'\nstrip = '/internal'\n",
            })  # fmt: skip
            self.assertEqual([s.url for s in symbols["sea"].interface.service.servers], [read])
            self.assertEqual(symbols["sea.a"].interface.operation.path, "/a")


class WholeApis(unittest.TestCase):
    def test_headers_of_every_operation_are_told_with_the_api(self):
        operation = "get: {{operationId: {0}, parameters: [{{name: X-Trace, in: header, schema: {{type: string}}}}{1}], responses: {{}}}}"
        text = f"paths:\n  /a: {{{operation.format('a', '')}}}\n  /b: {{{operation.format('b', ', {name: X-B, in: header, schema: {}}')}}}\n"
        symbols, _ = openapi(text)
        service = symbols["sea"].interface.service
        self.assertEqual([h.name for h in service.headers], ["X-Trace"])
        self.assertEqual([(o.path, o.address) for o in service.operations], [("sea.a", "GET /a"), ("sea.b", "GET /b")])

    def test_a_huge_choice_stays_short(self):
        values = [f"v{n}" for n in range(100_000)]
        old, new = {"enum": values}, {"enum": ["v0"]}
        self.assertLess(len(limits_in_words(old)[0]), 400)
        self.assertLess(len(compare_schemas(old, new, SchemaUse(True, False))[0].text), 400)


class Parts(unittest.TestCase):
    def test_what_a_part_does_not_have_is_looked_for_in_the_whole(self):
        text = (
            HEAD.replace("version: '1'", "version: '1', description: '[g](api://p/guide) [n](api://p/nothing)'")
            + "paths: {}\n"
        )
        _, whole, _ = gather_files({"sea.yaml": text, "docs/guide.md": "# G\n"}, slug="p", version="1.0.0")
        for is_partial, outcome in ((True, "linked"), (False, "dangling")):
            _, part, symbols = gather_files({"sea.yaml": text}, slug="p", version="running", is_partial=is_partial)
            linker = Linker(part, MemoryPortal(whole))
            links = {
                m.text: link.outcome
                for t in linker.link_symbols(symbols)
                for m, link in zip(t.mentions, t.links, strict=True)
            }
            self.assertEqual(links, {"api://p/guide": outcome, "api://p/nothing": "dangling"})
