"""Descriptions as callers see them, behind a gateway."""

import json
import unittest

from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.gateways import put_behind


def behind(value, server="", strip=""):
    document = Document("a.json", json.dumps(value))
    put_behind(document, server, strip)
    return document.value


class Gateways(unittest.TestCase):
    def test_there_is_one_server_and_it_is_the_gateways(self):
        value = {"openapi": "3.1.0", "servers": [{"url": "http://inside"}],
                 "paths": {"/x": {"servers": [{"url": "/y"}], "get": {"servers": [{"url": "/z"}], "summary": "S"}, "$ref": "#/a"}}}  # fmt: skip
        found = behind(value, "https://sea.example/api")
        self.assertEqual(found["servers"], [{"url": "https://sea.example/api"}])
        self.assertEqual(found["paths"], {"/x": {"get": {"summary": "S"}, "$ref": "#/a"}})

    def test_of_version_2_its_parts_are_the_gateways(self):
        found = behind({"swagger": "2.0", "host": "inside", "basePath": "/v1"}, "http://sea.example/api")
        self.assertEqual((found["host"], found["basePath"], found["schemes"]), ("sea.example", "/api", ["http"]))

    def test_the_beginning_that_the_gateway_adds_goes_in_whole_segments(self):
        paths = {"/boats": {}, "/boats/{id}": {}, "/boatshed": {}, "/crew": {}}
        found = behind({"openapi": "3.0.0", "paths": paths}, strip="/boats/")
        self.assertEqual(list(found["paths"]), ["/", "/{id}", "/boatshed", "/crew"])

    def test_what_is_no_description_stays_as_it_is(self):
        for value in ([], "x", {"paths": ["no", "paths"]}, {}):
            self.assertEqual(behind(value, "https://sea.example", "/a"), value)


if __name__ == "__main__":
    unittest.main()
