"""What a project keeps to itself: no reading of its reference answers for it, and nothing leads to it."""

import unittest
import uuid

from tests.support.running import running


class Hidden(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, cls.slug = running(), f"kept{uuid.uuid4().hex[:6]}"
        cls.files = {
            f"{cls.slug}.py": "class Gauge:\n    '''Reads. See :func:`_inner` and :meth:`Gauge.read`.'''\n"
            "    def read(self):\n        '''Read.'''\n    def _raw(self):\n        '''Raw; see :class:`Gauge`.'''\n"
            "def _inner():\n    '''Inner; see :class:`Gauge`.'''\n"
        }
        cls.portal.publish(cls.files, cls.slug, "1.0")

    def get(self, path, version="1.0"):
        return self.portal.http.get(f"/api/v1/projects/{self.slug}/releases/{version}/{path}")

    def test_its_address_answers_as_one_where_nothing_is(self):
        for kind in ("symbols", "members"):
            for name in ("_inner", "Gauge._raw"):
                with self.subTest(kind, name=name):
                    hidden, absent = (self.get(f"{kind}/{self.slug}.{n}") for n in (name, "absent"))
                    self.assertEqual(hidden.status_code, 404)
                    self.assertEqual(hidden.json()["detail"].replace(name, "absent"), absent.json()["detail"])

    def test_nothing_leads_to_it_and_no_list_names_it(self):
        page = self.get(f"symbols/{self.slug}.Gauge").json()
        self.assertIn(f"{self.slug}.Gauge.read", page["summary"] + page["body"])
        self.assertNotIn(f"/{self.slug}._inner", str(page))
        self.assertNotIn("_raw", str(page["members"]))
        self.assertEqual(
            [line for line in self.get("links").text.splitlines() if "_raw" in line.partition('"origin"')[0]], []
        )
        all_links = [line for line in self.portal.client.links(self.slug) if "_raw" in line.partition('"origin"')[0]]
        self.assertEqual(len(all_links), 1, "who maintains it has its links, too")
        asked = self.portal.http.get(f"/api/v1/projects/{self.slug}/impact?name={self.slug}.*").json()
        self.assertEqual(asked["targets"], 2, "the class and its method")
        self.assertEqual(
            self.portal.http.get(f"/api/v1/projects/{self.slug}/impact?name={self.slug}._inner").status_code, 404
        )

    def test_a_project_that_shows_it_has_it(self):
        slug = f"{self.slug}x"
        self.portal.publish({**self.files, "zarbek.toml": 'visibility = "private"\n'}, slug, "1.0")
        page = self.portal.http.get(f"/api/v1/projects/{slug}/releases/1.0/symbols/{self.slug}.Gauge").json()
        self.assertIn(f"/{self.slug}._inner", str(page))


if __name__ == "__main__":
    unittest.main()
