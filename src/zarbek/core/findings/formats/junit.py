"""JUnit's XML, as build servers read it: a rule is a suite, a finding a failed case."""

from __future__ import annotations

from collections import defaultdict
from xml.etree import ElementTree

from zarbek.core.findings.formats.wording import fix_of, place_of, summary_of
from zarbek.core.findings.formats.xml_text import xml_text
from zarbek.core.findings.report import Report, Waived
from zarbek.core.model.finding import Finding


def to_junit(report: Report) -> str:
    """New and open findings fail, waived ones are skipped, notes pass; nothing found passes in one case."""
    waived = {w.finding.fingerprint: w for w in report.waived if not w.ended}
    by_rule: dict[str, list[Finding]] = defaultdict(list)
    for finding in (*report.new, *report.open):
        by_rule[finding.rule].append(finding)
    name = xml_text(f"{report.project} {report.version}")
    failures = sum(_fails(f, waived) for found in by_rule.values() for f in found)
    total = sum(map(len, by_rule.values())) or 1
    root = ElementTree.Element("testsuites", name=name, tests=str(total), failures=str(failures))
    for rule, found in sorted(by_rule.items()):
        skipped = sum(f.fingerprint in waived for f in found)
        suite = _element(
            root, "testsuite", name=rule, tests=str(len(found)), failures=str(sum(_fails(f, waived) for f in found)),
            skipped=str(skipped), errors="0",
        )  # fmt: skip
        for finding in found:
            case = _element(
                suite, "testcase", classname=finding.subject or report.project,
                name=f"{place_of(finding)} {finding.text}", file=finding.file, line=str(finding.line),
            )  # fmt: skip
            waiver = waived.get(finding.fingerprint)
            if waiver is not None:
                _element(case, "skipped", message=f"{waiver.reason} (until {waiver.until})")
                continue
            sentence = f"{finding.before}{finding.text}{finding.after}".strip()
            told = "\n".join(filter(None, [place_of(finding), sentence, fix_of(finding)]))
            if finding.is_note:
                _element(case, "system-out").text = xml_text(f"{finding.message}\n{told}")
            else:
                _element(case, "failure", type=finding.rule, message=finding.message).text = xml_text(told)
    if not by_rule:
        suite = _element(root, "testsuite", name="references", tests="1", failures="0", errors="0")
        _element(suite, "testcase", classname=report.project, name=summary_of(report))
    ElementTree.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="unicode") + "\n"


def _fails(finding: Finding, waived: dict[str, Waived]) -> bool:
    return not finding.is_note and finding.fingerprint not in waived


def _element(parent: ElementTree.Element, tag: str, **attributes: str) -> ElementTree.Element:
    return ElementTree.SubElement(parent, tag, {name: xml_text(value) for name, value in attributes.items()})
