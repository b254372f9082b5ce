"""Which pages are made anew after a publish: those that it may have changed, and no others."""

import unittest
import uuid

from tests.support.inprocess import connected


class Epochs(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, tag = connected(), uuid.uuid4().hex[:6]
        cls.mast, cls.boat, cls.island = (f"{name}{tag}" for name in ("mast", "boat", "island"))
        cls.publish(cls.mast, "1.0")
        cls.publish(cls.boat, "1.0")
        cls.publish(cls.island, "1.0")

    @classmethod
    def publish(cls, slug, version, text=""):
        text = text or (f"See :func:`{cls.mast}.hoist`." if slug == cls.boat else "Alone.")
        cls.portal.publish({f"{slug}.py": f'"""{text}"""\n\ndef hoist():\n    """Does."""\n'}, slug, version)

    def renewed(self, publish):
        """The projects whose pages are made anew by a publish."""
        from zarbek.service.reference.page_cache import current_epochs

        slugs = (self.mast, self.boat, self.island)
        before = {slug: current_epochs(slug) for slug in slugs}
        publish()
        return {slug for slug in slugs if current_epochs(slug) != before[slug]}

    def test_of_those_that_refer_to_what_was_published_and_to_which_it_refers(self):
        self.assertEqual(self.renewed(lambda: self.publish(self.mast, "1.1")), {self.mast, self.boat})
        self.assertEqual(self.renewed(lambda: self.publish(self.boat, "1.1")), {self.mast, self.boat})
        self.assertEqual(self.renewed(lambda: self.publish(self.island, "1.1")), {self.island})

    def test_of_what_it_no_longer_refers_to(self):
        page = f"/api/v1/projects/{self.mast}/releases/latest/symbols/{self.mast}.hoist"
        self.publish(self.boat, "2.0")
        self.assertEqual(self.portal.http.get(page).json()["referrers"]["total"], 1)
        self.publish(self.boat, "2.1", "Alone now.")
        self.assertEqual(self.portal.http.get(page).json()["referrers"]["total"], 0)

    def test_of_all_where_everything_may_have_changed(self):
        from zarbek.service.publishing.actions.cache_epoch import renew_pages

        self.assertEqual(self.renewed(renew_pages), {self.mast, self.boat, self.island})


if __name__ == "__main__":
    unittest.main()
