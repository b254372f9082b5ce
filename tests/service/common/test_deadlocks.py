"""What lost its locks begins again; nothing else does."""

import unittest

from django.db import OperationalError

from zarbek.service.common.deadlocks import retried_on_deadlock


class Deadlocks(unittest.TestCase):
    def outcomes(self, *errors):
        left, calls = list(errors), []

        @retried_on_deadlock
        def work():
            calls.append(1)
            if left:
                raise left.pop(0)
            return len(calls)

        return work, calls

    def test_lost_locks_are_asked_for_again(self):
        work, _ = self.outcomes(OperationalError(1213, "Deadlock found"), OperationalError(1205, "Lock wait"))
        self.assertEqual(work(), 3)

    def test_a_database_that_went_away_is_not_asked_again(self):
        for error in (OperationalError(2006, "gone"), OperationalError(), ValueError(1213)):
            work, calls = self.outcomes(error)
            with self.subTest(error), self.assertRaises(type(error)):
                work()
            self.assertEqual(len(calls), 1)


if __name__ == "__main__":
    unittest.main()
