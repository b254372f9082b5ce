"""Things that are dear to make."""

import threading
import unittest
from concurrent.futures import ThreadPoolExecutor

from zarbek.service.common.compute_once import ComputeOnce, remembering


class Kept(unittest.TestCase):
    def test_many_who_ask_at_once_have_it_made_once(self):
        made, kept, all_ask = [], ComputeOnce(10), threading.Barrier(8)

        def make():
            made.append(1)
            return len(made)

        def ask():
            all_ask.wait()
            return kept.get("a", make)

        with ThreadPoolExecutor(8) as pool:
            found = [asked.result() for asked in [pool.submit(ask) for _ in range(8)]]
        self.assertEqual((found, made), ([1] * 8, [1]))

    def test_the_latest_used_stay_within_the_weight_and_one_always(self):
        kept, made = ComputeOnce(5, weigh=len), []

        def get(key):
            return kept.get(key, lambda: made.append(key) or key)

        for key in ("aa", "bb", "aa", "cc", "aa", "bb"):
            get(key)
        self.assertEqual(made, ["aa", "bb", "cc", "bb"], "bb was used longest ago when cc came.")
        get("far too heavy")
        get("far too heavy")
        self.assertEqual(made[4:], ["far too heavy"])

    def test_what_fails_is_not_kept_and_is_tried_again(self):
        kept = ComputeOnce(5)
        with self.assertRaises(ZeroDivisionError):
            kept.get("a", lambda: 1 // 0)
        self.assertEqual(kept.get("a", lambda: 2), 2)

    def test_a_function_remembers_by_its_arguments_until_it_is_to_forget(self):
        made = []

        @remembering(5, weigh=len)
        def doubled(text, *, mark=""):
            made.append(text + mark)
            return text * 2 + mark

        for text, mark in (("a", ""), ("a", ""), ("a", "!"), ("bb", ""), ("a", "")):
            self.assertEqual(doubled(text, mark=mark), text * 2 + mark)
        self.assertEqual(made, ["a", "a!", "bb", "a"], "four and three are more than five")
        doubled.forget()
        doubled("a", mark="")
        self.assertEqual(made[-1], "a")
        self.assertEqual(len(made), 5)


if __name__ == "__main__":
    unittest.main()
