"""What stands around a page, in a release that has more than a page would carry."""

import unittest
import uuid

from tests.support.running import running

MODULES, GUIDES = 150, 130


class Large(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, cls.slug = running(), f"nav{uuid.uuid4().hex[:6]}"
        files = {f"{cls.slug}/m{n:03}.py": f'"""Module {n}."""\n\ndef f():\n    """Does."""\n' for n in range(MODULES)}
        files |= {f"guides/g{n:03}.md": f"# Guide {n}\n" for n in range(GUIDES)}
        cls.portal.publish(files, cls.slug, "1.0")

    def navigation(self, path):
        return self.portal.http.get(f"/api/v1/projects/{self.slug}/releases/1.0/{path}").json()["navigation"]

    def test_a_page_carries_the_modules_around_its_own(self):
        found = self.navigation(f"symbols/{self.slug}.m075.f")
        modules = [c for c in found["modules"] if not c.get("depth")]
        self.assertEqual(len(modules) + found["more_modules"], MODULES)
        self.assertEqual(len(modules), 120)
        at = [c["path"] for c in modules].index(f"{self.slug}.m075")
        self.assertTrue(20 < at < 100, at)
        self.assertEqual([c["name"] for c in found["modules"] if c.get("depth")], ["f"])

    def test_at_either_end_as_many(self):
        for number in (0, MODULES - 1):
            found = self.navigation(f"symbols/{self.slug}.m{number:03}")
            modules = [c for c in found["modules"] if not c.get("depth")]
            self.assertEqual((len(modules), found["more_modules"]), (120, MODULES - 120))
            self.assertEqual([c["path"] for c in modules if c.get("current")], [f"{self.slug}.m{number:03}"])

    def test_a_guide_knows_its_neighbours_wherever_it_stands(self):
        page = self.portal.http.get(f"/api/v1/projects/{self.slug}/releases/1.0/guides/g100").json()
        self.assertEqual((page["previous"]["name"], page["following"]["name"]), ("Guide 99", "Guide 101"))
        self.assertEqual(page["navigation"]["more_guides"], GUIDES - 120)

    def test_the_contents_of_a_release_are_whole_and_those_of_all_projects_short(self):
        whole = self.portal.client.contents(self.slug)
        self.assertEqual((len(whole.modules), len(whole.guides), whole.more_modules), (MODULES, GUIDES, 0))
        (short,) = (c for c in self.portal.client.all_contents() if c.project == self.slug)
        self.assertEqual((len(short.modules), short.more_modules), (12, MODULES - 12))
        self.assertEqual((len(short.guides), short.more_guides), (12, GUIDES - 12))


if __name__ == "__main__":
    unittest.main()
