"""Accounts and teams, and what their changes end."""

import unittest

from tests.support.inprocess import OnTheDatabase

PASSWORD = "tide-window-forty-two"


class People(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.contrib.auth.models import User

        from zarbek.service.accounts.actions import people
        from zarbek.service.accounts.models import AuditEntry, SignIn, Team
        from zarbek.service.common import problems

        self.people, self.problems, self.users = people, problems, User.objects
        self.audit, self.sign_ins, self.teams = AuditEntry.objects, SignIn.objects, Team.objects
        self.ada = people.add_person(f"ada-{self.slug}", PASSWORD)

    def signed_in(self, key):
        from datetime import timedelta

        from django.contrib.sessions.models import Session
        from django.utils import timezone

        Session.objects.create(session_key=key, session_data="x", expire_date=timezone.now() + timedelta(hours=1))
        self.people.note_sign_in(self.ada, key, address="10.1.2.3", agent="A browser")

    def sessions(self):
        from django.contrib.sessions.models import Session

        return Session.objects.filter(session_key__startswith=self.slug).count()

    def test_weak_passwords_and_names_that_are_none_are_refused(self):
        for name, password in (("x", "short"), ("x", "password1234"), (f"bea-{self.slug}", f"bea-{self.slug}"),
                               ("", PASSWORD), (" x", PASSWORD), ("x\n", PASSWORD), ("x" * 151, PASSWORD)):  # fmt: skip
            with self.subTest(name), self.assertRaises(self.problems.Problem):
                self.people.add_person(name, password)
        with self.assertRaises(self.problems.Conflict):
            self.people.add_person(self.ada.username, PASSWORD)

    def test_no_password_is_written_down(self):
        self.people.set_password(self.ada, PASSWORD + "x")
        self.assertNotIn(PASSWORD, str(list(self.audit.filter(subject=self.ada.username).values())))

    def test_who_is_disabled_or_has_a_new_password_is_signed_out_everywhere(self):
        for number, end in enumerate((
            lambda: self.people.change_person(self.ada, is_active=False),
            lambda: self.people.set_password(self.ada, PASSWORD + "y"),
        )):  # fmt: skip
            for browser in "ab":
                self.signed_in(f"{self.slug}{number}{browser}")
            end()
            self.assertEqual((self.sessions(), self.sign_ins.filter(user=self.ada).count()), (0, 0))

    def test_one_session_ends_and_the_others_stay(self):
        for browser in "ab":
            self.signed_in(f"{self.slug}{browser}")
        first = self.sign_ins.get(session_key=f"{self.slug}a")
        other = self.people.add_person(f"ben-{self.slug}", PASSWORD)
        self.assertEqual(self.people.end_sign_ins(other, first.pk), 0, "it is not theirs")
        self.assertEqual((self.people.end_sign_ins(self.ada, first.pk), self.sessions()), (1, 1))

    def test_somebody_stays_to_administer(self):
        self.people.change_person(self.ada, is_administrator=True)
        self.users.exclude(pk=self.ada.pk).update(is_staff=False)
        for change in ({"is_administrator": False}, {"is_active": False}):
            with self.assertRaises(self.problems.Conflict):
                self.people.change_person(self.users.get(pk=self.ada.pk), **change)

    def test_a_team_is_exactly_who_is_named(self):
        team = self.people.set_team(f"crew-{self.slug}", [self.ada.username])
        self.assertEqual([u.username for u in team.users.all()], [self.ada.username])
        with self.assertRaises(self.problems.NotFound):
            self.people.set_team(f"crew-{self.slug}", ["nobody-at-all"])
        self.people.set_team(f"crew-{self.slug}", [])
        self.assertEqual(team.users.count(), 0)
        self.people.remove_team(team)
        done = self.audit.filter(subject=f"crew-{self.slug}").order_by("pk").values_list("action", flat=True)
        self.assertEqual(list(done), ["team.set", "team.set", "team.removed"])

    def test_a_group_of_the_provider_does_not_take_a_team_of_the_portals_own(self):
        own = self.people.set_team(f"own-{self.slug}", [])
        self.people.join_groups(self.ada, [own.name, f"theirs-{self.slug}"], subject=self.slug)
        self.assertEqual((own.users.count(), self.teams.get(name=f"theirs-{self.slug}").users.count()), (0, 1))
        self.people.join_groups(self.ada, [], subject=self.slug)
        self.assertEqual(self.teams.get(name=f"theirs-{self.slug}").users.count(), 0)


if __name__ == "__main__":
    unittest.main()
