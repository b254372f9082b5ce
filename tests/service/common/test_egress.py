"""Requests to the world, straight and by a proxy."""

import threading
import unittest
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from unittest import mock

import httpx

from zarbek.service.common.egress import EgressRefused, EgressTransport, proxy_for


class Proxy(BaseHTTPRequestHandler):
    """Tells what it was asked for; refuses to open a tunnel."""

    def do_GET(self):
        body = self.path.encode()
        self.send_response(200)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def do_CONNECT(self):
        self.send_error(403)

    def log_message(self, *_):
        pass


class Proxies(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = ThreadingHTTPServer(("127.0.0.1", 0), Proxy)
        threading.Thread(target=cls.server.serve_forever, daemon=True).start()
        cls.addClassCleanup(cls.server.server_close)
        cls.addClassCleanup(cls.server.shutdown)
        address = f"http://127.0.0.1:{cls.server.server_port}"
        environment = {"http_proxy": address, "https_proxy": address, "no_proxy": "straight.halmere.example"}
        cls.enterClassContext(mock.patch.dict("os.environ", environment))

    def ask(self, url):
        with httpx.Client(transport=EgressTransport([])) as http:
            return http.get(url)

    def test_the_proxy_looks_up_what_is_not_known_here(self):
        self.assertEqual(self.ask("http://nowhere.invalid/tides").text, "http://nowhere.invalid/tides")

    def test_a_refused_tunnel_is_the_proxys_doing(self):
        with self.assertRaises(httpx.ProxyError):
            self.ask("https://nowhere.invalid/")

    def test_what_is_known_to_lie_inside_is_not_asked_by_a_proxy_either(self):
        with self.assertRaises(EgressRefused) as refused:
            self.ask("http://127.0.0.1:9/")
        self.assertTrue(refused.exception.is_known)

    def test_hosts_without_a_proxy(self):
        self.assertEqual(proxy_for(httpx.URL("https://straight.halmere.example/")), "")
        self.assertRegex(proxy_for(httpx.URL("https://other.halmere.example/")), r"^http://")


if __name__ == "__main__":
    unittest.main()
