"""How things stand over the days, from the points that runs leave."""

import unittest
from datetime import UTC, datetime, timedelta
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.inprocess import OnTheDatabase

NOON = datetime(2031, 5, 20, 12, tzinfo=UTC)
#: Days back, hour, project, run, dangling, new and fixed: some runs are done a second time.
RUNS = st.lists(
    st.tuples(st.integers(0, 12), st.integers(0, 11), st.integers(0, 2), st.integers(1, 6), st.integers(0, 9),
              st.integers(0, 3), st.integers(0, 3)), min_size=1, max_size=25,
)  # fmt: skip


class Case(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from zarbek.core.findings.report import Counted
        from zarbek.service.findings import trends
        from zarbek.service.findings.actions import health_points
        from zarbek.service.findings.models import HealthDay, HealthPoint

        self.counted, self.trends, self.points = Counted, trends, health_points
        self.days_kept, self.points_kept = HealthDay.objects, HealthPoint.objects

    def keep(self, project, run, at, dangling, new=0, fixed=0):
        with mock.patch.object(self.points.timezone, "now", return_value=at):
            counted = mock.Mock(spec=self.counted, total=10, dangling=dangling, stale=0)
            self.points.keep_point(project, run, counted, new, fixed)

    def trend(self, *args, **wanted):
        with mock.patch.object(self.trends.timezone, "now", return_value=NOON):
            return self.trends.list_trend(*args, **wanted)


class Trend(Case):
    def test_a_project_without_a_run_has_no_trend(self):
        self.assertEqual(self.trend(30, project=self.project().slug), [])

    def test_a_young_project_has_a_point_for_each_run(self):
        sea = self.project()
        for run in (1, 2):
            self.keep(sea, run, NOON - timedelta(hours=3 - run), run, new=1)
        self.assertEqual([(p.dangling, p.new) for p in self.trend(30, project=sea.slug)], [(1, 1), (2, 1)])
        (day,) = self.trend(30, project=sea.slug, is_by_day=True)
        self.assertEqual((day.at, day.dangling, day.new), (NOON, 2, 2))

    def test_what_no_run_brought_about_is_a_point_of_its_own(self):
        sea = self.project()
        for hour, fixed in ((3, 2), (2, 1)):
            self.keep(sea, 0, NOON - timedelta(hours=hour), 1, fixed=fixed)
        self.keep(sea, 5, NOON - timedelta(hours=1), 1, new=4)
        self.assertEqual([(p.run, p.new, p.fixed) for p in self.trends.list_points(sea)],
                         [(0, 0, 2), (0, 0, 1), (5, 4, 0)])  # fmt: skip

    def test_days_go_on_with_what_was_last_known_before_them(self):
        sea = self.project()
        self.keep(sea, 1, NOON - timedelta(days=40), 7, new=7)
        found = self.trend(3, project=sea.slug)
        self.assertEqual([(p.dangling, p.new) for p in found], [(7, 0)] * 4)

    def test_what_comes_after_a_run_counts_on_its_day(self):
        sea = self.project()
        self.keep(sea, 1, NOON - timedelta(days=9), 7, new=1)
        self.points.add_point(sea, 2, 5)
        self.assertEqual([(d.new, d.fixed) for d in self.days_kept.filter(project=sea)], [(3, 5)])


class Days(Case):
    def setUp(self):
        super().setUp()
        self.projects = [self.project(f"{self.slug}{n}") for n in range(3)]

    @settings(max_examples=15, deadline=None)
    @given(RUNS)
    def test_days_say_what_the_points_say(self, runs):
        self.days_kept.all().delete()
        self.points_kept.all().delete()
        for back, hour, number, run, dangling, new, fixed in sorted(runs, reverse=True):
            self.keep(self.projects[number], run, NOON - timedelta(days=back, hours=hour), dangling, new, fixed)
        points = list(self.points_kept.order_by("at", "pk"))
        expected = []
        for back in range(12, -1, -1):
            day = (NOON - timedelta(days=back)).date()
            if day < points[0].at.date():
                continue
            last = {p.project_id: p.dangling for p in points if p.at.date() <= day}
            came = [p for p in points if p.at.date() == day]
            expected.append((day, sum(last.values()), sum(p.new for p in came), sum(p.fixed for p in came)))
        found = self.trend(12, is_by_day=True)
        self.assertEqual([(p.at.date(), p.dangling, p.new, p.fixed) for p in found], expected)


class Groups(Case):
    def setUp(self):
        super().setUp()
        from zarbek.service.findings import queries
        from zarbek.service.findings.models import FindingRecord

        self.queries, self.records = queries, FindingRecord.objects
        self.sea, self.land = self.project(), self.project(f"{self.slug}b")

    def finding(self, project, number, target, *, state="open", rule="dangling/reference", suggestion="", owner=""):
        document = {"target": target, "message": f"message {number}", "suggestion": suggestion}
        moment = NOON + timedelta(days=number)
        return self.records.create(
            project=project, fingerprint=f"{number:016}", rule=rule, state=state, severity="error", version="1.0",
            owner=owner, target=target, document=document, first_run=1, last_run=1, first_seen_at=moment,
        )  # fmt: skip

    def groups(self, by, **asked):
        rows = self.queries.find_findings(self.queries.FindingQuery(**asked))
        return self.queries.group_findings(rows.filter(project__in=[self.sea, self.land]), by)

    def test_by_target_the_largest_first(self):
        first = self.finding(self.sea, 3, "api/gone", suggestion="api.there")
        self.finding(self.land, 1, "api/gone", suggestion="api.there", state="new", rule="stale/removed")
        self.finding(self.sea, 4, "api/Gone", suggestion="api.a")
        self.finding(self.sea, 5, "api/Gone", suggestion="api.A")
        self.finding(self.sea, 6, "api/gone", state="fixed")
        self.finding(self.sea, 7, "api/other")
        upper, lower, other = self.groups("target")
        self.assertEqual((upper.key, upper.count, upper.suggestions), ("api/Gone", 2, {"api.a", "api.A"}))
        self.assertEqual((lower.key, lower.count, lower.new, lower.first), ("api/gone", 2, 1, first.pk))
        self.assertEqual((lower.projects, lower.rules), ({self.sea.slug, self.land.slug},
                                                         {"dangling/reference", "stale/removed"}))  # fmt: skip
        self.assertEqual((lower.oldest, lower.suggestions), (NOON + timedelta(days=1), {"api.there"}))
        self.assertEqual((other.key, other.suggestions), ("api/other", {""}))

    def test_by_owner_and_by_rule(self):
        self.finding(self.sea, 1, "a/b", owner="Crew")
        self.finding(self.sea, 2, "a/c", rule="stale/removed")
        self.assertEqual([(g.key, g.count) for g in self.groups("owner")], [("", 1), ("Crew", 1)])
        self.assertEqual([g.key for g in self.groups("rule")], ["dangling/reference", "stale/removed"])
        self.assertEqual([g.key for g in self.groups("rule", target="a/c")], ["stale/removed"])
        self.assertEqual([(g.key, g.count) for g in self.groups("project")], [(self.sea.slug, 2)])

    def test_as_many_queries_however_many_there_are(self):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        for number in range(20):
            self.finding(self.sea, number, f"a/{number}")
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(len(self.groups("target")), 20)
        self.assertLessEqual(len(asked), 2)


if __name__ == "__main__":
    unittest.main()
