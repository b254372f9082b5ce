import unittest

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.report import compare_findings
from zarbek.core.findings.rules import RULES, at_least
from zarbek.core.model.finding import Finding


def finding(name, line=1):
    return Finding(
        "dangling/symbol",
        "error",
        "p.f",
        "gone",
        file="a.py",
        line=line,
        text=name,
        fingerprint=fingerprint("dangling/symbol", "p.f", name),
    )


class Comparison(unittest.TestCase):
    def test_new_open_and_fixed(self):
        new, still, fixed = compare_findings(
            [finding("a", 9), finding("b"), finding("b")], [finding("a", 2), finding("c")]
        )
        self.assertEqual([[f.text for f in group] for group in (new, still, fixed)], [["b"], ["a"], ["c"]])

    def test_fingerprint_survives_white_space_and_lines_but_not_another_name(self):
        self.assertEqual(fingerprint("r", "s", "a  b"), fingerprint("r", "s", "a b"))
        self.assertNotEqual(fingerprint("r", "s", "a"), fingerprint("r", "s", "b"))

    def test_severities_are_ordered(self):
        self.assertTrue(at_least("error", "warning"))
        self.assertFalse(at_least("note", "warning"))

    def test_rule_ids_are_unique_and_explained(self):
        self.assertEqual(len({r.id for r in RULES}), len(RULES))
        self.assertTrue(all(r.meaning.endswith(".") and r.mend.endswith(".") for r in RULES))


if __name__ == "__main__":
    unittest.main()
