"""Requests put together, and as code that runs: every form sends the same."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import unittest
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from zarbek.core.model.interface import Body, Media, NamedValue, Operation, SecurityRequirement, SecurityScheme, Server
from zarbek.core.requests.code_snippets import snippets_of
from zarbek.core.requests.http_request import SECRET, Call, CallRefused, build_call, example_call, server_address
from zarbek.core.sources.languages.syntax_tree import SourceTree

OPERATION = Operation(
    "POST", "/ships/{id}/crew",
    parameters=[
        NamedValue("id", "path", {"type": "string"}, required=True), NamedValue("tag", "query", {"type": "array"}, explode=False),
        NamedValue("at", "query", {"type": "object"}, style="deepObject"), NamedValue("X-Key", "header", {"type": "string"}),
    ],
    body=Body([Media("application/json", {"type": "object", "properties": {"n": {"type": "integer"}}})]),
)  # fmt: skip


class Building(unittest.TestCase):
    def build(self, **values):
        return build_call(OPERATION, "https://x.example/v1", values, "{}", "application/json")

    def test_values_stand_where_they_belong(self):
        call = self.build(
            path={"id": "a/b c"},
            query={"tag": ["x", "y&"], "at": {"lat": 1}, "more": "ü"},
            header={"X-Key": "k"},
            cookie={"c": "1;2"},
        )
        self.assertEqual(call.url, "https://x.example/v1/ships/a%2Fb%20c/crew?tag=x,y%26&at[lat]=1&more=%C3%BC")
        self.assertEqual(call.headers, [("X-Key", "k"), ("Cookie", "c=1%3B2"), ("Content-Type", "application/json")])

    def test_what_cannot_be_sent_is_refused(self):
        cases = ({}, {"path": {"id": "1"}, "header": {"Host": "evil"}}, {"path": {"id": "1"}, "header": {"a b": "c"}},
                 {"path": {"id": "1"}, "header": {"X": "a\r\nEvil: 1"}})  # fmt: skip
        for values in cases:
            with self.subTest(values), self.assertRaises(CallRefused):
                self.build(**values)

    @given(st.text(min_size=1, max_size=20))
    def test_a_value_never_leaves_its_place(self, value):
        url = self.build(path={"id": value}, query={"q": value}).url
        self.assertRegex(url, r"^https://x\.example/v1/ships/")
        self.assertEqual((url.count("?"), url.count("#"), url.count("&")), (1, 0, 0))

    def test_examples_fill_what_is_needed_and_secrets_are_marked(self):
        operation = Operation(
            "GET",
            "/a/{n}",
            parameters=[NamedValue("n", "path", {"type": "integer", "minimum": 4}, required=True)],
            security=[[SecurityRequirement("k")]],
        )
        call = example_call(
            operation,
            "https://x.example",
            lambda path: None,
            [SecurityScheme("k", "http", "A bearer token.", place="header", field="Authorization")],
        )
        self.assertEqual((call.url, call.headers), ("https://x.example/a/4", [("Authorization", f"Bearer {SECRET}")]))

    def test_variables_of_servers_have_their_defaults(self):
        self.assertEqual(
            server_address(Server("https://{h}.example/{v}/", variables={"h": "x", "v": "2"})), "https://x.example/2"
        )
        self.assertEqual(server_address(Server("/v1"), "https://x.example"), "https://x.example/v1")


class _Echo(BaseHTTPRequestHandler):
    def do_POST(self):
        body = self.rfile.read(int(self.headers.get("Content-Length", "0"))).decode()
        self.server.seen.append(
            (self.command, self.path, self.headers.get("X-Note"), self.headers.get("Content-Type"), body)
        )
        self.send_response(200)
        self.send_header("Content-Length", "2")
        self.end_headers()
        self.wfile.write(b"ok")

    def log_message(self, *_):
        return None


BODY = json.dumps({"name": 'O\'Brien "x" $HOME `id` \\ é', "n": [1]}, indent=2, ensure_ascii=False)


class Snippets(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = HTTPServer(("127.0.0.1", 0), _Echo)
        cls.server.seen = []
        threading.Thread(target=cls.server.serve_forever, daemon=True).start()
        cls.call = Call(
            "POST",
            f"http://127.0.0.1:{cls.server.server_port}/a?b=c%20d",
            [("X-Note", 'it\'s "so" $1'), ("Content-Type", "application/json")],
            BODY,
        )
        cls.texts = {s.label: s.text for s in snippets_of(cls.call)}

    @classmethod
    def tearDownClass(cls):
        cls.server.shutdown()
        cls.server.server_close()

    def run_it(self, name, text, *command):
        self.server.seen.clear()
        with tempfile.TemporaryDirectory() as folder:
            Path(folder, name).write_text(text, encoding="utf-8")
            environment = {k: v for k, v in os.environ.items() if "proxy" not in k.lower()}
            done = subprocess.run(
                command, cwd=folder, capture_output=True, text=True, timeout=120, env=environment, check=False
            )
        self.assertEqual(done.returncode, 0, done.stderr)
        ((method, path, note, kind, body),) = self.server.seen
        self.assertEqual(
            (method, path, note, kind, body), ("POST", "/a?b=c%20d", 'it\'s "so" $1', "application/json", BODY)
        )

    def test_curl(self):
        if shutil.which("curl") is None:
            self.skipTest("no curl")
        self.run_it("a.sh", self.texts["curl"], "bash", "a.sh")

    def test_python(self):
        self.run_it("a.py", self.texts["Python"], sys.executable, "a.py")

    def test_javascript(self):
        self.run_it("a.mjs", self.texts["JavaScript"], "node", "a.mjs")

    def test_java(self):
        if shutil.which("javac") is None:
            self.skipTest("no javac")
        self.run_it("Call.java", self.texts["Java"], "java", "-Dhttp.nonProxyHosts=127.0.0.1", "Call.java")

    def test_go_and_csharp_parse(self):
        for label, language in (("Go", "go"), ("C#", "csharp"), ("Java", "java"), ("JavaScript", "javascript")):
            with self.subTest(label):
                self.assertFalse(SourceTree(self.texts[label].encode(), language).root.has_error)

    def test_the_message_is_one_of_http(self):
        head, _, body = self.texts["HTTP"].partition("\n\n")
        self.assertEqual(body, BODY)
        lines = head.split("\n")
        self.assertEqual(lines[0], "POST /a?b=c%20d HTTP/1.1")
        self.assertIn(f"Content-Length: {len(BODY.encode())}", lines)

    @settings(max_examples=60, deadline=None)
    @given(st.text(alphabet=st.characters(exclude_categories=["Cs"]), max_size=30))
    def test_any_text_stays_a_text(self, text):
        for snippet in snippets_of(Call("POST", "https://x.example/", [], text)):
            if snippet.language in ("go", "csharp", "java", "javascript") and text:
                with self.subTest(snippet.label):
                    self.assertFalse(SourceTree(snippet.text.encode(), snippet.language).root.has_error)
            if snippet.language == "python":
                compile(snippet.text, "a.py", "exec")
