"""Markdown for a comment on a merge request: short, new things first, the rest folded."""

from __future__ import annotations

import re

from zarbek.core.findings.formats.wording import fix_of, groups_of, notes_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

#: Code hosts refuse longer comments.
MAX_CHARS = 60_000
_FOLDED = ("open", "fixed")
_SPECIAL = re.compile(r"([\\`*_{}\[\]<>|#!~])")


def to_markdown(report: Report) -> str:
    title = f"### References of {escape(report.project)} {escape(report.version)}"
    parts = [title, summary_of(report)]
    if report.held_for:
        parts.append(f"**Held back from `latest`.** {escape(report.held_for)}")
    for heading, state, findings in groups_of(report):
        rows = "\n".join(_item(f) for f in findings)
        if state in _FOLDED:
            parts.append(f"<details><summary>{escape(heading)} ({len(findings)})</summary>\n\n{rows}\n\n</details>")
        else:
            parts.append(f"#### {escape(heading)}\n\n{rows}")
    if notes := notes_of(report):
        rows = "\n".join(map(_item, notes))
        parts.append(f"<details><summary>Notes ({len(notes)})</summary>\n\n{rows}\n\n</details>")
    waived = [w for w in report.waived if not w.ended]
    if waived:
        words = [f"{_item(w.finding)} Waived by {escape(w.person)} until {w.until}: {escape(w.reason)}" for w in waived]
        rows = "\n".join(words)
        parts.append(f"<details><summary>Waived ({len(waived)})</summary>\n\n{rows}\n\n</details>")
    ended = [w for w in report.waived if w.ended]
    if ended:
        rows = "\n".join(
            f"{_item(w.finding)} Waived by {escape(w.person)} until {w.until}, which is over." for w in ended
        )
        parts.append(f"#### Waivers that have ended\n\n{rows}")
    text = "\n\n".join(parts) + "\n"
    if len(text) <= MAX_CHARS:
        return text
    cut = text[:MAX_CHARS].rpartition("\n")[0]
    closing = "\n\n</details>" if cut.count("<details>") > cut.count("</details>") else ""
    return f"{cut}{closing}\n\nThe report is longer than a comment may be; the portal has all of it.\n"


def _item(finding: Finding) -> str:
    mend = f" {escape(fix_of(finding))}" if finding.suggestion else ""
    return f"- **{escape(finding.rule)}** `{_code(place_of(finding))}`: {escape(finding.message)}{mend}"


def escape(text: str) -> str:
    """Text that stays text, on one line."""
    return _SPECIAL.sub(r"\\\1", " ".join(text.split())).replace("@", "@\u200b")


def _code(text: str) -> str:
    return text.replace("`", "'")
