"""JUnit's XML, as build servers read it: a rule is a suite, a finding a failed case."""

from __future__ import annotations

from collections import defaultdict
from xml.etree import ElementTree

from zarbek.core.findings.formats.wording import mend_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding


def to_junit(report: Report) -> str:
    """New and open findings fail, waived ones are skipped; a rule without any passes in one case."""
    waived = {w.finding.fingerprint: w for w in report.waived if not w.ended}
    by_rule: dict[str, list[Finding]] = defaultdict(list)
    for finding in (*report.new, *report.open):
        by_rule[finding.rule].append(finding)
    name = f"{report.project} {report.version}"
    failures = sum(f.fingerprint not in waived for found in by_rule.values() for f in found)
    total = sum(map(len, by_rule.values())) or 1
    root = ElementTree.Element("testsuites", name=name, tests=str(total), failures=str(failures))
    for rule, found in sorted(by_rule.items()):
        skipped = sum(f.fingerprint in waived for f in found)
        suite = ElementTree.SubElement(
            root, "testsuite", name=rule, tests=str(len(found)), failures=str(len(found) - skipped),
            skipped=str(skipped), errors="0",
        )  # fmt: skip
        for finding in found:
            case = ElementTree.SubElement(
                suite, "testcase", classname=_clean(finding.subject or report.project),
                name=_clean(f"{place_of(finding)} {finding.text}"), file=_clean(finding.file), line=str(finding.line),
            )  # fmt: skip
            waiver = waived.get(finding.fingerprint)
            if waiver is not None:
                ElementTree.SubElement(case, "skipped", message=_clean(f"{waiver.reason} (until {waiver.until})"))
                continue
            failure = ElementTree.SubElement(case, "failure", type=finding.rule, message=_clean(finding.message))
            sentence = f"{finding.before}{finding.text}{finding.after}".strip()
            failure.text = _clean("\n".join(filter(None, [place_of(finding), sentence, mend_of(finding)])))
    if not by_rule:
        suite = ElementTree.SubElement(root, "testsuite", name="references", tests="1", failures="0", errors="0")
        ElementTree.SubElement(suite, "testcase", classname=report.project, name=summary_of(report))
    ElementTree.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="unicode") + "\n"


def _clean(text: str) -> str:
    """Without characters that XML 1.0 (section 2.2) does not know."""
    return "".join(c for c in text if c in "\t\n" or " " <= c <= "\ud7ff" or "\ue000" <= c <= "\ufffd" or c > "\uffff")
