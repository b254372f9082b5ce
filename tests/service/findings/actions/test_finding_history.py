"""Findings through their life, and the waivers that cover them."""

import unittest
from datetime import timedelta

from tests.support.inprocess import OnTheDatabase
from zarbek.core.model.finding import Finding


def identity(text):
    return f"{ord(text):016x}"


class Case(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.utils import timezone

        from zarbek.service.common.problems import Problem
        from zarbek.service.findings import queries
        from zarbek.service.findings.actions import finding_history, waivers
        from zarbek.service.findings.models import FindingRecord, Waiver

        self.problem, self.queries, self.waivers, self.module = Problem, queries, waivers, finding_history
        self.rows, self.made = FindingRecord.objects, Waiver.objects
        self.today = timezone.now().date()
        self.sea = self.project(owner="Crew", owners={"docs/*": "Writers"})

    def finding(self, text, *, rule="dangling/symbol", severity="error", file="a.py"):
        return Finding(rule, severity, f"sea.{text}", f"{text} is gone.", file=file, line=1, text=text,
                       target=f"land/{text}", fingerprint=identity(text))  # fmt: skip

    def run_with(self, number, *findings, part="published", version="1.0"):
        history = self.module.FindingHistory(self.sea, version, number)
        compared = history.compare(findings, part=part)
        history.keep(compared, f"run {number}")
        return compared

    def noted(self, waiver):
        from zarbek.service.accounts.models import AuditEntry

        return list(AuditEntry.objects.filter(subject=f"waiver {waiver.pk}").values_list("action", flat=True))

    def judge(self, history, *texts):
        return history.judge(lambda: [self.finding(t) for t in texts], part="links", cause="another")

    def states(self):
        return {row.document["text"]: row.state for row in self.rows.filter(project=self.sea)}


class History(Case):
    def test_new_open_fixed_and_back(self):
        a, b = self.finding("a"), self.finding("b")
        self.run_with(1, a, b)
        self.assertEqual(self.states(), {"a": "new", "b": "new"})
        self.run_with(2, a)
        self.assertEqual(self.states(), {"a": "open", "b": "fixed"})
        self.run_with(3, a, b)
        self.assertEqual(self.states(), {"a": "open", "b": "back"})
        row = self.rows.get(project=self.sea, document__text="b")
        self.assertEqual((row.first_run, row.since_run, row.cause, row.fixed_at), (1, 3, "run 3", None))

    def test_a_run_done_twice_finds_what_stood_before_its_first(self):
        a, b = self.finding("a"), self.finding("b")
        self.run_with(1, a)
        self.run_with(2, b)
        again = self.run_with(2, b)
        self.assertEqual(([f.text for f in again.new], [f.text for f in again.fixed]), (["b"], ["a"]))
        self.assertEqual(self.states(), {"a": "fixed", "b": "new"})

    def test_what_another_run_mended_before_a_run_was_done_again_counts_for_both(self):
        from zarbek.core.findings.report import Counted
        from zarbek.service.findings.models import HealthPoint

        self.release(self.sea, "1.0", is_judged=True)
        note = self.finding("n", severity="note")
        for run, found in ((1, [self.finding("a"), note]), (2, []), (1, [])):  # Run 1 died before it could say so.
            history = self.module.FindingHistory(self.sea, "1.0", run)
            history.judge(lambda found=found: found, part="published", cause="x", counted=Counted())
        points = HealthPoint.objects.filter(project=self.sea).order_by("run")
        self.assertEqual([(p.run, p.open, p.new, p.fixed) for p in points], [(1, 1, 1, 0), (2, 0, 0, 1)])

    def test_what_a_run_done_again_no_longer_finds_stands_no_more(self):
        from django.db.models import Sum

        from zarbek.core.findings.report import Counted
        from zarbek.service.findings.models import HealthPoint

        self.release(self.sea, "1.0", is_judged=True)
        a, b, c = (self.finding(t) for t in "abc")
        for run, found in ((1, [a, b]), (2, [b, c]), (2, [a])):  # Another has changed what they mean meanwhile.
            history = self.module.FindingHistory(self.sea, "1.0", run)
            compared = history.judge(lambda found=found: found, part="published", cause="x", counted=Counted())
        self.assertEqual(self.states(), {"a": "open", "b": "fixed", "c": "fixed"})
        self.assertEqual(([f.text for f in compared.new], [f.text for f in compared.fixed]), ([], ["b"]))
        made = HealthPoint.objects.filter(project=self.sea).aggregate(new=Sum("new"), fixed=Sum("fixed"))
        self.assertEqual(made["new"] - made["fixed"], 1)

    def test_each_part_is_compared_with_its_own(self):
        link, url, written = (
            self.finding("a"), self.finding("u", rule="dangling/url"), self.finding("t", rule="text/unreadable", severity="note"),
        )  # fmt: skip
        self.run_with(1, link, written)
        self.run_with(0, url, part="urls")
        self.run_with(2, link, written)
        self.assertEqual(self.states(), {"a": "open", "u": "new", "t": "open"})
        self.run_with(0, part="urls")
        self.run_with(3, part="links")
        self.assertEqual(self.states(), {"a": "fixed", "u": "fixed", "t": "open"})

    def test_only_where_it_was_looked_for_something_is_mended(self):
        a, b = self.finding("a"), self.finding("b")
        self.run_with(1, a, b)
        history = self.module.FindingHistory(self.sea, "1.0", 2)
        compared = history.compare([], {("symbol", "sea.a")})
        self.assertEqual([f.text for f in compared.fixed], ["a"])

    def test_whose_turn_it_is(self):
        self.run_with(1, self.finding("a"), self.finding("b", file="docs/b.md"))
        self.assertEqual(dict(self.rows.filter(project=self.sea).values_list("document__text", "owner")),
                         {"a": "Crew", "b": "Writers"})  # fmt: skip

    def test_a_release_that_another_came_after_meanwhile_is_judged_no_more(self):
        old = self.release(self.sea, "1.0", is_judged=True)
        history = self.module.FindingHistory(self.sea, "1.0", 7)
        self.assertEqual(len(self.judge(history, "a").new), 1)
        old.is_judged = False
        old.save()
        self.assertTrue(self.judge(history, "a", "b").is_empty)
        self.assertEqual(self.states(), {"a": "new"})

    def test_a_release_whose_line_is_no_longer_that_of_the_newest_is_judged_in_its_own(self):
        from zarbek.service.catalog.models import Alias

        newest = Alias.objects.create(
            project=self.sea, name="latest", release=self.release(self.sea, "1.0", is_judged=True)
        )
        history = self.module.FindingHistory(self.sea, "1.0", 7)
        self.assertEqual(history.branch, "")
        newest.release = self.release(self.sea, "2.0", is_judged=True)
        newest.save()
        self.judge(history, "a")
        self.assertEqual(
            [(r.branch != "", r.document["text"]) for r in self.rows.filter(project=self.sea)], [(True, "a")]
        )

    def test_another_line_of_releases_has_a_history_of_its_own(self):
        from zarbek.service.catalog.models import Alias

        Alias.objects.create(project=self.sea, name="latest", release=self.release(self.sea, "2.1"))
        self.assertEqual(self.module.branch_of(self.sea, "2.0"), "")
        self.assertNotEqual(branch := self.module.branch_of(self.sea, "1.0"), "")
        self.run_with(1, self.finding("a"))
        self.run_with(2, self.finding("b"), version="2.1")
        self.assertEqual(self.states(), {"a": "new", "b": "new"})
        self.assertEqual([f.text for f in self.queries.standing(self.queries.alive(self.sea, branch))], ["a"])


class Waivers(Case):
    def waive(self, **facts):
        wanted = {"project": self.slug, "rule": "", "target": "", "file": "", "fingerprints": [], "reason": "Known.",
                  "until": self.today + timedelta(days=9), "person": "Ada", **facts}  # fmt: skip
        return self.waivers.make_waivers(**wanted)

    def covered(self):
        rows = self.rows.filter(project=self.sea).exclude(waiver=None)
        return {row.document["text"] for row in rows}

    def test_what_each_pattern_covers(self):
        self.run_with(1, self.finding("a"), self.finding("b", rule="stale/moved", severity="warning", file="docs/b.md"))
        for facts, covered in (
            ({"rule": "dangling/*"}, {"a"}), ({"rule": "stale/moved"}, {"b"}), ({"target": "land/*"}, {"a", "b"}),
            ({"file": "docs/*"}, {"b"}), ({"fingerprints": [identity("a")]}, {"a"}),
            ({"rule": "stale/moved", "file": "a.py"}, set()), ({"project": "", "target": "land/a"}, {"a"}),
        ):  # fmt: skip
            (waiver,) = self.waive(**facts)
            if waiver.project is None:  # Of the whole portal: a job sees to it.
                self.waivers.cover_again(None)
            self.assertEqual((facts, self.covered()), (facts, covered))
            self.assertEqual(self.queries.counted_waivers().get(pk=waiver.pk).covers, len(covered))
            self.waivers.end_waiver(waiver)
            if waiver.project is None:
                self.waivers.cover_again(None)
            self.assertEqual(self.covered(), set())

    def test_a_waiver_covers_what_comes_later_too(self):
        self.waive(rule="dangling/symbol")
        self.run_with(1, self.finding("a"))
        self.assertEqual(self.covered(), {"a"})

    def test_after_its_last_day_everything_counts_again(self):
        self.run_with(1, self.finding("a"))
        (waiver,) = self.waive(rule="dangling/symbol")
        self.assertNotIn(waiver.pk, [w.pk for w in self.waivers.end_past_waivers()])
        self.made.filter(pk=waiver.pk).update(until=self.today - timedelta(days=1))
        self.assertIn(waiver.pk, [w.pk for w in self.waivers.end_past_waivers()])
        self.assertEqual(self.covered(), set())
        self.assertNotIn(waiver.pk, [w.pk for w in self.waivers.end_past_waivers()], "it is told once")
        self.assertEqual(self.noted(waiver).count("waiver.over"), 1)

    def test_what_is_refused_leaves_nothing(self):
        self.run_with(1, self.finding("a"))
        for facts, words in (
            ({"rule": "dangling/symbol", "reason": " "}, "needs a reason"),
            ({"rule": "dangling/symbol", "until": self.today - timedelta(days=1)}, "is over"),
            ({"rule": "dangling/symbol", "until": self.today + timedelta(days=800)}, "two years"),
            ({}, "Say what to waive"),
            ({"rule": "dangling/nothing"}, "There is no rule dangling/nothing"),
            ({"fingerprints": ["0" * 16]}, "There is no finding 0000"),
            ({"target": "x" * 701}, "too long"),
        ):
            with self.assertRaisesRegex(self.problem, words):
                self.waive(**facts)
        self.assertEqual(self.made.filter(project=self.sea).count(), 0)


class Asking(Case):
    def test_each_filter(self):
        self.run_with(1, self.finding("a"), self.finding("b", rule="stale/moved", severity="warning", file="docs/b.md"),
                      self.finding("c", rule="text/unreadable", severity="note"))  # fmt: skip
        self.run_with(2, self.finding("a"), self.finding("b", rule="stale/moved", severity="warning", file="docs/b.md"))
        for facts, found in (
            ({}, "ab"), ({"state": "fixed"}, "c"), ({"family": "dangling"}, "a"), ({"rule": "stale/moved"}, "b"),
            ({"severity": "error"}, "a"), ({"least": "warning"}, "ab"), ({"owner": "Writers"}, "b"), ({"owner": "-"}, ""),
            ({"target": "land/a"}, "a"), ({"waived": True}, ""), ({"waived": False}, "ab"),
        ):  # fmt: skip
            rows = self.queries.find_findings(self.queries.FindingQuery(project=self.slug, **facts))
            self.assertEqual((facts, "".join(sorted(r.document["text"] for r in rows))), (facts, found))


if __name__ == "__main__":
    unittest.main()
