"""Results of checks."""

import unittest

from zarbek.core.errors import UnreadableText
from zarbek.core.model.datamodel import Check
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.check_results import Results, read_results

JUNIT = """<?xml version="1.0"?><testsuites><testsuite name="sea" timestamp="2026-03-02T06:10:00">
<testcase classname="sea.ships" name="afloat"/>
<testcase classname="ships.id" name="id  &gt; 0"><failure message="2 rows:
 7, 9">long</failure></testcase>
<testcase name="only here"><skipped/></testcase><testcase classname="sea.ships" name="gone"><error>broke</error></testcase>
</testsuite></testsuites>"""
OWN = """looked_at: "2026-03-02T06:10:00Z"
results:
  - {table: ships, check: afloat, verdict: failed, told: one sank}
  - {table: nowhere, check: none, verdict: passed}
"""


def model() -> Catalog:
    catalog = Catalog(["sea"], folds=False)
    ships, ports = (TableDraft(["sea", name], Told("a.sql", 1), "mariadb") for name in ("ships", "ports"))
    ships.checks = [Check("is_afloat = 1", "afloat")]
    ships.columns["id"] = ColumnDraft("id", Told("a.sql", 1), checks=[Check("id > 0")])
    ports.checks = [Check("x", "only here")]
    catalog.add(ships)
    catalog.add(ports)
    return catalog


class Given(unittest.TestCase):
    def test_to_checks_by_name_or_words(self):
        catalog = model()
        findings = list(Results(catalog).add(read_results(JUNIT, "r.xml"), "r.xml"))
        ships, ports = catalog.tables["sea.ships"], catalog.tables["sea.ports"]
        (afloat,), (above,), (only,) = ships.checks, ships.columns["id"].checks, ports.checks
        self.assertEqual((afloat.verdict, afloat.looked_at), ("passed", "2026-03-02T06:10:00"))
        self.assertEqual((above.verdict, above.told), ("failed", "2 rows: 7, 9"))
        self.assertEqual(only.verdict, "skipped")
        self.assertEqual([(f.rule, f.subject, f.text) for f in findings], [("stale/result", "sea.ships", "gone")])

    def test_in_our_own_form(self):
        catalog = model()
        (lost,) = Results(catalog).add(read_results(OWN, "r.yaml"), "r.yaml")
        (afloat,) = catalog.tables["sea.ships"].checks
        self.assertEqual(
            (afloat.verdict, afloat.told, afloat.looked_at), ("failed", "one sank", "2026-03-02T06:10:00Z")
        )
        self.assertEqual((lost.line, lost.subject), (4, "sea"))

    def test_of_no_form_or_hostile_are_refused_with_their_line(self):
        bomb = '<!DOCTYPE a [<!ENTITY b "c"><!ENTITY d "&b;&b;">]><testsuite>&d;</testsuite>'
        for text, line in (("<testsuite>\n<testcase>", 2), (bomb, 1), ("results: 3", 1), ("[]", 1),
                           ("results: [{table: a, check: b, verdict: maybe}]", 1)):  # fmt: skip
            with self.subTest(text=text), self.assertRaises(UnreadableText) as refused:
                read_results(text, "r")
            self.assertEqual(refused.exception.line, line)


if __name__ == "__main__":
    unittest.main()
