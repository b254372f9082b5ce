"""Every format of a report: complete, valid by its standard, and harmless with hostile text."""

import csv
import io
import json
import unittest
from datetime import date
from xml.etree import ElementTree

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from pydantic import BaseModel
from sarif_pydantic import Sarif

from zarbek.core.findings.formats import FORMATS, write_report
from zarbek.core.findings.formats.markdown import MAX_CHARS
from zarbek.core.findings.formats.wording import summary_of
from zarbek.core.findings.gates import Gate, stopped_by
from zarbek.core.findings.report import Counted, Elsewhere, Report, Waived
from zarbek.core.findings.rules import RULES
from zarbek.core.model.finding import Finding


def finding(number=1, rule="dangling/symbol", **facts):
    values = {"file": "src/a b.py", "line": 3, "column": 5, "text": "tidebook.old", "before": "See ", "after": ".",
              "target": "tidebook/tidebook.old", "owner": "Tides", "fingerprint": f"{number:016x}", **facts}  # fmt: skip
    return Finding(rule, "error", "crewroster.plan", "tidebook.old was removed.", **values)


def report(**parts):
    values = {"new": [finding(1)], "open": [finding(2)], "fixed": [finding(3)], **parts}
    return Report(project="crewroster", version="3.1.0", counts=Counted(10, 8, 2), repository="https://git.halmere.example/c",
                  commit="a" * 40, **values)  # fmt: skip


#: Of the standard's own properties those that the model leaves out: sections 3.14.17, 3.27.23, 3.27.24.
ALSO_KNOWN = {"columnKind", "suppressions", "baselineState"}


def strict(model):
    """Every property that the standard does not know."""
    unknown = [name for name in model.model_extra or () if name not in ALSO_KNOWN]
    for name in type(model).model_fields:
        value = getattr(model, name)
        for part in value if isinstance(value, list) else [value]:
            if isinstance(part, BaseModel):
                unknown += strict(part)
    return unknown


class Sarifs(unittest.TestCase):
    def test_states_places_fingerprints_and_help(self):
        waived = Waived(finding(2), "Known", "Ada", date(2027, 1, 31))
        found = json.loads(write_report(report(waived=[waived]), "sarif"))
        self.assertEqual(strict(Sarif.model_validate(found)), [])
        (run,) = found["runs"]
        self.assertEqual([r["baselineState"] for r in run["results"]], ["new", "unchanged", "absent"])
        first = run["results"][0]
        self.assertEqual(first["partialFingerprints"], {"zarbek/v1": f"{1:016x}"})
        physical = first["locations"][0]["physicalLocation"]
        self.assertEqual(physical["artifactLocation"]["uri"], "src/a%20b.py")
        self.assertEqual(physical["region"], {"startLine": 3, "startColumn": 5})
        self.assertEqual([len(r["suppressions"]) for r in run["results"]], [0, 1, 0])
        rule = run["tool"]["driver"]["rules"][first["ruleIndex"]]
        self.assertEqual(rule["id"], first["ruleId"])
        self.assertEqual(len({r["id"] for r in run["tool"]["driver"]["rules"]}), len(RULES))

    def test_a_place_without_a_line_has_no_region(self):
        found = json.loads(write_report(report(new=[finding(1, line=0, column=0)]), "sarif"))
        self.assertNotIn("region", found["runs"][0]["results"][0]["locations"][0]["physicalLocation"])

    def test_a_rule_of_another_time_is_shown_as_it_is(self):
        other = finding(1, rule="text/empty")
        for name in FORMATS:
            with self.subTest(name):
                self.assertIn("text/empty", write_report(report(new=[other]), name))


class Junits(unittest.TestCase):
    def test_failures_skips_and_a_clean_run(self):
        waived = Waived(finding(2), "Known", "Ada", date(2027, 1, 31))
        root = ElementTree.fromstring(write_report(report(waived=[waived]), "junit"))
        self.assertEqual((root.get("tests"), root.get("failures")), ("2", "1"))
        self.assertEqual(len(root.findall(".//skipped")), 1)
        clean = ElementTree.fromstring(write_report(report(new=[], open=[]), "junit"))
        self.assertEqual((clean.get("tests"), clean.get("failures"), len(clean.findall(".//testcase"))), ("1", "0", 1))


