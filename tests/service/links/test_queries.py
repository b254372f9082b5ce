"""Who refers to what, as it is kept."""

import unittest

from tests.service.content.test_queries import FILES
from tests.support.inprocess import connected


class Links(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        portal, cls.slug = connected(), "linkqueries"
        files = {name.format(s=cls.slug): text.replace("{s}", cls.slug) for name, text in FILES.items()}
        portal.publish(files, cls.slug, "1.0")
        portal.publish({"user.py": f'def go():\n    """See :class:`{cls.slug}.Boat`."""\n'}, f"{cls.slug}user", "1.0")
        from zarbek.service.catalog.queries import get_project, get_release
        from zarbek.service.links import queries
        from zarbek.service.links.own_referrers import own_referrers_of

        cls.queries, cls.own = queries, staticmethod(own_referrers_of)
        cls.project, cls.release = get_project(cls.slug), get_release(cls.slug, "1.0")

    def test_who_refers_to_a_symbol_within_and_from_elsewhere(self):
        self.assertEqual(self.queries.list_referrers(self.project, f"{self.slug}.Boat"),
                         [{"project": f"{self.slug}user", "version": "1.0", "kind": "symbol", "path": "user.go"}])  # fmt: skip
        own = [r["path"] for r in self.queries.list_referrers(self.project, f"{self.slug}.Boat.sail")]
        self.assertEqual(own, [f"{self.slug}.rafts.lash"])
        self.assertEqual(self.queries.list_referrers(self.project, f"{self.slug}.gone"), [])

    def test_texts_of_the_release_itself(self):
        self.assertEqual(self.own(self.release, [f"{self.slug}.Boat.sail"]), {("symbol", f"{self.slug}.rafts.lash")})
        self.assertEqual(self.own(self.release, []), set())

    def test_the_links_of_one_text(self):
        link_map = self.queries.get_link_map(self.release)
        (link, *_) = (
            x
            for x in self.queries.links_of_text(self.release, link_map, "symbol", f"{self.slug}.rafts.lash")
            if x.path.endswith("sail")
        )
        self.assertEqual((link.outcome, link.project, link.path), ("linked", self.slug, f"{self.slug}.Boat.sail"))
        (picture,) = self.queries.links_of_text(self.release, link_map, "page", "index")
        self.assertEqual((picture.outcome, picture.kind, picture.path), ("linked", "asset", "guides/boat.png"))

    def test_every_text_that_mentions_something(self):
        found = {text.path: len(links) == len(text.mentions) for text, links in self.queries.iter_links(self.release)}
        self.assertEqual(found.get(f"{self.slug}.rafts.lash"), True)
        self.assertEqual(set(found.values()), {True})


if __name__ == "__main__":
    unittest.main()
