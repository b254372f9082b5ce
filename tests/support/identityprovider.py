"""A provider of identities on loopback: enough of OpenID Connect to sign in, with keys of its own."""

from __future__ import annotations

import json
import threading
import time
import uuid
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlencode, urlsplit

import jwt
from cryptography.hazmat.primitives.asymmetric import rsa

CLIENT, SECRET = "zarbek", "a-secret-of-the-tests"


class IdentityProvider:
    """Signs whoever ``person`` is in at once. said: what is changed in its next identity token."""

    def __init__(self) -> None:
        self.keys = {
            name: rsa.generate_private_key(public_exponent=65537, key_size=2048) for name in ("own", "strange")
        }
        self.person = {"sub": "u-1", "preferred_username": "mara", "email": "mara@halmere.example", "groups": ["crew"]}
        self.said: dict[str, object] = {}
        self.signed_by, self.tells = "own", {}
        self._codes: dict[str, str] = {}
        provider = self

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                provider.get(self)

            def do_POST(self) -> None:
                provider.post(self)

            def log_message(self, *_: object) -> None:
                pass

        self._server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.url = f"http://127.0.0.1:{self._server.server_port}"
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    def stop(self) -> None:
        self._server.shutdown()
        self._server.server_close()

    def get(self, asked: BaseHTTPRequestHandler) -> None:
        path, query = urlsplit(asked.path).path, parse_qs(urlsplit(asked.path).query)
        if path == "/authorize":
            code = uuid.uuid4().hex
            self._codes[code] = query.get("nonce", [""])[0]
            asked.send_response(302)
            back = urlencode({"code": code, "state": query["state"][0]})
            asked.send_header("Location", f"{query['redirect_uri'][0]}?{back}")
            asked.end_headers()
            return
        key = json.loads(jwt.algorithms.RSAAlgorithm.to_jwk(self.keys["own"].public_key()))
        self._answer(asked, {
            "/.well-known/openid-configuration": {
                "issuer": self.url, "authorization_endpoint": f"{self.url}/authorize",
                "token_endpoint": f"{self.url}/token", "userinfo_endpoint": f"{self.url}/userinfo",
                "jwks_uri": f"{self.url}/keys",
            },
            "/keys": {"keys": [{**key, "kid": "k1", "alg": "RS256", "use": "sig"}]},
            "/userinfo": {**self.person, **self.tells},
        }[path])  # fmt: skip

    def post(self, asked: BaseHTTPRequestHandler) -> None:
        body = parse_qs(asked.rfile.read(int(asked.headers["Content-Length"])).decode())
        if body["client_secret"] != [SECRET] or body["code"][0] not in self._codes or "code_verifier" not in body:
            asked.send_error(400)
            return
        nonce = self._codes.pop(body["code"][0])
        self._answer(asked, {"access_token": "x", "token_type": "Bearer", "id_token": self.token(nonce=nonce)})

    def token(self, **facts: object) -> str:
        """A token that the provider signs, as it is told to be."""
        now = int(time.time())
        claims = {
            "iss": self.url,
            "aud": CLIENT,
            "sub": self.person["sub"],
            "iat": now,
            "exp": now + 300,
            **facts,
            **self.said,
        }
        return jwt.encode(claims, self.keys[self.signed_by], algorithm="RS256", headers={"kid": "k1"})

    def _answer(self, asked: BaseHTTPRequestHandler, value: object) -> None:
        body = json.dumps(value).encode()
        asked.send_response(200)
        asked.send_header("Content-Type", "application/json")
        asked.send_header("Content-Length", str(len(body)))
        asked.end_headers()
        asked.wfile.write(body)
