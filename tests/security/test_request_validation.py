"""Whatever comes in is refused with a reason or taken; nothing of it is a fault of the portal."""

import json
import socket
import unittest
import uuid

from tests.support.running import ROOT, running

#: Values that once made some address answer 500.
TEXTS = ("²", "①", "-1", "0", "99999999999999999999999", "é" * 40, "\x00", "\x1b[31m", "a" * 5000, "'", '"', "\\", "%", "%00", "..", "../..", "%2e%2e",
         "\u202e", "\ufffe", "🛶", "[", "http://[::1", "http://a:99999999/", "{", "*", "~", "@", "#", " ", "true", "null", "1e9", "٣")  # fmt: skip
RAW_BODIES = (b"", b"{", b"[" * 100_000, b'{"a":' * 50_000, b'"\\ud800"', b'{"name": "\\ud800"}', b'{"name": "\\u0000"}', b"\xff\xfe", b"null", b"[]", b"1e400",
              b'{"name": ' + b"9" * 400 + b"}", b'{"name": {"a": []}}', b'{"project": "\\ud83d"}')  # fmt: skip


class RequestValidation(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.addClassCleanup(cls.portal.forget_attempts)
        cls.slug = f"door{uuid.uuid4().hex[:6]}"
        cls.portal.publish({f"{cls.slug}.py": 'def f(a):\n    """F."""\n', "docs/index.md": "# A\n"}, cls.slug, "1.0")
        cls.api = json.loads((ROOT / "docs" / "zarbek-api.json").read_text())

    def operations(self):
        for path, methods in self.api["paths"].items():
            for method, operation in methods.items():
                yield path, method, operation

    def address(self, path, operation, /, **given):
        """A path with sound values, but for those that are given."""
        values = {"slug": self.slug, "version": "1.0", "path": f"{self.slug}.f", **given}
        for parameter in operation["parameters"]:
            if parameter["in"] == "path":
                value = str(values.get(parameter["name"], "1"))
                path = path.replace("{" + parameter["name"] + "}", "".join(f"%{b:02X}" for b in value.encode()))
        return path

    def assert_sound(self, answer, what):
        self.assertLess(answer.status_code, 500, f"{what}: {answer.text[:300]}")

    def test_every_parameter_of_every_query(self):
        for path, method, operation in self.operations():
            if method != "get" or path.endswith("/events"):
                continue
            for parameter in operation["parameters"]:
                if parameter["in"] == "query":
                    for text in TEXTS:
                        answer = self.portal.api(
                            "GET",
                            self.address(path, operation).removeprefix("/api/v1"),
                            params={parameter["name"]: text},
                        )
                        self.assert_sound(answer, f"{path} {parameter['name']}={text[:20]!r}")
                        if parameter["schema"]["type"] == "integer" and not text.isascii():
                            self.assertEqual(answer.status_code, 400)

    def test_every_part_of_every_address(self):
        for path, method, operation in self.operations():
            if method != "get" or path.endswith("/events"):
                continue
            for parameter in operation["parameters"]:
                if parameter["in"] == "path":
                    for text in TEXTS:
                        address = self.address(path, operation, **{parameter["name"]: text})
                        self.assert_sound(self.portal.api("GET", address.removeprefix("/api/v1")), f"{address[:120]}")

    def test_every_body(self):
        for path, method, operation in self.operations():
            if "application/json" not in operation.get("requestBody", {}).get("content", {}):
                continue
            address = self.address(path, operation, slug="nothing-here", version="0").removeprefix("/api/v1")
            for body in RAW_BODIES:
                answer = self.portal.api(
                    method.upper(), address, content=body, headers={"Content-Type": "application/json"}
                )
                self.assert_sound(answer, f"{method} {path} {body[:30]!r}")
                self.assertIn("json", answer.headers.get("Content-Type", "json"))

    def test_every_field_of_every_body(self):
        schemas = self.api["components"]["schemas"]
        for path, method, operation in self.operations():
            schema = operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema", {})
            fields = schemas.get(schema.get("$ref", "").rpartition("/")[2], {}).get("properties", {})
            address = self.address(path, operation, slug="nothing-here", version="0").removeprefix("/api/v1")
            for name in fields:
                for value in (*TEXTS, 2**64, -1, [], {}, None, True, ["a"] * 10_000):
                    sound = {n: _sound_value(f) for n, f in fields.items()}
                    answer = self.portal.api(method.upper(), address, json={**sound, name: value})
                    self.assert_sound(answer, f"{method} {path} {name}={str(value)[:30]!r}")

    def test_headers_that_are_no_text(self):
        for name in (
            "Authorization",
            "If-None-Match",
            "Idempotency-Key",
            "X-CSRFToken",
            "Cookie",
            "Accept",
            "Content-Type",
            "X-Forwarded-For",
        ):
            for value in (b"\xff\xfe", b"Bearer \xe9", b"a" * 9000, b"\xe2\x82\xac"):
                with self.subTest(name, value=value[:10]):
                    answer = self.portal.http.get("/api/v1/projects", headers={name: value})
                    self.assert_sound(answer, name)

    def test_requests_that_are_none(self):
        port = int(self.portal.url.rpartition(":")[2])
        for raw in (b"GET", b"\x16\x03\x01", b"GET / HTTP/9.9\r\n\r\n", b"GET /%ff%fe HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n",
                    b"GET /api/v1/projects?q=\xff HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n", b"GET / HTTP/1.1\r\nHost: \xff\r\n\r\n",
                    b"GET / HTTP/1.1\r\n" + b"A: b\r\n" * 60_000 + b"\r\n", b"GET /" + b"a" * 200_000 + b" HTTP/1.1\r\n\r\n",
                    b"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: -1\r\n\r\n"):  # fmt: skip
            with self.subTest(raw[:40]), socket.create_connection(("127.0.0.1", port), timeout=10) as wire:
                try:
                    wire.sendall(raw)
                    wire.shutdown(socket.SHUT_WR)
                    answer = wire.recv(200)
                except OSError:
                    answer = b""
                self.assertNotIn(b" 500 ", answer.partition(b"\r\n")[0])
        self.assertEqual(self.portal.http.get("/health/live").status_code, 200)

    def test_a_secret_that_is_empty_takes_no_calls(self):
        source = self.portal.client.add_source(self.slug, str(self.portal.home / "repositories"))
        done = self.portal.in_service(
            f"from zarbek.service.sources.models import Source; Source.objects.filter(pk={source.id}).update(hook_secret='')"
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        from datetime import UTC, datetime

        from standardwebhooks import Webhook

        moment = datetime.now(tz=UTC)
        for secret in ("whsec_AAAA", "whsec_AA=="):
            headers = {
                "webhook-id": "x",
                "webhook-timestamp": str(int(moment.timestamp())),
                "webhook-signature": Webhook(secret).sign("x", moment, "{}"),
            }
            answer = self.portal.http.post(f"/api/v1/hooks/{source.id}", content=b"{}", headers=headers)
            self.assertEqual(answer.status_code, 403)
        answer = self.portal.http.post(
            f"/api/v1/hooks/{source.id}",
            content=b"\xff\xfe\x00",
            headers={
                "webhook-id": "x",
                "webhook-timestamp": "\u00b2".encode(),
                "webhook-signature": "v1,\u00e9".encode(),
            },
        )
        self.assertEqual(answer.status_code, 403)
        self.portal.client.remove_source(source.id)


def _sound_value(field):
    kind = field.get("type") or next(
        (f.get("type") for f in field.get("anyOf", ()) if f.get("type") != "null"), "string"
    )
    return {
        "string": "2099-01-01" if field.get("format") == "date" else "a",
        "integer": 1,
        "boolean": False,
        "array": [],
        "object": {},
    }.get(kind, "a")


if __name__ == "__main__":
    unittest.main()
