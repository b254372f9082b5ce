"""The HTTP API, raw: problems, pages, entity tags, tokens, its own description."""

import io
import unittest
import uuid
import zipfile

from openapi_spec_validator import OpenAPIV31SpecValidator

from tests.support.running import running
from zarbek.client import Portal, PortalProblem


class Problems(unittest.TestCase):
    def check(self, response, status, code):
        self.assertEqual((response.status_code, response.headers["content-type"]), (status, "application/problem+json"))
        body = response.json()
        self.assertEqual((body["status"], body["code"]), (status, code))
        self.assertRegex(body["detail"], r"\w+ \w+")

    def test_every_error_is_a_problem(self):
        portal = running()
        http, mine = portal.http, {"Authorization": f"Bearer {portal.token}"}
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("manifest.json", '{"format": 1, "project": "bomb", "version": "1"}')
            archive.writestr("symbols.jsonl", b" " * 40_000_000)
        zipped = {**mine, "Content-Type": "application/zip"}
        before = {p.slug for p in portal.client.projects()}
        self.check(http.get("/api/v1/nothing"), 404, "not-found")
        self.check(http.get("/api/v1/projects/absent"), 404, "not-found")
        self.check(http.post("/api/v1/projects"), 405, "method-not-allowed")
        self.check(http.get("/api/v1/projects?limit=0"), 400, "bad-request")
        self.check(http.get("/api/v1/projects?cursor=zzz"), 400, "bad-request")
        self.check(http.get("/api/v1/search?q=" + "x" * 500), 400, "bad-request")
        self.check(
            http.post("/api/v1/runs", content=b"x", headers={"Content-Type": "application/zip"}), 401, "unauthorized"
        )
        self.check(
            http.post("/api/v1/runs", content=b"x", headers={"Authorization": "Bearer nope"}), 401, "unauthorized"
        )
        self.check(http.post("/api/v1/runs", content=b"no zip", headers=zipped), 422, "refused")
        self.check(http.post("/api/v1/runs", content=bomb.getvalue(), headers=zipped), 422, "refused")
        self.check(http.post("/api/v1/runs", json={}, headers=mine), 415, "unsupported-media-type")
        self.check(http.post("/api/v1/tokens", json={"name": 3}, headers=mine), 400, "bad-request")
        self.assertEqual({p.slug for p in portal.client.projects()}, before)


