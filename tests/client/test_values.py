"""What the client hands out is what the API's description says that it answers."""

import inspect
import json
import re
import unittest
from pathlib import Path
from types import SimpleNamespace

import msgspec

from zarbek.client import Portal

DESCRIPTION = json.loads((Path(__file__).parents[2] / "docs/zarbek-api.json").read_text())
#: Not made through a call that gives a value: a stream, a text, or an upload.
OTHER_ANSWERS = {
    "publish",
    "link_index",
    "elements",
    "watch",
    "links",
    "report_as",
    "audit_lines",
    "tested_table",
    "supplement_patch",
}
SHAPING = ("type", "enum", "const", "prefixItems", "oneOf", "allOf")


class Recorder(Portal):
    """Tells what it would have asked, and as what it would have read the answer."""

    asked = None

    def _get(self, path, kind, /, **params):
        self.asked = ("GET", path, kind, set(params))
        return SimpleNamespace(state="made")

    def _pages(self, path, kind, /, **params):
        self.asked = ("GET", path, [kind], set(params))

    def _post(self, path, body, kind, method="POST"):
        self.asked = (method, path, kind, set())

    def _put(self, path, body):
        self.asked = ("PUT", path, None, set())

    def _delete(self, path, /, **params):
        self.asked = ("DELETE", path, None, set(params))


def calls():
    """Every call of the client: its name, method, path, kind and the names of its parameters."""
    portal = Recorder("http://portal.example")
    for name, method in inspect.getmembers(portal, inspect.ismethod):
        if name.startswith("_") or name in OTHER_ANSWERS:
            continue
        wanted = inspect.signature(method).parameters.values()
        given = {p.name: _sample(p) for p in wanted if p.default is p.empty and p.kind is not p.VAR_KEYWORD}
        method(**given)
        yield name, *portal.asked


def _sample(parameter):
    text = str(parameter.annotation)
    return {"int": 7, "str": "x"}.get(text, {} if text.startswith("dict") else [])


def described(method, path):
    """The operation at a path, with its template."""
    for template, operations in DESCRIPTION["paths"].items():
        pattern = re.sub(r"\\\{\w+\\\}", "[^/]+", re.escape(template))
        if re.fullmatch(pattern, f"/api/v1{path}") and method.lower() in operations:
            return operations[method.lower()]
    raise AssertionError(f"{method} {path} is not described")


def answer_of(operation):
    """The schema of what comes back, of a list its items'; None for nothing."""
    (answer,) = (a for status, a in operation["responses"].items() if status.startswith("2"))
    return answer["content"]["application/json"]["schema"] if "content" in answer else None


class Differences:
    """Where two schemas differ in what they allow, each reference seen once."""

    def __init__(self, ours):
        self.ours = {f"#/$defs/{name}": s for name, s in ours.get("$defs", {}).items()}
        self.theirs = {f"#/components/schemas/{name}": s for name, s in DESCRIPTION["components"]["schemas"].items()}
        self.seen, self.found = set(), []

    def compare(self, ours, theirs, where):
        pair = (ours.get("$ref"), theirs.get("$ref"))
        if all(pair) and pair in self.seen:
            return
        self.seen.add(pair)
        ours, theirs = self.ours.get(pair[0], ours), self.theirs.get(pair[1], theirs)
        for word in SHAPING:
            if ours.get(word) != theirs.get(word):
                self.found.append(f"{where}: {word} {ours.get(word)} for {theirs.get(word)}")
        self._same_names(ours.get("properties", {}), theirs.get("properties", {}), where)
        self._same_names(dict.fromkeys(ours.get("required", ())), dict.fromkeys(theirs.get("required", ())), where)
        for name, schema in ours.get("properties", {}).items():
            if name in theirs.get("properties", {}):
                self.compare(schema, theirs["properties"][name], f"{where}.{name}")
        for word in ("items", "additionalProperties"):
            one, other = ours.get(word), theirs.get(word)
            if isinstance(one, dict) and isinstance(other, dict):
                self.compare(one, other, f"{where}[]")
            elif one != other:
                self.found.append(f"{where}: {word} {one} for {other}")
        ours_any, theirs_any = ours.get("anyOf", []), theirs.get("anyOf", [])
        if len(ours_any) != len(theirs_any):
            self.found.append(f"{where}: {len(ours_any)} for {len(theirs_any)} alternatives")
        for one, other in zip(ours_any, theirs_any, strict=False):
            self.compare(one, other, where)

    def _same_names(self, ours, theirs, where):
        for name in ours.keys() ^ theirs.keys():
            self.found.append(f"{where}.{name}: only {'ours' if name in ours else 'described'}")


class Values(unittest.TestCase):
    def test_every_call_asks_for_what_is_described(self):
        for name, method, path, _, params in calls():
            with self.subTest(name):
                known = {p["name"] for p in described(method, path).get("parameters", []) if p["in"] == "query"}
                self.assertLessEqual(params, known)

    def test_every_value_is_the_one_that_is_described(self):
        for name, method, path, kind, _ in calls():
            schema = answer_of(described(method, path))
            with self.subTest(name):
                if kind is None or schema is None:
                    self.assertEqual((kind, schema), (None, None))
                    continue
                if isinstance(kind, list):
                    page = DESCRIPTION["components"]["schemas"][schema["$ref"].rpartition("/")[2]]
                    self.assertLessEqual({"items", "next"}, set(page["properties"]))
                    schema, kind = page["properties"]["items"]["items"], kind[0]
                ours = msgspec.json.schema(kind)
                differences = Differences(ours)
                differences.compare(ours, schema, name)
                self.assertEqual(differences.found, [])

    def test_every_reading_operation_has_a_call(self):
        """But what a browser asks for itself, and what is no value."""
        asked = {described(method, path)["operationId"] for _, method, path, _, _ in calls()}
        left = {
            operation["operationId"]
            for operations in DESCRIPTION["paths"].values()
            for operation in operations.values()
        } - asked
        self.assertEqual(
            left,
            {
                "publishBundle",
                "watchRun",
                "listLinks",
                "getLinkIndex",
                "getElements",
                "exportAudit",
                "getTestedTable",
                "getSupplementPatch",
                "getAsset",
                "getOriginal",
                "getOriginalByKey",
                "callHook",
                "getSession",
                "signIn",
                "signOut",
                "unsubscribe",
            },
        )


if __name__ == "__main__":
    unittest.main()
