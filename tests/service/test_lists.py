"""Every list of the API: how many queries a page costs, and that pages hold together while rows come and go."""

import json
import unittest
import uuid
from urllib.parse import urlencode

from tests.support.inprocess import connected
from tests.support.waiting import until

#: Queries for a page of a list, however long it is, beside asking whose the token is. A list that is new has to be named here.
QUERIES = {
    "/api/v1/projects": 4,
    "/api/v1/projects/{slug}/releases": 3,
    "/api/v1/projects/{slug}/releases/{version}/operations": 2,
    "/api/v1/projects/{slug}/releases/{version}/symbols": 2,
    "/api/v1/projects/{slug}/releases/{version}/files": 2,
    "/api/v1/projects/{slug}/written": 2,
    "/api/v1/projects/{slug}/releases/{version}/members/{path}": 7,
    "/api/v1/runs": 2,
    "/api/v1/contents": 2,
    "/api/v1/findings": 2,
    "/api/v1/waivers": 2,
    "/api/v1/names": 2,
    "/api/v1/people": 3,
    "/api/v1/audit": 2,
    "/api/v1/webhooks/{webhook_id}/deliveries": 2,
}


class Lists(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = connected()
        cls.slug = f"list{uuid.uuid4().hex[:6]}"
        lines = "\n".join(
            f"    def m{i}(self):\n        '''See api:nowhere{i}.thing and `{cls.slug}.gone{i}`.'''" for i in range(6)
        )
        files = {f"{cls.slug}.py": f"class Thing:\n    '''A thing.'''\n{lines}\n", "zarbek.toml": 'owner = "Crew"\n'}
        for version in ("1.0", "1.1", "1.2"):
            cls.portal.publish({**files, "extra.py": f"V = '{version}'\n"}, cls.slug, version)
        cls.portal.publish({"other.py": "X = 1\n"}, f"{cls.slug}b", "1.0")
        client = cls.portal.client
        cls.hook = client.add_webhook(f"{cls.portal.world.url}/hook", cls.slug).id
        for day in ("2027-01-01", "2027-02-01"):
            client.waive(reason="Known", until=day, project=cls.slug, target=f"{cls.slug}/{day}")
        cls.portal.publish({**files, "extra.py": "V = 'x'\n"}, cls.slug, "1.3")
        cls.portal.publish({**files, "extra.py": "V = 'y'\n"}, cls.slug, "1.4")

    def call(self, address, **params):
        from django.db import connection
        from django.test import Client
        from django.test.utils import CaptureQueriesContext

        with CaptureQueriesContext(connection) as asked:
            answer = Client(SERVER_NAME="127.0.0.1").get(
                address, params, headers={"Authorization": f"Bearer {self.portal.token}"}
            )
        self.assertEqual(answer.status_code, 200, answer.content)
        return json.loads(answer.content), [
            q["sql"] for q in asked.captured_queries if "accounts_token" not in q["sql"]
        ]

    def address(self, template):
        return template.format(slug=self.slug, version="1.4", path=f"{self.slug}.Thing", webhook_id=self.hook)

    def test_every_list_of_the_description_is_named(self):
        described = self.portal.http.get("/api/v1/openapi.json").json()["paths"]
        paged = {
            p
            for p, o in described.items()
            if any(x["name"] == "cursor" for x in o.get("get", {}).get("parameters", []))
        }
        self.assertEqual(paged, set(QUERIES))

    def test_a_page_costs_as_many_queries_however_long_it_is(self):
        for template, most in QUERIES.items():
            self.call(self.address(template), limit=499)  # What is kept after a first reading is kept.
            for limit in (1, 2, 500):
                with self.subTest(template, limit=limit):
                    _, asked = self.call(self.address(template), limit=limit)
                    self.assertEqual(len(asked), most, asked)

    def test_pages_of_one_hold_what_one_page_holds(self):
        sent = next(template for template in QUERIES if template.endswith("/deliveries"))
        until(lambda: all(d["state"] != "waiting" for d in self.call(self.address(sent), limit=500)[0]["items"]))
        for template in QUERIES:
            with self.subTest(template):
                # What is done anywhere is noted, and all tests publish: only what was done here is few and stands still.
                where = {"project": self.slug} if template.endswith(("/audit", "/runs", "/findings")) else {}
                whole, _ = self.call(self.address(template), limit=500, **where)
                parts, following = [], f"{self.address(template)}?{urlencode({'limit': 1, **where})}"
                while following and len(parts) <= len(whole["items"]):
                    page, _ = self.call(following)
                    parts += page["items"]
                    following = page["next"]
                self.assertEqual(parts, whole["items"])


if __name__ == "__main__":
    unittest.main()
