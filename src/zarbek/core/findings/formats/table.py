"""Comma-separated values (RFC 4180), a finding a line."""

from __future__ import annotations

from collections.abc import Iterator

from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding
from zarbek.core.writing.csv_table import csv_table

COLUMNS = (
    "state", "project", "version", "rule", "severity", "file", "line", "column", "subject", "text", "message", "target",
    "suggestion", "certain", "owner", "fingerprint", "waived_until",
)  # fmt: skip


def to_csv(report: Report) -> str:
    """A report as CSV (RFC 4180), a finding a row."""
    return csv_table(COLUMNS, _rows(report))


def _rows(report: Report) -> Iterator[list[str]]:
    waived = {w.finding.fingerprint: w.until.isoformat() for w in report.waived if not w.ended}
    for state, findings in (("new", report.new), ("open", report.open), ("fixed", report.fixed)):
        for f in findings:
            yield _row(state, report.project, report.version, f, waived.get(f.fingerprint, ""))
    for other in report.elsewhere:
        for f in other.findings:
            yield _row("new", other.project, other.version, f, "")
        for f in other.fixed:
            yield _row("fixed", other.project, other.version, f, "")


def _row(state: str, project: str, version: str, f: Finding, until: str) -> list[str]:
    return [
        state, project, version, f.rule, f.severity, f.file, str(f.line), str(f.column), f.subject, f.text,
        f.message, f.target, f.suggestion, "yes" if f.certain else "", f.owner, f.fingerprint, until,
    ]  # fmt: skip
