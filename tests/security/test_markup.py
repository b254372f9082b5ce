"""Hostile text in every field of everything that is shown: nothing runs, nothing is asked for, nothing moves."""

import tempfile
import threading
import time
import unittest
import uuid
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from urllib.parse import quote

from tests.support.browsing import NUMERIC_HOST, Browsing
from tests.support.hostile import ASSETS, KINDS, hostile_bundle, payloads

#: What a page may have asked for when it is drawn, and which elements it may never have.
WATCH = """
return {pwned: window.pwned, here: location.href, frames: window.length,
  asked: performance.getEntriesByType('resource').map(e => e.name),
  bad: [...document.querySelectorAll('script,iframe,object,embed,base,meta[http-equiv],form[action],link,style')].map(e => e.outerHTML)
    .filter(h => !h.includes('/static/')),
  handlers: [...document.querySelectorAll('*')].flatMap(e => [...e.attributes]).filter(a => a.name.startsWith('on')).length,
  schemes: [...document.querySelectorAll('[href],[src],[action],[xlink\\\\:href]')].map(e => e.href || e.src || e.action)
    .filter(u => /^(javascript|data|vbscript|blob)/i.test(u))}
"""


class Collector:
    """Takes down whatever is asked of it."""

    def __init__(self) -> None:
        self.asked: list[str] = []
        collector = self

        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                collector.asked.append(self.path)
                self.send_response(204)
                self.end_headers()

            do_POST = do_GET  # noqa: N815

            def log_message(self, *_: object) -> None:
                return

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.server.server_port}"


