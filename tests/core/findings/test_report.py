import ast
import re
import unittest
from pathlib import Path

from msgspec.structs import replace

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
        found = compare_findings([finding("a", 9), finding("b"), finding("b")], [finding("a", 2), finding("c")])
        groups = (found.new, found.open, found.fixed)
        self.assertEqual([[f.text for f in group] for group in groups], [["b"], ["a"], ["c"]])

    def test_a_finding_goes_with_its_file_or_symbol(self):
        old = replace(finding("a"), before="See ", after=" first.", target="q/q.a")
        moved = replace(old, subject="p.new.f", file="new.py", fingerprint="moved")
        found = compare_findings([moved], [old])
        self.assertEqual((found.new, found.fixed, found.carried), ([], [], {"moved": old.fingerprint}))
        reworded = replace(moved, before="Look at ")
        self.assertEqual(compare_findings([reworded], [old]).carried, {"moved": old.fingerprint})
        elsewhere = replace(moved, before="Look at ", subject="p.new.g")
        self.assertEqual(compare_findings([elsewhere], [old]).carried, {})

    def test_two_that_look_alike_are_not_guessed_between(self):
        old = replace(finding("a"), before="See ", target="q/q.a")
        twins = [replace(old, subject=f"p.{n}.f", fingerprint=n) for n in ("one", "two")]
        self.assertEqual(compare_findings(twins, [old]).carried, {})

    def test_fingerprint_survives_white_space_and_lines_but_not_another_name(self):
        self.assertEqual(fingerprint("r", "s", "a  b"), fingerprint("r", "s", "a b"))
        self.assertNotEqual(fingerprint("r", "s", "a"), fingerprint("r", "s", "b"))

    def test_severities_are_ordered(self):
        self.assertTrue(at_least("error", "warning"))
        self.assertFalse(at_least("note", "warning"))

    def test_rule_ids_are_unique_and_explained(self):
        self.assertEqual(len({r.id for r in RULES}), len(RULES))
        self.assertEqual({text[-1:] for rule in RULES for text in (rule.meaning, rule.fix)}, {"."})

    def test_every_rule_that_code_names_is_known(self):
        families = {rule.id.partition("/")[0] for rule in RULES}
        named = set()
        for file in (Path(__file__).parents[3] / "src" / "zarbek").rglob("*.py"):
            for node in ast.walk(ast.parse(file.read_text())):
                if isinstance(node, ast.Constant) and isinstance(node.value, str):
                    family, slash, name = node.value.partition("/")
                    if slash and family in families and re.fullmatch("[a-z]+(-[a-z]+)*", name):
                        named.add(node.value)
        media = {"text/css", "text/csv", "text/event-stream", "text/plain", "text/html", "text/x-diff", "text/xml"}
        self.assertEqual(named - media, {rule.id for rule in RULES})

    def test_every_rule_has_its_meaning_mend_and_an_example_in_the_documentation(self):
        page = (Path(__file__).parents[3] / "docs" / "rules.md").read_text()
        sections = dict(re.findall(r"^## (\S+/\S+)\n(.*?)(?=^## |\Z)", page, re.MULTILINE | re.DOTALL))
        self.assertEqual(sorted(sections), sorted(r.id for r in RULES))
        for rule in RULES:
            with self.subTest(rule.id):
                text = sections[rule.id]
                self.assertIn(f"*{rule.severity.capitalize()}.* {rule.meaning} {rule.fix}", text)
                self.assertIn("\nExample: ", text)


if __name__ == "__main__":
    unittest.main()
