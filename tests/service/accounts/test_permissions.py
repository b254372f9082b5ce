"""Who may change what."""

import unittest
from types import SimpleNamespace

from tests.support.inprocess import connected

NOBODY, READER, STAFF = (
    SimpleNamespace(is_authenticated=known, is_staff=staff)
    for known, staff in ((False, False), (True, False), (True, True))
)


class Permissions(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        connected()
        from zarbek.service.accounts import permissions
        from zarbek.service.accounts.models import Token
        from zarbek.service.common.problems import Forbidden, Unauthorized

        cls.permissions, cls.refusals = permissions, (Unauthorized, Forbidden)
        cls.own, cls.other, cls.wide = Token(project="sea"), Token(project="land"), Token(project="")

    def outcome(self, check, *arguments):
        try:
            check(*arguments)
        except self.refusals as refused:
            return refused.status
        return 200

    def request(self, user, token=None):
        return SimpleNamespace(user=user, auth=token)

    def test_who_may_change_a_project(self):
        for user, token, status in (
            (NOBODY, None, 401), (READER, None, 403), (READER, self.wide, 403), (READER, self.other, 403),
            (READER, self.own, 200), (STAFF, None, 200), (STAFF, self.wide, 200), (STAFF, self.own, 200),
            (STAFF, self.other, 403),
        ):  # fmt: skip
            request = self.request(user, token)
            self.assertEqual(self.outcome(self.permissions.require_writer, request, "sea"), status)
            self.assertEqual(self.permissions.may_write(request, "sea"), status == 200)

    def test_a_tokens_refusal_names_what_it_is_for(self):
        with self.assertRaises(self.refusals[1]) as refused:
            self.permissions.require_writer(self.request(STAFF, self.other), "sea")
        self.assertEqual(refused.exception.detail, "This token may change land only, not sea.")

    def test_a_projects_token_makes_no_administrator(self):
        for user, token, status in (
            (NOBODY, None, 401), (READER, None, 403), (STAFF, None, 200), (STAFF, self.wide, 200), (STAFF, self.own, 403),
        ):  # fmt: skip
            self.assertEqual(self.outcome(self.permissions.require_administrator, self.request(user, token)), status)


if __name__ == "__main__":
    unittest.main()