class Markup(Browsing):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.collector = Collector()
        cls.addClassCleanup(cls.collector.server.server_close)
        cls.addClassCleanup(cls.collector.server.shutdown)
        cls.slug = f"xss{uuid.uuid4().hex[:6]}"
        cls.texts = payloads(cls.slug, cls.collector.url)
        with tempfile.TemporaryDirectory() as folder:
            for version, texts in (("1.0", cls.texts[::-1]), ("1.1", cls.texts)):
                run = cls.portal.client.publish(hostile_bundle(Path(folder), cls.slug, version, texts))
                cls.published = cls.portal.wait(run)
            cls.version = '"><img><script>window.pwned=1;'
            odd = hostile_bundle(Path(folder), cls.slug, "1.2", cls.texts)
            cls.portal.wait(cls.portal.client.publish(odd, version=cls.version, preview=True))
        for text in cls.texts[:12]:
            cls.portal.api("POST", "/tokens", json={"name": text[:100]})
        cls.portal.api("POST", "/waivers", json={"project": cls.slug, "rule": "dangling/*", "reason": cls.texts[0],
                                              "until": str(date.today() + timedelta(days=9))})  # fmt: skip

    def test_there_are_a_hundred_payloads_and_the_release_is_published(self):
        self.assertGreaterEqual(len(self.texts), 100)
        self.assertEqual((self.published.state, self.published.problem), ("done", ""))

    def test_no_page_runs_loads_or_moves_anything(self):
        slug = self.slug
        self._sign_in()
        pages = [
            *(f"/ref/{slug}/{v}/m{'.' + kind.replace(' ', '_') if kind != 'module' else ''}" for v in ("1.0", "1.1") for kind in KINDS),
            *(f"/{page}/{slug}/{quote(self.version, safe='')}/{name}" for page, name in (("ref", "m"), ("ref", "m.class"), ("guide", "index"))),
            f"/guide/{slug}/1.1/index", f"/guide/{slug}/1.0/index", "/", "/projects", f"/projects/{slug}", f"/projects/{slug}/compare",
            f"/projects/{slug}/impact?name=m", f"/reports/{self.published.id}", "/reports", f"/runs/{self.published.id}", "/health",
            "/findings", f"/findings?project={slug}&by=rule", f"/findings?project={slug}&by=owner", f"/findings?waived=true&project={slug}",
            "/reference", "/search?q=script", f"/search?q={quote(self.texts[0])}", f"/ref/{slug}/1.1/{quote(self.texts[0], safe='')}",
            f"/projects/{quote(self.texts[12], safe='')}", f"/findings?project={quote(self.texts[40])}&rule={quote(self.texts[41])}", "/sign-in",
        ]  # fmt: skip
        for page in pages:
            with self.subTest(page):
                self.browser.get(self.portal.url + page)
                self.wait("main h1, main .sentence")
                time.sleep(0.05)
                seen = self.browser.execute_script(WATCH)
                self.assertIsNone(seen["pwned"])
                self.assertEqual(seen["here"].split("?")[0].split("#")[0].startswith(self.portal.url), True)
                self.assertEqual(seen["frames"], 0)
                self.assertEqual((seen["bad"], seen["handlers"], seen["schemes"]), ([], 0, []))
                foreign = [
                    u
                    for u in seen["asked"]
                    if not u.startswith((f"{self.portal.url}/static/", f"{self.portal.url}/api/v1/"))
                ]
                self.assertEqual([u for u in foreign if not u.startswith("data:")], [])
        self.assertEqual(self.collector.asked, [])
        names = {t["name"] for t in self.portal.api("GET", "/tokens").json()}
        self.assertNotIn("pwned", names)

    def _sign_in(self):
        """As whoever has most to lose."""
        self.open("/sign-in", "#user").send_keys("admin")
        password = (self.portal.home / "home" / "admin-password").read_text().strip()
        self.browser.find_element("id", "password").send_keys(password + "\n")
        self.wait_text("Sign out")

    def test_files_of_a_release_are_pictures_or_bytes_to_keep(self):
        for name in ASSETS:
            with self.subTest(name):
                answer = self.portal.http.get(f"/api/v1/assets/{self.slug}/1.1/{name}")
                self.assertEqual(answer.status_code, 200)
                kind = answer.headers["Content-Type"]
                self.assertIn(kind, ("application/octet-stream", "image/png", "image/svg+xml"))
                self.assertEqual(answer.headers["X-Content-Type-Options"], "nosniff")
                self.assertIn("sandbox", answer.headers["Content-Security-Policy"])
                if kind != "image/png":
                    self.assertRegex(answer.headers["Content-Disposition"], r"^attachment\b")

    def test_a_file_of_a_release_opened_by_itself_runs_nothing(self):
        for name in ("pwn.svg", "pwn.html", "pwn.js"):
            self.browser.get(f"{self.portal.url}/api/v1/assets/{self.slug}/1.1/{name}")
            self.assertIsNone(self.browser.execute_script("return window.pwned"))
        self.assertEqual(self.collector.asked, [])

    def test_the_policy_names_the_consoles_own_files(self):
        policy = self.portal.http.get("/").headers["Content-Security-Policy"]
        parts = dict(p.partition(" ")[::2] for p in policy.split("; "))
        for directive, suffix in (("script-src", ".js"), ("style-src", ".css")):
            sources = parts[directive].split()
            self.assertEqual({("/static/" in s, s.endswith(suffix)) for s in sources}, {(True, True)})
        self.assertEqual((parts["default-src"], parts["base-uri"], parts["frame-ancestors"]), ("'none'",) * 3)

    def test_under_a_numeric_address_each_page_has_a_nonce_of_its_own(self):
        policies = [self.portal.http.get("/", headers={"Host": NUMERIC_HOST}) for _ in range(2)]
        nonces = set()
        for answer in policies:
            policy = answer.headers["Content-Security-Policy"]
            parts = dict(p.partition(" ")[::2] for p in policy.split("; "))
            self.assertEqual(parts["script-src"], parts["style-src"])
            self.assertIn(parts["script-src"].removeprefix("'nonce-").removesuffix("'"), answer.text)
            nonces.add(parts["script-src"])
        self.assertEqual(len(nonces), 2)

    def test_a_script_of_another_address_of_this_host_is_not_run(self):
        for host in ("127.0.0.1", NUMERIC_HOST):
            with self.subTest(host):
                self.browser.get(self.portal.url.replace("127.0.0.1", host) + "/")
                self.assertTrue(self.wait("main").is_displayed())
                self.browser.execute_script(
                    "try { const s = document.createElement('script');"
                    f"s.src = '/api/v1/assets/{self.slug}/1.1/pwn.js'; document.head.append(s) }} catch (e) {{}}"
                )
                time.sleep(0.3)
                self.assertIsNone(self.browser.execute_script("return window.pwned"))

    def test_pages_are_whole_under_a_numeric_address(self):
        """Styles and scripts that a page asks for later are let in too."""
        self.browser.get_log("browser")
        for path in ("/", "/projects", f"/ref/{self.slug}/1.1", "/search?q=a", f"/projects/{self.slug}"):
            self.browser.get(self.portal.url.replace("127.0.0.1", NUMERIC_HOST) + path)
            self.wait("main h1, main h2, main p")
        refused = [e["message"] for e in self.browser.get_log("browser") if "Content Security" in e["message"]]
        self.assertEqual(refused, [])


if __name__ == "__main__":
    unittest.main()
