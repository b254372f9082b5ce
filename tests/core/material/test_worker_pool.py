"""Bounds of hostile work."""

import sys
import time
import unittest
from unittest import mock

from zarbek.core.errors import TakesTooLong
from zarbek.core.material.worker_pool import time_limit


def busy(seconds):
    end = time.process_time() + seconds
    while time.process_time() < end:
        pass


class Slow:
    """Takes its time to be cleared away, where every error is lost."""

    def __del__(self):
        busy(4)


class Limits(unittest.TestCase):
    def test_an_error_that_is_lost_comes_again(self):
        with (
            mock.patch.object(sys, "unraisablehook") as lost,
            self.assertRaises(TakesTooLong),
            time_limit(0.5, TakesTooLong("it takes too long")),  # Other threads of the tests take some of it.
        ):
            Slow()
            busy(5)
        lost.assert_called_once()

    def test_what_ends_in_time_is_left_alone(self):
        with time_limit(0.5, TakesTooLong("it takes too long")):
            busy(0.01)
        busy(1)


if __name__ == "__main__":
    unittest.main()
