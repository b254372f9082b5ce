"""Comma-separated values (RFC 4180), a finding a line."""

from __future__ import annotations

import csv
import io

from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

COLUMNS = (
    "state", "project", "version", "rule", "severity", "file", "line", "column", "subject", "text", "message", "target",
    "suggestion", "certain", "owner", "fingerprint", "waived_until",
)  # fmt: skip


def to_csv(report: Report) -> str:
    """A report as CSV (RFC 4180), a finding a row."""
    waived = {w.finding.fingerprint: w.until.isoformat() for w in report.waived if not w.ended}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for state, findings in (("new", report.new), ("open", report.open), ("fixed", report.fixed)):
        for f in findings:
            writer.writerow(_row(state, report.project, report.version, f, waived.get(f.fingerprint, "")))
    for other in report.elsewhere:
        for f in other.findings:
            writer.writerow(_row("new", other.project, other.version, f, ""))
        for f in other.fixed:
            writer.writerow(_row("fixed", other.project, other.version, f, ""))
    return out.getvalue()


def _row(state: str, project: str, version: str, f: Finding, until: str) -> list[str]:
    cells = [
        state, project, version, f.rule, f.severity, f.file, str(f.line), str(f.column), f.subject, f.text,
        f.message, f.target, f.suggestion, "yes" if f.certain else "", f.owner, f.fingerprint, until,
    ]  # fmt: skip
    # A spreadsheet would take these for formulas.
    return ["'" + cell if cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell for cell in cells]