class Reading(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.slug = f"read{uuid.uuid4().hex[:6]}"
        cls.portal.publish({
            f"{cls.slug}/__init__.py": f'from {cls.slug}.core import Thing\n__all__ = ["Thing"]\n',
            f"{cls.slug}/core.py": 'class Thing:\n    """A thing. <script>alert(1)</script>"""\n    def go(self, far: int = 1):\n        """Go."""\n',
            "docs/index.md": "# Hello\n\n[thing](api:" + cls.slug + ".Thing)\n",
        }, cls.slug, "1.0")  # fmt: skip

    def test_entity_tags_and_caching(self):
        address = f"/api/v1/projects/{self.slug}/releases/1.0/manifest"
        first = self.portal.http.get(address)
        again = self.portal.http.get(address, headers={"If-None-Match": first.headers["ETag"]})
        self.assertIn("immutable", first.headers["Cache-Control"])
        self.assertEqual((again.status_code, again.content), (304, b""))
        moving = self.portal.http.get(f"/api/v1/projects/{self.slug}/releases/latest/manifest")
        self.assertEqual(moving.headers["Cache-Control"], "no-cache")

    def test_pages_by_cursor_hold_everything_once(self):
        address = f"/api/v1/projects/{self.slug}/releases/latest/symbols?limit=2"
        paths = []
        while address:
            page = self.portal.http.get(address).json()
            paths += [row["path"] for row in page["items"]]
            address = page["next"]
        self.assertEqual(paths, [self.slug, f"{self.slug}.Thing", f"{self.slug}.Thing.go", f"{self.slug}.core"])

    def test_a_symbol_by_any_of_its_names(self):
        for name in ("Thing", "core.Thing"):
            page = self.portal.client.symbol(self.slug, f"{self.slug}.{name}")
            self.assertEqual(page.path, f"{self.slug}.Thing")
        self.assertEqual(page.names, [])
        self.assertNotIn("<script", page.summary + page.body)
        self.assertEqual([m.name for m in page.members], ["go"])
        defining = self.portal.client.symbol(self.slug, f"{self.slug}.core")
        self.assertEqual([m.path for m in defining.members], [f"{self.slug}.Thing"])

    def test_links_are_lines_of_the_agreed_shape(self):
        import json

        (row,) = [
            json.loads(line) for line in self.portal.client.links(self.slug) if "page" in json.loads(line)["from"]
        ]
        self.assertEqual(row["from"], {"project": self.slug, "version": "1.0", "page": "index", "field": "doc"})
        self.assertEqual(
            (row["origin"], row["file"], row["line"], row["outcome"]), ("link", "docs/index.md", 3, "linked")
        )
        self.assertEqual(row["target"]["symbol"], f"{self.slug}.Thing")
        self.assertEqual(row["target"]["names"], [f"{self.slug}.core.Thing"])
        self.assertEqual(set(row), {"from", "origin", "text", "file", "line", "column", "outcome", "target", "stale"})

    def test_search_finds_names_parts_typos_and_words(self):
        for query in (
            f"{self.slug}.core.Thing",
            "thin",
            "Thnig project:" + self.slug,
            "go kind:method project:" + self.slug,
        ):
            with self.subTest(query):
                hits = self.portal.client.search(query, project=self.slug)
                self.assertIn(hits[0].name, ("Thing", "go", "core", self.slug))
        for name in ("core.Thing", "core.Thing.go"):  # By where it is defined, which is not where it is shown.
            (hit, *_) = self.portal.client.search(f"{self.slug}.{name}", project=self.slug)
            self.assertEqual(hit.path, f"{self.slug}.{name.removeprefix('core.')}")
        self.assertEqual(self.portal.client.search("Thing", project=self.slug)[0].path, f"{self.slug}.Thing")
        self.assertEqual(self.portal.client.search("Hello", kind="guide", project=self.slug)[0].kind, "guide")
        for odd in ("std::vector", "/users/{id}", '"', "AND OR", "*", "a\\"):
            self.portal.client.search(odd)

    def test_the_console_page_has_a_strict_policy(self):
        response = self.portal.http.get(f"/ref/{self.slug}/1.0/anything")
        self.assertEqual(response.status_code, 200)
        policy = response.headers["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("unsafe", policy)


class Tokens(unittest.TestCase):
    def test_a_projects_token_publishes_that_project_only(self):
        portal = running()
        slug = f"tok{uuid.uuid4().hex[:6]}"
        token = portal.client.create_token("build", project=slug, days=1)
        self.assertEqual(portal.client.tokens()[0].text, "")
        bundle = portal.bundle({f"{slug}/__init__.py": ""}, slug, "1.0")
        code, _, err = portal.command("publish", str(bundle), token=token.text)
        self.assertEqual((code, err), (0, ""))
        code, _, err = portal.command("publish", str(bundle), "--project", "other", token=token.text)
        self.assertEqual(code, 3)
        self.assertIn(f"may change {slug} only", err)
        code, _, err = portal.command("tokens", token=token.text)
        self.assertEqual((code, "was made to publish only" in err), (3, True))
        portal.client.revoke_token(token.id)
        code, _, err = portal.command("publish", str(bundle), token=token.text)
        self.assertEqual((code, "not known" in err), (3, True))

    def test_a_projects_token_makes_tokens_for_that_project_only(self):
        portal = running()
        slug = f"tok{uuid.uuid4().hex[:6]}"
        portal.publish({f"{slug}.py": ""}, slug, "1.0")
        own = Portal(portal.url, portal.client.create_token("team", project=slug, scope="manage").text)
        self.assertEqual(own.create_token("build", project=slug, scope="publish").project, slug)
        with self.assertRaisesRegex(PortalProblem, f"makes tokens for {slug} alone"):
            own.create_token("more")
        with self.assertRaisesRegex(PortalProblem, f"may change {slug} only"):
            own.create_token("others", project=f"{slug}b")


class OwnDescription(unittest.TestCase):
    def test_it_is_valid_openapi_and_names_every_address(self):
        description = running().http.get("/api/v1/openapi.json").json()
        OpenAPIV31SpecValidator(description).validate()
        self.assertEqual(description["openapi"], "3.1.1")
        self.assertIn("/api/v1/projects/{slug}/releases/{version}/links", description["paths"])
        ids = [op["operationId"] for path in description["paths"].values() for op in path.values()]
        self.assertEqual(len(ids), len(set(ids)))


class Health(unittest.TestCase):
    def test_checks_tell_what_they_checked(self):
        http = running().http
        self.assertEqual(http.get("/health/live").json(), {"status": "live"})
        ready = http.get("/health/ready").json()
        self.assertEqual(set(ready["checks"]), {"database", "queue", "index", "disk", "stuck runs"})
        self.assertEqual([name for name, check in ready["checks"].items() if not check["ok"]], [])


if __name__ == "__main__":
    unittest.main()
