"""Descriptions with anything in the place of anything: each is read as far as it makes sense."""

import copy
import json
import random
import unittest

from tests.core.sources.interfaces.test_asyncapi import ASYNC
from tests.core.sources.interfaces.test_openapi import SEA
from tests.support.interfaces import HEAD
from zarbek.core.jsonschema.example_generation import example_for
from zarbek.core.jsonschema.schema_rows import tree_of
from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.registry import read_interface
from zarbek.core.sources.languages.reading import SourceFile

JUNK = (None, True, 0, -1.5, "", "x", "#/", "#/paths", "../x#/y", [], [None], {}, {"$ref": 1}, {"$ref": "#"}, {"type": [1]},
        {"enum": "x"}, {"properties": [1], "required": {"a": 1}}, {"allOf": {}, "items": [1, "x"]}, ["a", {"name": 1}])  # fmt: skip
OLD = """swagger: '2.0'
info: {title: S, version: 1}
paths: {'/a/{b}': {post: {consumes: [a/b], parameters: [{name: b, in: path, type: string}, {name: c, in: body, schema: {type: object}}], responses: {200: {schema: {$ref: '#/definitions/A'}, examples: {'a/b': 1}, headers: {X: {type: string}}}}}}}
definitions: {A: {allOf: [{type: object}], discriminator: kind, example: {a: 1}}}
securityDefinitions: {k: {type: oauth2, flow: implicit, scopes: {a: b}}}
"""
DRAFT = '{"$schema": "https://json-schema.org/draft/2020-12/schema", "$defs": {"A": {"$anchor": "a", "type": "string", "pattern": "^a+$"}}, "properties": {"b": {"$ref": "#a", "default": 1}}, "oneOf": [{"$ref": "#/$defs/A"}], "dependentRequired": {"b": ["c"]}}'


def places(value, at=()):
    yield at
    if isinstance(value, (dict, list)):
        for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
            yield from places(inner, (*at, key))


class Junk(unittest.TestCase):
    def mutants(self, text, language, count=400):
        base = Document("a.yaml", text).value
        every = [p for p in places(base) if p]
        chance = random.Random(11)
        for _ in range(count):
            value = copy.deepcopy(base)
            for _ in range(chance.choice((1, 1, 2, 4))):
                place = chance.choice(every)
                holder = value
                try:
                    for part in place[:-1]:
                        holder = holder[part]
                    holder[place[-1]] = copy.deepcopy(chance.choice(JUNK))
                except (KeyError, IndexError, TypeError):
                    continue  # What was there is junk already.
            yield json.dumps(value), SourceFile("a.json", language, "a", options={"entries": ["a.json=a"]})

    def test_nothing_makes_a_reader_fall(self):
        for text, language in ((HEAD + SEA, "openapi"), (OLD, "openapi"), (ASYNC, "asyncapi"), (DRAFT, "json-schema")):
            for mutant, source in self.mutants(text, language):
                reading = read_interface(mutant.encode(), source, lambda file: None)
                schemas = {s.path: s.interface.schema for s in reading.symbols if s.interface and s.interface.schema}
                for schema in schemas.values():
                    example_for(schema, schemas.get)
                    tree_of(schema, schemas.get, levels=2)
