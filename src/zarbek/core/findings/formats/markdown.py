"""Markdown for a comment on a merge request: short, new things first, the rest folded."""

from __future__ import annotations

import re

from zarbek.core.findings.formats.wording import fix_of, groups_of, notes_of, place_of, summary_of
from zarbek.core.findings.report import Report, Waived
from zarbek.core.model.finding import Finding

#: Code hosts refuse longer comments.
MAX_CHARS = 60_000
_FOLDED = ("open", "fixed")
_SPECIAL = re.compile(r"([\\`*_{}\[\]<>|#!~])")


def to_markdown(report: Report) -> str:
    """A report as CommonMark with tables (GFM 4.10), such as a merge request shows it."""
    title = f"### References of {escape(report.project)} {escape(report.version)}"
    parts = [title, summary_of(report)]
    if report.held_for:
        parts.append(f"**Held back from `latest`.** {escape(report.held_for)}")
    for heading, state, findings in groups_of(report):
        rows = "\n".join(_item(f) for f in findings)
        parts.append(_folded(escape(heading), len(findings), rows) if state in _FOLDED else _open(heading, rows))
    if notes := notes_of(report):
        parts.append(_folded("Notes", len(notes), "\n".join(map(_item, notes))))
    if waived := [_waived(w) for w in report.waived if not w.ended]:
        parts.append(_folded("Waived", len(waived), "\n".join(waived)))
    if ended := [_waived(w) for w in report.waived if w.ended]:
        parts.append(_open("Waivers that have ended", "\n".join(ended)))
    return _within_bounds("\n\n".join(parts) + "\n")


def _folded(heading: str, number: int, rows: str) -> str:
    return f"<details><summary>{heading} ({number})</summary>\n\n{rows}\n\n</details>"


def _open(heading: str, rows: str) -> str:
    return f"#### {escape(heading)}\n\n{rows}"


def _waived(waived: Waived) -> str:
    until = (
        f"until {waived.until}, which is over." if waived.ended else f"until {waived.until}: {escape(waived.reason)}"
    )
    return f"{_item(waived.finding)} Waived by {escape(waived.person)} {until}"


def _within_bounds(text: str) -> str:
    if len(text) <= MAX_CHARS:
        return text
    cut = text[:MAX_CHARS].rpartition("\n")[0]
    closing = "\n\n</details>" if cut.count("<details>") > cut.count("</details>") else ""
    return f"{cut}{closing}\n\nThe report is longer than a comment may be; the portal has all of it.\n"


def _item(finding: Finding) -> str:
    fix = f" {escape(fix_of(finding))}" if finding.suggestion else ""
    return f"- **{escape(finding.rule)}** `{_code(place_of(finding))}`: {escape(finding.message)}{fix}"


def escape(text: str) -> str:
    """Text that stays text, on one line."""
    return _SPECIAL.sub(r"\\\1", " ".join(text.split())).replace("@", "@\u200b")


def _code(text: str) -> str:
    return text.replace("`", "'")
