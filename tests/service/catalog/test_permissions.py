"""Who may read and change which project."""

import unittest
from contextlib import contextmanager

from tests.support.inprocess import OnTheDatabase


class Case(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.contrib.auth.models import User

        from zarbek.service.accounts.models import Team
        from zarbek.service.catalog import permissions, visibility
        from zarbek.service.catalog.actions import members
        from zarbek.service.catalog.models import Project
        from zarbek.service.common.asker import Asker, asking
        from zarbek.service.common.problems import Problem

        self.permissions, self.visibility, self.members = permissions, visibility, members
        self.projects, self.asker, self._asking, self.problem = Project, Asker, asking, Problem
        self.ada, self.ben, self.eve = (User.objects.create(username=f"{n}-{self.slug}") for n in ("ada", "ben", "eve"))
        self.crew = Team.objects.create(name=f"crew-{self.slug}")
        self.crew.users.add(self.ben)
        self.sea = self.project()
        self.land = self.project(f"{self.slug}b", visibility="inside")
        self.deep = self.project(f"{self.slug}c", visibility="teams")

    @contextmanager
    def as_user(self, user=None, **facts):
        asker = self.asker(user.pk if user else None, user.username if user else "", **facts)
        with self._asking(asker):
            yield

    def readable(self, user=None, **facts):
        with self.as_user(user, **facts):
            found = self.projects.objects.filter(slug__startswith=self.slug).values_list("slug", flat=True)
            return "".join(slug.removeprefix(self.slug) or "a" for slug in sorted(found))

    def outcome(self, check, slug, user=None, **facts):
        try:
            with self.as_user(user, **facts):
                check(slug)
        except self.problem as refused:
            return refused.status
        return 200


class Reading(Case):
    def test_public_for_all_inside_for_who_is_signed_in_teams_for_members(self):
        self.assertEqual((self.readable(), self.readable(self.eve)), ("a", "ab"))
        self.members.set_member(self.deep, user=self.ada, role="reader")
        self.members.set_member(self.deep, team=self.crew, role="reader")
        self.assertEqual([self.readable(u) for u in (self.ada, self.ben, self.eve)], ["abc", "abc", "ab"])
        self.assertEqual(self.readable(self.eve, is_administrator=True), "abc")

    def test_a_part_in_all_projects_is_one_in_each(self):
        self.members.set_member(None, team=self.crew, role="reader")
        self.assertEqual((self.readable(self.ben), self.readable(self.eve)), ("abc", "ab"))

    def test_a_projects_token_reads_that_project_and_what_is_public(self):
        self.members.set_member(self.deep, user=self.ada, role="owner")
        self.assertEqual(self.readable(self.ada, project=self.deep.slug), "ac")
        self.assertEqual(self.readable(self.ada, project=self.sea.slug), "a")
        self.assertEqual(self.readable(self.eve, project=self.deep.slug), "a", "never more than its maker may")
        self.assertEqual(self.readable(self.eve, project=self.sea.slug, is_administrator=True), "a")

    def test_who_leaves_a_team_reads_no_more(self):
        self.members.set_member(self.deep, team=self.crew, role="owner")
        self.crew.users.remove(self.ben)
        self.assertEqual(self.readable(self.ben), "ab")

    def test_rows_of_a_project_are_kept_from_who_may_not_read_it(self):
        from zarbek.service.catalog.models import Release
        from zarbek.service.publishing.models import Run

        self.release(self.deep, "1.0")
        Run.objects.create(project=self.deep.slug, version="1.0")
        for user, count in ((None, 0), (self.eve, 0)):
            with self.as_user(user):
                self.assertEqual(Release.objects.filter(project=self.deep.pk).count(), count)
                self.assertEqual(Run.objects.filter(project=self.deep.slug).count(), count)
        self.assertEqual(Release.objects.filter(project=self.deep.pk).count(), 1)

    def test_what_relates_to_a_row_is_read_by_the_same_rule(self):
        from zarbek.service.publishing.models import LogLine, Run

        run = Run.objects.create(project=self.deep.slug, version="1.0")
        LogLine.objects.create(run=run, text="Said.")
        with self.as_user(self.eve):
            self.assertEqual((run.lines.count(), self.deep.releases.count(), self.deep.findings.count()), (0, 0, 0))
        self.assertEqual(run.lines.count(), 1)

    def test_what_changes_in_a_request_holds_in_it_at_once(self):
        with self.as_user(self.eve):
            self.assertTrue(self.projects.objects.filter(pk=self.sea.pk).exists())
            self.members.set_visibility(self.sea, "teams")
            self.assertFalse(self.projects.objects.filter(pk=self.sea.pk).exists())


class Changing(Case):
    def test_each_part_may_do_what_those_before_it_may(self):
        maintain, own = self.permissions.require_maintainer, self.permissions.require_owner
        for role, expected in (("reader", (403, 403)), ("maintainer", (200, 403)), ("owner", (200, 200))):
            self.members.set_member(self.deep, user=self.ada, role=role)
            found = tuple(self.outcome(check, self.deep.slug, self.ada) for check in (maintain, own))
            self.assertEqual(found, expected, role)

    def test_nobody_signs_in_first_and_what_is_hidden_is_as_if_it_were_not(self):
        for check in (self.permissions.require_maintainer, self.permissions.require_owner,
                      self.permissions.require_publisher):  # fmt: skip
            with self.subTest(check.__name__):
                self.assertEqual(self.outcome(check, self.deep.slug), 401)
                hidden, absent = (self.told(check, slug) for slug in (self.deep.slug, f"{self.slug}zz"))
                self.assertEqual(hidden.replace(self.deep.slug, "X"), absent.replace(f"{self.slug}zz", "X"))

    def told(self, check, slug):
        with self.as_user(self.eve), self.assertRaises(self.problem) as refused:
            check(slug)
        return f"{refused.exception.status} {refused.exception.detail}"

    def test_a_token_may_what_it_was_made_for(self):
        self.members.set_member(self.deep, user=self.ada, role="owner")
        maintain, own = self.permissions.require_maintainer, self.permissions.require_owner
        for scope, expected in (("read", (403, 403)), ("publish", (200, 403)), ("manage", (200, 200))):
            facts = {"scope": scope, "token": "build", "project": self.deep.slug}
            found = tuple(self.outcome(check, self.deep.slug, self.ada, **facts) for check in (maintain, own))
            self.assertEqual(found, expected, scope)
        self.assertEqual(self.outcome(maintain, self.sea.slug, self.ada, project=self.deep.slug), 403)

    def test_a_new_project_takes_an_administrator_or_a_token_of_one_for_it(self):
        new, publish = f"{self.slug}new", self.permissions.require_publisher
        self.assertEqual(self.outcome(publish, new, self.ada), 403)
        self.assertEqual(self.outcome(publish, new, self.ada, is_administrator=True), 200)
        self.assertEqual(self.outcome(publish, new, self.ada, is_administrator=True, project=new, scope="publish"), 200)
        self.assertEqual(self.outcome(publish, new, self.ada, project=new, scope="publish"), 404)
        self.members.set_member(None, user=self.ada, role="maintainer")
        self.assertEqual(self.outcome(publish, self.sea.slug, self.ada), 200)

    def test_the_last_owner_of_what_only_members_read_stays(self):
        from zarbek.service.common.problems import Conflict, NotFound

        self.members.set_member(self.deep, user=self.ada, role="owner")
        with self.assertRaises(Conflict):
            self.members.remove_member(self.deep, user=self.ada)
        self.members.set_member(self.deep, team=self.crew, role="owner")
        self.members.remove_member(self.deep, user=self.ada)
        with self.assertRaises(NotFound):
            self.members.remove_member(self.deep, user=self.ada)

    def test_every_change_is_written_down(self):
        from zarbek.service.accounts.models import AuditEntry

        with self.as_user(self.eve, is_administrator=True, token="desk", address="10.1.2.3"):
            self.members.set_visibility(self.sea, "inside")
            self.members.set_member(self.sea, team=self.crew, role="reader")
            self.members.set_member(self.sea, team=self.crew, role="owner")
        rows = AuditEntry.objects.filter(project=self.sea.slug).order_by("pk")
        self.assertEqual(
            list(rows.values_list("action", "subject", "before", "after")),
            [("project.visibility", "", "public", "inside"),
             ("member.set", f"team {self.crew.name}", None, "reader"),
             ("member.set", f"team {self.crew.name}", "reader", "owner")],
        )  # fmt: skip
        self.assertEqual(set(rows.values_list("actor", "token", "address")), {(self.eve.username, "desk", "10.1.2.3")})


if __name__ == "__main__":
    unittest.main()
