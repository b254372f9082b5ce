"""Tokens, the first administrator, and counts of attempts."""

import unittest
from datetime import timedelta

from tests.support.inprocess import OnTheDatabase


class Accounts(OnTheDatabase):
    def setUp(self):
        super().setUp()
        from django.contrib.auth.models import User

        from zarbek.service.accounts import actions
        from zarbek.service.accounts.models import Tally, Token

        self.actions, self.tokens, self.tallies = actions, Token.objects, Tally.objects
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
        self.actions.revoke_token(token.pk)
        with self.assertRaises(NotFound):
            self.actions.revoke_token(token.pk)

    def test_a_portal_has_its_first_administrator_once(self):
        self.assertIs(self.actions.make_first_administrator(lambda: self.fail("it has had one")), False)

    def test_a_tally_counts_within_its_span_and_begins_anew_after_it(self):
        counts = [self.actions.add_to_tally(self.slug, 60)[0] for _ in range(3)]
        until = self.tallies.get(key=self.slug).until
        self.assertEqual(counts, [1, 2, 3])
        self.tallies.filter(key=self.slug).update(until=until - timedelta(minutes=2))
        self.assertEqual(self.actions.add_to_tally(self.slug, 60)[0], 1)
        self.tallies.filter(key=self.slug).update(until=until - timedelta(minutes=2))
        self.actions.forget_tallies()
        self.assertEqual(self.tallies.filter(key=self.slug).count(), 0)


if __name__ == "__main__":
    unittest.main()