class Notes(unittest.TestCase):
    """What is merely worth knowing is counted apart, folded, and fails nothing."""

    note = replace(finding(4, rule="stale/older-release"), severity="note")

    def test_sentences_count_them_apart(self):
        made = report(new=[finding(1), self.note], elsewhere=[Elsewhere("handbook", "1.3", "Docs", [self.note])])
        self.assertEqual(
            summary_of(made), "8 of 10 references hold. 2 dangle. New 1, still open 1, mended 1. 1 note besides."
        )

    def test_several_releases_of_one_other_project_are_one_project(self):
        others = [Elsewhere("tidebook", v, "Nautical data", [finding(n)]) for n, v in ((5, "1.1.0"), (6, "2.1.0"))]
        made = report(elsewhere=[*others, Elsewhere("handbook", "1.3", "Docs", [finding(7)])])
        self.assertIn("touched 3 references in 2 other projects.", summary_of(made))

    def test_a_build_server_sees_them_pass(self):
        root = ElementTree.fromstring(write_report(report(new=[self.note], open=[]), "junit"))
        self.assertEqual((root.get("tests"), root.get("failures")), ("1", "0"))
        self.assertIn("tidebook.old was removed.", root.findtext(".//system-out"))

    def test_a_comment_folds_them(self):
        made = report(new=[self.note], open=[], fixed=[])
        text = write_report(made, "markdown")
        self.assertIn("<details><summary>Notes (1)</summary>", text)
        self.assertNotIn("New here", text)

    def test_they_stop_nothing(self):
        self.assertEqual(stopped_by(Gate(severity="warning"), [self.note], []), [])


class Tables(unittest.TestCase):
    def test_a_line_each_and_no_formula(self):
        other = Elsewhere("handbook", "1.3", "Docs", [finding(9)])
        rows = list(
            csv.DictReader(io.StringIO(write_report(report(new=[finding(1, text="=1+1")], elsewhere=[other]), "csv")))
        )
        self.assertEqual([(r["state"], r["project"]) for r in rows],
                         [("new", "crewroster"), ("open", "crewroster"), ("fixed", "crewroster"), ("new", "handbook")])  # fmt: skip
        self.assertEqual(rows[0]["text"], "'=1+1")


class Comments(unittest.TestCase):
    def test_new_things_first_and_old_ones_folded(self):
        text = write_report(report(held_for="1 dangling/symbol."), "markdown")
        self.assertLess(text.index("New here"), text.index("<details>"))
        self.assertIn("Held back", text)

    def test_a_long_report_is_cut_where_a_host_would_refuse_it(self):
        text = write_report(report(open=[finding(n) for n in range(2000)]), "markdown")
        self.assertLess(len(text), MAX_CHARS + 200)
        self.assertEqual(text.count("<details>"), text.count("</details>"))


class Hostile(unittest.TestCase):
    @given(st.text(max_size=60))
    def test_any_text_stays_text_in_every_format(self, text):
        hostile = finding(1, text=text, before=text, after=text, file=text, owner=text, suggestion=text, why=text)
        made = report(new=[replace(hostile, message=text, subject=text)], title=text)
        written = {form: write_report(made, form) for form in FORMATS}
        ElementTree.fromstring(written["junit"])
        self.assertEqual(strict(Sarif.model_validate_json(written["sarif"])), [])
        self.assertEqual(len(list(csv.reader(io.StringIO(written["csv"], newline="")))), 4)

    def test_markup_in_a_finding_does_nothing(self):
        markdown = write_report(report(new=[replace(finding(1), message="@all ![x](http://e) <b>")]), "markdown")
        self.assertNotIn("@all", markdown)
        self.assertNotIn("![x](", markdown)


if __name__ == "__main__":
    unittest.main()
