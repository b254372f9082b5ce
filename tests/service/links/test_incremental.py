"""What a publish leaves elsewhere equals a full recomputation, and costs less."""

import unittest

from tests.support.running import ROOT, running


class Equality(unittest.TestCase):
    def test_random_publishes_leave_what_a_full_recomputation_gives(self):
        done = running().in_service(f"""
            import sys; sys.path.insert(0, {str(ROOT)!r})
            from tests.support.randomportals import check
            print(*check(15))
        """)
        self.assertEqual(done.returncode, 0, done.stderr[-4000:])
        publishes, examined = map(int, done.stdout.split())
        self.assertGreater(publishes, 50)
        self.assertGreater(examined, 100)


if __name__ == "__main__":
    unittest.main()
