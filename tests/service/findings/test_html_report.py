"""Findings as HTML: in mail, feeds and the report's format."""

import unittest
from datetime import date
from html.parser import HTMLParser

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.inprocess import connected
from zarbek.core.findings.report import Counted, Report, Waived
from zarbek.core.model.finding import Finding


def finding(**facts):
    known = {"rule": "dangling/symbol", "severity": "error", "message": "gone is gone.", "subject": "m.f", "file": "m.py", "line": 3,
             "fingerprint": "1" * 16}  # fmt: skip
    return Finding(**{**known, **facts})


def report(**facts):
    return Report(
        **{
            "project": "crewroster",
            "version": "3.1.0",
            "counts": Counted(9, 8, 1),
            "new": [],
            "open": [],
            "fixed": [],
            **facts,
        }
    )


class Tree(HTMLParser):
    """The names of elements in order, and the text."""

    def __init__(self, html):
        super().__init__()
        self.names, self.text = [], ""
        self.feed(html)
        self.close()

    def handle_starttag(self, tag, attrs):
        self.names.append(tag)

    def handle_data(self, data):
        self.text += data


class HtmlReport(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        connected()
        from zarbek.service.findings.html_report import report_html

        cls.html = staticmethod(report_html)

    def test_it_says_what_is_wrong_where_and_what_to_do(self):
        found = finding(
            before="See ", text="gone", after=" there.", suggestion="m.here", why="the same body, moved", certain=True
        )
        text = Tree(self.html(report(new=[found], held_for="1 dangling/symbol."))).text
        for part in ("References of crewroster 3.1.0", "8 of 9 references hold.", "Held back from latest. 1 dangling/symbol.", "New here",
                     "m.py:3", "See gone there.", "gone is gone. Use m.here (the same body, moved)."):  # fmt: skip
            self.assertIn(part, text)

    def test_notes_and_what_is_waived_are_left_out(self):
        note, waived = (
            finding(rule="text/older-release", severity="note"),
            finding(fingerprint="2" * 16, message="Known."),
        )
        made = report(new=[note, waived], waived=[Waived(waived, "Later", "Ada", date(2099, 1, 1))])
        self.assertEqual(set(Tree(self.html(made)).names) & {"li", "h2"}, set())

    @settings(max_examples=40)
    @given(st.text(max_size=60))
    def test_any_text_stays_text(self, text):
        plain = Tree(self.html(report(new=[finding()], title="t"))).names
        odd = finding(message=text, subject=text, file=text, text=text, owner=text, suggestion=text, why=text)
        self.assertEqual(Tree(self.html(report(new=[odd], title=text))).names, plain)

    def test_markup_in_a_finding_does_nothing(self):
        odd = '<script>x</script><img src=x onerror="x"></li></ul>{{ heading }}{% now "Y" %}'
        tree = Tree(self.html(report(new=[finding(before=odd, text=odd, message=odd)], held_for=odd)))
        self.assertEqual(set(tree.names) & {"script", "img"}, set())
        self.assertEqual(tree.text.count(odd), 4)


if __name__ == "__main__":
    unittest.main()
