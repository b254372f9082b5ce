"""Static Analysis Results Interchange Format 2.1.0 (OASIS Standard, 27 March 2020)."""

from __future__ import annotations

import json
from typing import Any
from urllib.parse import quote

from zarbek import __version__
from zarbek.core.findings.formats.wording import fix_of
from zarbek.core.findings.report import Report, Waived
from zarbek.core.findings.rules import RULES
from zarbek.core.model.finding import Finding

SCHEMA = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
_INDEX = {rule.id: at for at, rule in enumerate(RULES)}
#: Section 3.27.24: what the result is against the run before.
_STATES = {"new": "new", "open": "unchanged", "fixed": "absent"}


def to_sarif(report: Report) -> str:
    """Findings of the report's own project, each with its state against the run before; absent ones
    are those that were mended."""
    waived = {w.finding.fingerprint: w for w in report.waived if not w.ended}
    states = (("new", report.new), ("open", report.open), ("fixed", report.fixed))
    results = [_result(f, _STATES[state], waived.get(f.fingerprint)) for state, found in states for f in found]
    run: dict[str, Any] = {
        "tool": {"driver": {"name": "Zarbek", "version": __version__, "semanticVersion": __version__,
                            "rules": [_rule(r.id, r.severity, r.meaning, r.fix) for r in RULES]}},
        "automationDetails": {"id": f"zarbek/{report.project}/{report.branch or 'latest'}"},
        "columnKind": "unicodeCodePoints",
        "originalUriBaseIds": {"SOURCES": {"description": {"text": "The root of the gathered source."}}},
        "results": results,
    }  # fmt: skip
    if report.repository.startswith(("http://", "https://")) and report.commit:
        run["versionControlProvenance"] = [{"repositoryUri": report.repository, "revisionId": report.commit}]
    return json.dumps({"$schema": SCHEMA, "version": "2.1.0", "runs": [run]}, indent=2, ensure_ascii=False) + "\n"


def _rule(rule_id: str, severity: str, meaning: str, fix: str) -> dict[str, Any]:
    return {
        "id": rule_id, "name": "".join(part.capitalize() for part in rule_id.replace("/", "-").split("-")),
        "shortDescription": {"text": meaning}, "fullDescription": {"text": f"{meaning} {fix}"},
        "help": {"text": fix, "markdown": f"**{meaning}** {fix}"}, "defaultConfiguration": {"level": severity},
    }  # fmt: skip


def _result(finding: Finding, state: str, waived: Waived | None) -> dict[str, Any]:
    fix = fix_of(finding)
    result: dict[str, Any] = {
        "ruleId": finding.rule, "level": finding.severity,
        "message": {"text": f"{finding.message} {fix}".strip()},
        "partialFingerprints": {"zarbek/v1": finding.fingerprint}, "baselineState": state,
        "suppressions": [],
    }  # fmt: skip
    if finding.rule in _INDEX:  # What a bundle of another program says besides is shown as it is.
        result["ruleIndex"] = _INDEX[finding.rule]
    if finding.file:
        result["locations"] = [_location(finding)]
    if finding.owner:
        result["properties"] = {"owner": finding.owner}
    if waived is not None:
        text = f"{waived.reason} ({waived.person}, until {waived.until})"
        result["suppressions"] = [{"kind": "external", "status": "accepted", "justification": text}]
    return result


def _location(finding: Finding) -> dict[str, Any]:
    physical: dict[str, Any] = {"artifactLocation": {"uri": quote(finding.file), "uriBaseId": "SOURCES"}}
    if finding.line > 0:
        region: dict[str, Any] = {"startLine": finding.line}
        if finding.column > 0:
            region["startColumn"] = finding.column
        physical["region"] = region
    location: dict[str, Any] = {"physicalLocation": physical}
    if finding.subject:
        location["logicalLocations"] = [
            {"fullyQualifiedName": finding.subject, "kind": _KINDS.get(finding.subject_kind, "member")}
        ]
    return location


_KINDS = {"symbol": "member", "page": "resource", "project": "module"}
