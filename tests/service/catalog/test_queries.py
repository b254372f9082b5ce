"""Finding projects and releases."""

import unittest

from tests.support.inprocess import OnTheDatabase


class Queries(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.service.catalog import queries
        from zarbek.service.catalog.models import Alias, NameClaim
        from zarbek.service.common.problems import NotFound

        self.queries, self.not_found = queries, NotFound
        self.aliases, self.claims = Alias.objects, NameClaim.objects
        self.sea = self.project()

    def fill(self):
        made = {v: self.release(self.sea, v) for v in ("1.9.0", "1.10.0", "2.0.0rc1", "0.1")}
        made["main"] = self.release(self.sea, "main", is_preview=True)
        made["3.0.0"] = self.release(self.sea, "3.0.0", live=False)
        made["2.5.0"] = self.release(self.sea, "2.5.0", held_for="One error.")
        return made

    def test_releases_stand_newest_first_and_previews_last(self):
        self.fill()
        found = [r.version for r in self.queries.list_releases(self.sea)]
        self.assertEqual(found, ["2.5.0", "2.0.0rc1", "1.10.0", "1.9.0", "0.1", "main"])
        self.assertEqual(self.queries.live_versions(self.slug), set(found))
        choosable = [r.version for r in self.queries.list_choosable(self.sea)]
        self.assertEqual(choosable, ["2.0.0rc1", "1.10.0", "1.9.0", "0.1"])

    def test_a_release_by_version_alias_range_or_nothing(self):
        made = self.fill()
        self.aliases.create(project=self.sea, name="latest", release=made["1.10.0"])
        for asked, version in (
            ("1.9.0", "1.9.0"), ("latest", "1.10.0"), ("", "1.10.0"), (">=1,<2", "1.10.0"), ("<1", "0.1"), ("main", "main"),
        ):  # fmt: skip
            self.assertEqual((asked, self.queries.get_release(self.slug, asked).version), (asked, version))
        for asked in ("3.0.0", "stable", ">=9", "no version at all", "²"):
            self.assertIsNone(self.queries.find_release(self.sea, asked), asked)

    def test_what_is_not_there_says_what_is(self):
        self.release(self.sea, "1.0")
        with self.assertRaisesRegex(self.not_found, f"{self.slug} has no release 9. Published: 1.0."):
            self.queries.get_release(self.slug, "9")
        with self.assertRaisesRegex(self.not_found, "There is no project nowhere"):
            self.queries.get_release("nowhere", "")
        self.assertEqual((self.queries.has_project(self.slug), self.queries.has_project("nowhere")), (True, False))

    def test_a_name_is_contested_until_somebody_has_decided_about_all(self):
        land = self.project(f"{self.slug}b")
        name = f"python:{self.slug}"
        first = self.claims.create(project=self.sea, name=name, held=name)
        self.assertEqual(self.queries.contested_names([name]), [])
        second = self.claims.create(project=land, name=name)
        self.assertEqual(self.queries.contested_names([name]), [name])
        self.assertEqual([c.project.slug for c in self.queries.claims_of(land.slug, contested=True)], [land.slug])
        self.claims.filter(pk__in=[first.pk, second.pk]).update(decided_by="admin")
        self.assertEqual(self.queries.contested_names([name]), [])

    def test_projects_with_their_releases_are_two_queries_for_all(self):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        self.fill()
        projects = [self.sea, *(self.project(f"{self.slug}{n}") for n in range(3))]
        rows = type(self.sea).objects.filter(pk__in=[p.pk for p in projects])
        with CaptureQueriesContext(
            connection,
        ) as captured:
            found = {p.slug: len(p.live) + len(p.aliases.all()) for p in self.queries.with_releases(rows)}
        self.assertEqual((found[self.slug], len(found), len(captured)), (6, 4, 3))


if __name__ == "__main__":
    unittest.main()
