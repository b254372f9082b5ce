"""What a report looks like in a pipe."""

import argparse
import contextlib
import io
import unittest
from unittest import mock

import msgspec
from rich.table import Table

from zarbek.cli.gates import add_gate, exceeds
from zarbek.cli.reporttext import MAX_LINES, print_report
from zarbek.cli.terminal import console_for, titled
from zarbek.core.findings.formats.wording import summary_of
from zarbek.core.findings.report import Report

FINDING = {
    "rule": "dangling/symbol", "subject": "p.f", "fingerprint": "1", "severity": "error", "file": "a.py", "line": 3, "before": "See ", "text": "x.y", "after": " too.",
    "message": "x has no x.y.", "suggestion": "x.z", "certain": True, "why": "the same symbol, moved",
}  # fmt: skip
REPORT = {
    "project": "p", "version": "1.0", "run": 7, "previous": "0.9", "dry": False,
    "counts": {"total": 1200, "held": 1198, "dangling": 1, "stale": 1, "outside": 4},
    "new": [FINDING], "open": [], "fixed": [],
    "elsewhere": [{"project": "q", "version": "2.0", "owner": "", "findings": [{**FINDING, "certain": False, "text": ""}]}],
}  # fmt: skip


class ReportText(unittest.TestCase):
    def test_text_in_a_pipe_has_no_marks_and_says_everything(self):
        out = io.StringIO()
        print_report(REPORT, console_for(out))
        self.assertEqual(
            out.getvalue().split("\n"),
            [
                "p 1.0, run 7",
                "1,198 of 1,200 references hold. 1 dangles, 1 is stale. New 1, still open 0, mended 0. "
                "This release touched 1 reference in 1 other project.",
                "", "New here", "  dangling/symbol  a.py:3", "    See x.y too.",
                "    x has no x.y. Use x.z (the same symbol, moved).",
                "", "Broken in q 2.0, which nobody owns", "  dangling/symbol  a.py:3", "    See  too.",
                "    x has no x.y. Likely x.z (the same symbol, moved).", "",
            ],
        )  # fmt: skip

    def shown(self, report, *, is_terminal=False, whole=False):
        out = io.StringIO()
        out.isatty = lambda: is_terminal
        print_report(report, console_for(out), whole=whole)
        return out.getvalue()

    def test_notes_are_summed_up_unless_all_is_asked_for(self):
        notes = [{**FINDING, "rule": "stale/older-release", "severity": "note", "file": f} for f in "aabcde"]
        report = {**REPORT, "new": [FINDING, *notes], "elsewhere": []}
        shown = self.shown(report)
        self.assertEqual(shown.count("dangling/symbol"), 1)
        self.assertIn("New 1, still open 0, mended 0. 6 notes besides.", " ".join(shown.split()))
        self.assertIn("6 stale/older-release  a 2, b 1, c 1 and 2 more", shown)
        self.assertIn("zarbek report p@1.0 --all shows them.", shown)
        self.assertEqual(self.shown(report, whole=True).count("  stale/older-release"), 6)

    def test_a_terminal_has_forty_lines_of_findings(self):
        different = [{**FINDING, "target": f"x/x.y{n}"} for n in range(60)]
        many = {**REPORT, "new": different, "elsewhere": []}
        self.assertEqual(self.shown(many).count("x has no x.y."), 60)
        with mock.patch.dict("os.environ", {"TERM": "xterm", "COLUMNS": "100", "NO_COLOR": "1"}):
            shown = self.shown(many, is_terminal=True)
        self.assertEqual(shown.count("x has no x.y."), MAX_LINES // 3)
        self.assertIn("47 dangling/symbol", shown)

    def test_equal_findings_are_told_together_in_a_terminal(self):
        equal = {**REPORT, "new": [{**FINDING, "file": f"{n}.py"} for n in range(28)], "elsewhere": []}
        with mock.patch.dict("os.environ", {"TERM": "xterm", "COLUMNS": "100", "NO_COLOR": "1"}):
            shown = self.shown(equal, is_terminal=True)
        self.assertEqual(shown.count("x has no x.y."), 1)
        self.assertIn("The same at 1.py:3, 2.py:3, 3.py:3, 4.py:3, 5.py:3 and 22 more.", " ".join(shown.split()))
        self.assertEqual(self.shown(equal, whole=True).count("x has no x.y."), 28)

    def test_names_and_paths_are_text_and_nothing_else(self):
        odd = {**FINDING, "file": "[/y]/planner.py:100:", "text": "Team [/y] :100:", "message": "[red]No[/red] :x:."}
        out = io.StringIO()
        print_report({**REPORT, "project": "p [/y]", "version": ":100:", "new": [odd]}, console_for(out))
        for told in ("p [/y] :100:, run 7", "[/y]/planner.py:100::3", "See Team [/y] :100: too.", "[red]No[/red] :x:."):
            self.assertIn(told, out.getvalue())

    def test_tables_and_titles_too(self):
        table = Table(box=None, show_header=False)
        table.add_row(titled("Team [/y] :100:"), ":100: [/y]")
        out = io.StringIO()
        console_for(out).print(table)
        console_for(out).print("[bold] :100:")
        for told in ("Team [/y] :100:", ":100: [/y]", "[bold] :100:"):
            self.assertIn(told, out.getvalue())

    def test_a_sound_report_is_one_sentence(self):
        sound = {
            **REPORT,
            "counts": {**REPORT["counts"], "held": 1200, "dangling": 0, "stale": 0},
            "new": [],
            "elsewhere": [],
        }
        self.assertEqual(
            summary_of(msgspec.convert(sound, Report)), "1,200 of 1,200 references hold. New 0, still open 0, mended 0."
        )

    def stops(self, *arguments, **report):
        parser = argparse.ArgumentParser()
        add_gate(parser)
        return exceeds({**REPORT, **report}, parser.parse_args(arguments))

    def test_gates(self):
        note = {**FINDING, "severity": "note", "rule": "stale/older-release", "fingerprint": "2"}
        levels = ("never", "error", "warning")
        self.assertEqual([self.stops("--fail-on", level) for level in levels], [False, True, True])
        self.assertFalse(self.stops("--fail-on", "warning", new=[note]))
        self.assertFalse(self.stops("--fail-on", "warning", "--more-than", "1"))
        self.assertFalse(self.stops("--fail-on", "warning", "--family", "stale"))
        self.assertTrue(self.stops("--fail-on", "warning", "--rule", "dangling/symbol"))
        with self.assertRaises(SystemExit), contextlib.redirect_stderr(io.StringIO()):
            self.stops("--fail-on", "note")
        self.assertFalse(self.stops("--fail-on", "error", new=[], open=[FINDING]))
        self.assertTrue(self.stops("--fail-on", "error", "--count-open", new=[], open=[FINDING]))

    def test_a_waived_finding_stops_nothing_until_the_waiver_ends(self):
        waived = {"finding": FINDING, "reason": "Known.", "person": "Ada", "until": "2027-01-31"}
        self.assertFalse(self.stops("--fail-on", "error", waived=[waived]))
        self.assertTrue(self.stops("--fail-on", "error", waived=[{**waived, "ended": True}]))


if __name__ == "__main__":
    unittest.main()
