"""Which project refers to which: as publishes have kept it, whatever there is."""

import unittest

from tests.support.inprocess import OnTheDatabase


class Map(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.service.catalog.models import Alias
        from zarbek.service.findings.trends import list_edges

        self.edges, self.aliases = list_edges, Alias.objects

    def latest(self, slug, edges, choices=None):
        project = self.project(slug)
        release = self.release(project, "1.0", edges=edges, choices=choices or {})
        self.aliases.create(project=project, name="latest", release=release)
        return project

    def own(self):
        return [e for e in self.edges() if e.source.startswith(self.slug)]

    def test_one_query_tells_every_edge_of_the_newest_releases(self):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        sea, land = f"{self.slug}a", f"{self.slug}b"
        self.latest(sea, {land: [5, 1, 2], "gone": [1, 1, 0]}, {land: "1.0"})
        self.latest(land, {})
        self.release(self.project(f"{self.slug}c"), "0.9", edges={sea: [9, 9, 9]})  # Not the newest of anything.
        with CaptureQueriesContext(connection) as asked:
            found = self.own()
        self.assertEqual(len(asked), 1)
        self.assertEqual(
            [(e.source, e.target, e.version, e.total, e.dangling, e.stale) for e in found],
            [(sea, land, "1.0", 5, 1, 2), (sea, "gone", "", 1, 1, 0)] if land < "gone" else
            [(sea, "gone", "", 1, 1, 0), (sea, land, "1.0", 5, 1, 2)],
        )  # fmt: skip

    def test_nothing_leads_to_what_is_kept_from_the_asker(self):
        from zarbek.service.common.asker import Asker, asking

        sea, land = f"{self.slug}a", f"{self.slug}b"
        self.latest(sea, {land: [5, 1, 2]})
        project = self.latest(land, {sea: [1, 0, 0]})
        project.visibility = "teams"
        project.save()
        with asking(Asker()):
            self.assertEqual(self.own(), [])


if __name__ == "__main__":
    unittest.main()
