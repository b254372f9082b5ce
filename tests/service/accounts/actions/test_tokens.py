"""Tokens, the first administrator, and counts of attempts."""

import unittest
from datetime import timedelta

from tests.support.inprocess import OnTheDatabase


class Accounts(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.contrib.auth.models import User

        from zarbek.service.accounts.actions import tallies, tokens
        from zarbek.service.accounts.models import AuditEntry, Tally, Token

        self.actions, self.counting = tokens, tallies
        self.tokens, self.tallies, self.audit = Token.objects, Tally.objects, AuditEntry.objects
        self.user = User.objects.create(username=self.slug)

    def test_of_a_token_only_its_digest_is_kept(self):
        token, text = self.actions.create_token(user=self.user, name=" ci ", project="sea", days=1)
        kept = self.tokens.get(pk=token.pk)
        self.assertEqual((kept.name, kept.project, kept.digest), ("ci", "sea", self.actions.digest_token(text)))
        self.assertNotIn(text, [str(value) for value in vars(kept).values()])
        self.assertRegex(text, r"^zbk_[\w-]{43}$")
        self.assertEqual(round((kept.expires_at - kept.created_at).total_seconds() / 3600), 24)

    def test_a_token_without_a_name_or_for_too_long_is_refused(self):
        from zarbek.service.common.problems import Problem

        for facts in ({"name": " "}, {"name": "x" * 101}, {"name": "x", "days": 0}, {"name": "x", "days": 3651}):
            with self.assertRaises(Problem):
                self.actions.create_token(user=self.user, **facts)
        self.assertEqual(self.tokens.filter(user=self.user).count(), 0)

    def test_use_is_noted_to_the_minute(self):
        token, _ = self.actions.create_token(user=self.user, name="ci")
        self.actions.note_use(token)
        token.refresh_from_db()
        first = token.last_used_at
        self.actions.note_use(token)
        token.refresh_from_db()
        self.assertEqual(token.last_used_at, first)
        self.tokens.filter(pk=token.pk).update(last_used_at=first - timedelta(minutes=2))
        self.actions.note_use(token)
        token.refresh_from_db()
        self.assertGreaterEqual(token.last_used_at, first)

    def test_what_is_revoked_is_gone(self):
        from zarbek.service.common.problems import NotFound

        token, _ = self.actions.create_token(user=self.user, name="ci")
        self.actions.revoke_token(token)
        with self.assertRaises(NotFound):
            self.actions.revoke_token(token)
        done = self.audit.filter(subject="ci").order_by("pk").values_list("action", flat=True)
        self.assertEqual(list(done)[-2:], ["token.made", "token.revoked"])

    def test_a_new_token_takes_the_place_of_an_old_one_which_goes_on_for_a_while(self):
        from django.utils import timezone

        from zarbek.service.common.problems import Conflict

        old, text = self.actions.create_token(user=self.user, name="ci", project="sea", scope="read", days=30)
        new, other = self.actions.rotate_token(old, 2)
        old.refresh_from_db()
        self.assertNotEqual(text, other)
        self.assertEqual((new.name, new.project, new.scope, new.user), ("ci", "sea", "read", self.user))
        self.assertAlmostEqual(old.expires_at, timezone.now() + timedelta(hours=2), delta=timedelta(minutes=1))
        self.assertAlmostEqual(new.expires_at, timezone.now() + timedelta(days=30), delta=timedelta(minutes=1))
        self.actions.rotate_token(old, 0)
        with self.assertRaises(Conflict):
            self.actions.rotate_token(old)

    def test_what_a_token_is_made_for(self):
        from zarbek.service.common.problems import Problem

        scopes = [self.actions.create_token(user=self.user, name="x", **f)[0].scope
                  for f in ({}, {"project": "sea"}, {"scope": "read"})]  # fmt: skip
        self.assertEqual(scopes, ["manage", "publish", "read"])
        with self.assertRaisesRegex(Problem, "read, publish or manage"):
            self.actions.create_token(user=self.user, name="x", scope="all")

    def test_no_secret_is_written_down(self):
        _, text = self.actions.create_token(user=self.user, name="ci")
        told = str(list(self.audit.order_by("-pk")[:3].values()))
        self.assertNotIn(text, told)
        self.assertNotIn(self.actions.digest_token(text), told)

    def test_a_portal_has_its_first_administrator_once(self):
        self.assertIs(self.actions.make_first_administrator(lambda: self.fail("it has had one")), False)

    def test_a_tally_counts_within_its_span_and_begins_anew_after_it(self):
        counts = [self.counting.add_to_tally(self.slug, 60)[0] for _ in range(3)]
        until = self.tallies.get(key=self.slug).until
        self.assertEqual(counts, [1, 2, 3])
        self.tallies.filter(key=self.slug).update(until=until - timedelta(minutes=2))
        self.assertEqual(self.counting.add_to_tally(self.slug, 60)[0], 1)
        self.tallies.filter(key=self.slug).update(until=until - timedelta(minutes=2))
        self.counting.forget_tallies()
        self.assertEqual(self.tallies.filter(key=self.slug).count(), 0)


if __name__ == "__main__":
    unittest.main()
