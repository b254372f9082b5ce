"""Mail of what is new: to whom, of what, once, and how it ends."""

import unittest
from datetime import timedelta

from tests.support.inprocess import OnTheDatabase


class Mail(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.contrib.auth.models import User

        from zarbek.service.common.problems import NotFound, Problem
        from zarbek.service.notices.actions import mail as actions
        from zarbek.service.notices.models import Digest, MailChoice

        self.actions, self.digests, self.choices = actions, Digest.objects, MailChoice.objects
        self.not_found, self.problem = NotFound, Problem
        self.sea = self.project()
        self.ada = User.objects.create(username=f"ada-{self.slug}", email="ada@halmere.example")
        from django.core import mail
        from django.test import override_settings

        self.owner = f"Crew of {self.slug}"
        mail.outbox = self.outbox = []
        settings = override_settings(
            EMAIL_HOST="mail.example", EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend"
        )
        settings.enable()
        self.addCleanup(settings.disable)
        self.digests.all().delete()

    def found(self, text, severity="error"):
        from django.utils import timezone

        from zarbek.service.findings.models import FindingRecord

        document = {"rule": "dangling/symbol", "severity": severity, "subject": "sea.f", "message": f"{text} is <gone>.",
                    "file": "a.py", "line": 3, "text": text}  # fmt: skip
        return FindingRecord.objects.create(
            project=self.sea, fingerprint=f"{ord(text):016x}", rule="dangling/symbol", severity=severity, state="new",
            owner=self.owner, document=document, first_run=1, last_run=1, first_seen_at=timezone.now(), since_at=timezone.now(),
            last_seen_at=timezone.now(), version="1.0", about="f", subject="sea.f",
        )  # fmt: skip

    def test_a_team_is_told_once_of_what_is_new(self):
        from django.utils import timezone

        self.actions.set_digest(self.owner, "crew@halmere.example")
        self.digests.filter(owner=self.owner).update(told_until=timezone.now() - timedelta(hours=1))
        self.found("a")
        self.found("b", severity="note")
        self.assertEqual((self.actions.send_digests(), self.actions.send_digests()), (1, 0))
        (mail,) = self.outbox
        self.assertEqual((mail.to, mail.subject), (["crew@halmere.example"], f"1 new finding for {self.owner}"))
        self.assertIn("a is <gone>.", mail.body)
        self.assertIn("a is &lt;gone&gt;.", mail.alternatives[0][0])

    def test_what_could_not_be_sent_is_sent_later(self):
        from unittest.mock import patch

        from django.utils import timezone

        self.actions.set_digest(self.owner, "crew@halmere.example")
        self.digests.filter(owner=self.owner).update(told_until=timezone.now() - timedelta(hours=1))
        self.found("a")
        with patch("django.core.mail.EmailMultiAlternatives.send", side_effect=OSError("no route")):
            self.assertEqual(self.actions.send_digests(), 0)
        self.assertEqual(self.digests.get(owner=self.owner).problem, "no route")
        self.assertEqual(self.actions.send_digests(), 1)
        self.assertEqual(self.digests.get(owner=self.owner).problem, "")

    def test_an_empty_address_ends_it_and_a_new_one_begins_now(self):
        self.found("a")
        self.actions.set_digest(self.owner, "crew@halmere.example")
        self.assertEqual(self.actions.send_digests(), 0)
        self.actions.set_digest(self.owner, "")
        self.assertEqual(self.digests.filter(owner=self.owner).count(), 0)

    def following(self, **what):
        from django.utils import timezone

        self.actions.follow(self.ada, **what)
        self.choices.filter(user=self.ada).update(told_until=timezone.now() - timedelta(hours=1))

    def test_what_a_later_run_has_called_open_is_told_all_the_same(self):
        self.following(project=self.slug)
        row = self.found("a")
        row.state, row.last_run = "open", 2  # Published again before anybody was told.
        row.save()
        self.assertEqual((self.actions.send_digests(), self.actions.send_digests()), (1, 0))
        self.assertIn("a is <gone>.", self.outbox[0].body)

    def test_what_was_mended_meanwhile_is_not_told(self):
        self.following(project=self.slug)
        row = self.found("a")
        row.state = "fixed"
        row.save()
        self.assertEqual(self.actions.send_digests(), 0)

    def test_somebody_gets_one_mail_of_all_that_they_follow_with_the_reasons(self):
        self.following(project=self.slug)
        self.following(owner=self.owner)
        self.found("a")
        self.assertEqual(self.actions.send_digests(), 1)
        (mail,) = self.outbox
        self.assertEqual((mail.to, mail.body.count("a is <gone>.")), (["ada@halmere.example"], 1))
        self.assertIn(f"because you follow {self.slug}.", mail.body)
        self.assertIn(f"because you follow what is the turn of {self.owner}.", mail.body)

    def test_a_mail_ends_at_one_click_without_signing_in(self):
        self.following(project=self.slug)
        self.found("a")
        self.actions.send_digests()
        headers = self.outbox[0].extra_headers
        self.assertEqual(headers["List-Unsubscribe-Post"], "List-Unsubscribe=One-Click")
        self.assertRegex(headers["List-Unsubscribe"], r"^<https?://\S+/api/v1/mail/unsubscribe/[\w-]{43}>$")
        key = headers["List-Unsubscribe"].rpartition("/")[2].rstrip(">")
        self.actions.pause_by_key(key)
        self.found("b")
        self.assertEqual(self.actions.send_digests(), 0)
        self.actions.pause_mail(self.ada, is_paused=False)
        self.assertEqual(self.actions.send_digests(), 0, "what was new meanwhile is not told later")
        with self.assertRaises(self.not_found):
            self.actions.pause_by_key("x" * 43)

    def test_nobody_is_told_of_what_they_may_not_see(self):
        from zarbek.service.catalog.actions.members import set_member, set_visibility

        self.following(project=self.slug)
        set_visibility(self.sea, "teams")
        self.found("a")
        self.assertEqual(self.actions.send_digests(), 0)
        set_member(self.sea, user=self.ada, role="reader")
        self.found("b")
        self.assertEqual(self.actions.send_digests(), 1)

    def test_a_team_is_told_what_its_members_see(self):
        from django.utils import timezone

        from zarbek.service.accounts.models import Team
        from zarbek.service.catalog.actions.members import set_member, set_visibility

        team = Team.objects.create(name=self.owner)
        set_visibility(self.sea, "teams")
        self.actions.set_digest(self.owner, "crew@halmere.example")
        self.digests.filter(owner=self.owner).update(told_until=timezone.now() - timedelta(hours=1))
        self.found("a")
        self.assertEqual(self.actions.send_digests(), 0)
        set_member(self.sea, team=team, role="reader")
        self.found("b")
        self.assertEqual(self.actions.send_digests(), 1)

    def test_who_has_no_address_follows_nothing(self):
        self.ada.email = ""
        for facts in ({"project": self.slug}, {}, {"project": self.slug, "owner": "x"}):
            with self.assertRaises(self.problem):
                self.actions.follow(self.ada, **facts)

    def test_what_is_followed_no_longer_is_told_no_more(self):
        self.following(project=self.slug)
        (one,) = self.ada.subscriptions.all()
        self.actions.unfollow(self.ada, one.pk)
        self.found("a")
        self.assertEqual(self.actions.send_digests(), 0)
        with self.assertRaises(self.not_found):
            self.actions.unfollow(self.ada, one.pk)


if __name__ == "__main__":
    unittest.main()
