"""Who may do what in the portal."""

import unittest

from tests.support.inprocess import connected


class Permissions(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        connected()
        from zarbek.service.accounts import permissions
        from zarbek.service.common.asker import Asker, asking
        from zarbek.service.common.problems import Forbidden, Unauthorized

        cls.permissions, cls.asker, cls.asking = permissions, Asker, staticmethod(asking)
        cls.refusals = (Unauthorized, Forbidden)

    def outcome(self, check, **facts):
        try:
            with self.asking(self.asker(**facts)):
                check()
        except self.refusals as refused:
            return refused.status
        return 200

    def test_a_projects_token_makes_no_administrator_and_a_lesser_one_neither(self):
        staff = {"user": 1, "is_administrator": True}
        for facts, status in (
            ({}, 401), ({"user": 1}, 403), (staff, 200), ({**staff, "token": "all"}, 200),
            ({**staff, "project": "sea"}, 403), ({**staff, "scope": "publish"}, 403), ({**staff, "scope": "read"}, 403),
        ):  # fmt: skip
            with self.subTest(facts):
                self.assertEqual(self.outcome(self.permissions.require_administrator, **facts), status)

    def test_a_refusal_names_the_token_and_what_it_was_made_for(self):
        asking = self.asking(self.asker(user=1, scope="read", token="reader"))
        with asking, self.assertRaises(self.refusals[1]) as refused:
            self.permissions.require_scope("publish")
        self.assertEqual(refused.exception.detail, "The token 'reader' was made to read only.")


if __name__ == "__main__":
    unittest.main()
