"""HTML for mail: inline styles, for readers that know no others; no picture, no script, no address
elsewhere."""

from __future__ import annotations

from html import escape

from zarbek.core.findings.formats.wording import fix_of, groups_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

_BODY = "font:15px/1.5 Georgia,serif;color:#17211f;background:#ffffff;max-width:46em;margin:1.5em auto;padding:0 1em"
_SOFT = "color:#54615e;font-size:13px"
_COLOURS = {"dangling": "#a42a22", "stale": "#785000"}


def to_html(report: Report) -> str:
    heading = f"References of {report.project} {report.version}"
    groups = "".join(_group(title, findings) for title, _, findings in groups_of(report))
    held = f"<p><strong>Held back from latest.</strong> {escape(report.held_for)}</p>" if report.held_for else ""
    return page_of(heading, f"<p>{escape(summary_of(report))}</p>{held}{groups}")


def page_of(heading: str, content: str) -> str:
    """A whole page around content that is HTML already."""
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{escape(heading)}</title></head>'
        f'<body style="{_BODY}"><h1 style="font-size:22px">{escape(heading)}</h1>{content}</body></html>\n'
    )


def _group(title: str, findings: list[Finding]) -> str:
    return f'<h2 style="font-size:17px">{escape(title)}</h2><ul>{"".join(item_of(f) for f in findings)}</ul>'


def item_of(finding: Finding) -> str:
    """One finding as an item of a list."""
    colour = _COLOURS.get(finding.family, "#785000")
    sentence = (
        f"{escape(finding.before)}<strong>{escape(finding.text)}</strong>{escape(finding.after)}<br>"
        if finding.before or finding.after
        else ""
    )
    return (
        f'<li style="margin:0.6em 0"><span style="color:{colour}">{escape(finding.rule)}</span> '
        f'<span style="{_SOFT}">{escape(place_of(finding))}</span><br>{sentence}'
        f"{escape(finding.message)} {escape(fix_of(finding))}</li>"
    )
