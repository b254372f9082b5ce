"""What an answer means, beside what others answered in the same round."""

import unittest
from datetime import date, timedelta

from zarbek.core.findings.url_rules import Answer, Round, UrlVerdict, is_address, judge_answer

URL = "http://docs.halmere.example/tides"
DAY = date(2026, 11, 2)
OPEN = Round(DAY, is_genuine=True, is_open=True)
CLOSED = Round(DAY, is_genuine=False, is_open=False)
UNKNOWN = UrlVerdict()
SILENT = Answer(trouble="does not answer in time")


def judged(answer, known=UNKNOWN, asked=OPEN):
    return judge_answer(URL, answer, known, asked)


class Answers(unittest.TestCase):
    def test_what_an_answer_says(self):
        for answer, fault in (
            (Answer(200, URL), ""), (Answer(403), ""), (Answer(429), ""), (Answer(404), "is not there (404)"),
            (Answer(410), "is gone for good (410)"), (Answer(200, URL, missing_anchor="#x"), "has no section #x"),
            (Answer(302, trouble="redirects in a circle", lasting=True), "redirects in a circle"),
            (Answer(trouble="is no address", lasting=True), "is no address"),
        ):  # fmt: skip
            with self.subTest(answer):
                self.assertEqual(judged(answer), UrlVerdict(fault))

    def test_a_permanent_redirect_is_told_with_its_section(self):
        verdict = judge_answer(URL + "#low", Answer(200, URL + "/new", permanent=True), UrlVerdict(), OPEN)
        self.assertEqual(verdict, UrlVerdict(moved_to=URL + "/new#low"))
        self.assertEqual(judged(Answer(200, URL + "/new")), UrlVerdict())

    def test_nothing_is_told_where_nothing_else_answers(self):
        for answer in (Answer(404), SILENT, Answer(503), Answer(200, URL, missing_anchor="#x")):
            with self.subTest(answer):
                verdict = judged(answer, asked=CLOSED)
                self.assertEqual((verdict.fault, verdict.failed_days), ("", 0))
                self.assertNotEqual(verdict.unreachable, "")
        self.assertEqual(judged(Answer(200, URL + "/sign-in", permanent=True), asked=CLOSED), UrlVerdict())

    def test_silence_is_a_fault_on_the_third_day_on_which_others_answer(self):
        verdict, told = UrlVerdict(), []
        for day in (0, 0, 1, 4):
            verdict = judged(SILENT, verdict, Round(DAY + timedelta(day), is_genuine=True, is_open=True))
            told.append((verdict.failed_days, verdict.fault))
        self.assertEqual(told, [(1, ""), (1, ""), (2, ""), (3, "does not answer in time, on 3 days")])

    def test_days_on_which_nothing_answers_do_not_count_and_mend_nothing(self):
        before = UrlVerdict("is not there (404)", failed_days=2, failed_on=DAY)
        verdict = judged(SILENT, before, Round(DAY + timedelta(1), is_genuine=False, is_open=False))
        self.assertEqual((verdict.fault, verdict.failed_days), ("is not there (404)", 2))

    def test_an_answer_forgets_the_days_of_silence(self):
        silent = UrlVerdict("", "", "does not answer in time", 2, DAY)
        self.assertEqual(judged(Answer(200, URL), silent), UrlVerdict())

    def test_who_may_not_be_asked_is_not_judged(self):
        self.assertEqual(judged(Answer(is_left_alone=True), UrlVerdict("is not there (404)")), UrlVerdict())
        self.assertFalse(Answer(is_left_alone=True).is_good)

    def test_what_is_no_address_or_an_example_is_not_asked(self):
        for url in ("http://ip:port", "https://[service.name", "https://[::ffff:192.168.0.1", "http://example.com/a",
                    "https://docs.test/", "http://localhost:80/", "https://api.sea.example/x", "https://"):  # fmt: skip
            self.assertFalse(is_address(url), url)
        for url in (
            "https://halmere.org/tides#low",
            "http://10.0.0.1:8099/x",
            "https://[2001:db8::1]/",
            "http://intranet/x",
        ):
            self.assertTrue(is_address(url), url)


if __name__ == "__main__":
    unittest.main()
