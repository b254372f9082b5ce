"""Findings as HTML for mail, feeds and the report's format: inline styles, for readers that know no others; no
picture, no script, no address elsewhere."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.template.loader import render_to_string

from zarbek.core.findings.formats.wording import fix_of, groups_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

_COLOURS = {"dangling": "#a42a22"}
_OTHER_COLOUR = "#785000"
MEDIA_TYPE = "text/html; charset=utf-8"


@dataclass(frozen=True, slots=True)
class Item:
    """A finding as templates show it."""

    finding: Finding
    place: str
    fix: str
    colour: str


@dataclass(frozen=True, slots=True)
class Group:
    """Findings below a heading."""

    heading: str
    items: list[Item]


def items_of(findings: Iterable[Finding]) -> list[Item]:
    """Findings as the template shows them."""
    return [Item(f, place_of(f), fix_of(f), _COLOURS.get(f.family, _OTHER_COLOUR)) for f in findings]


def report_html(report: Report) -> str:
    """A report as a whole page."""
    facts = {
        "heading": f"References of {report.project} {report.version}", "summary": summary_of(report),
        "held_for": report.held_for,
        "groups": [Group(heading, items_of(found)) for heading, _, found in groups_of(report)],
    }  # fmt: skip
    return render_to_string("findings/report.html", facts)
