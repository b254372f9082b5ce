"""A report as text for a terminal."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec
from rich.console import Console
from rich.text import Text

from zarbek.cli.terminal import print_indented, titled
from zarbek.core.findings.formats.wording import groups_of, mend_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

_STYLE = {"dangling": "red", "stale": "yellow", "text": "yellow"}


def print_report(raw: dict[str, Any], console: Console) -> None:
    """raw: as the API answers it."""
    report = msgspec.convert(raw, Report)
    console.print(titled(f"{report.project} {report.version}", _run_words(report)))
    console.print(summary_of(report))
    if report.held_for:
        print_indented(Text(f"Held back from latest. {report.held_for}", "red"), 0, console)
    for title, _, findings in groups_of(report):
        _print_group(title, findings, console)
    _print_waived(report, console)
    examined = report.examined
    if examined.mentions:
        told = f"\nLooked again at {examined.mentions:,} of {examined.judged:,} references elsewhere."
        console.print(told, style="dim")


def _run_words(report: Report) -> str:
    if report.dry:
        return ", a dry run; nothing was stored"
    return f", run {report.run}" if report.run else ""


def _print_group(title: str, findings: Iterable[Finding], console: Console) -> None:
    console.print(titled(f"\n{title}"))
    for finding in findings:
        print_finding(finding, console)


def print_finding(finding: Finding, console: Console) -> None:
    style = _STYLE.get(finding.family, "")
    console.print(Text.assemble((f"  {finding.rule}", style), "  ", (place_of(finding), "dim")))
    if finding.before or finding.after:
        line = Text()
        line.append(finding.before).append(finding.text, style=f"{style} underline").append(finding.after)
        print_indented(line, 4, console)
    print_indented(Text(f"{finding.message} {mend_of(finding)}".strip()), 4, console)
    if finding.was or finding.now:
        print_indented(Text.assemble(("was ", "dim"), finding.was), 4, console)
        print_indented(Text.assemble(("now ", "dim"), finding.now), 4, console)


def _print_waived(report: Report, console: Console) -> None:
    waived = [w for w in report.waived if not w.ended]
    if waived:
        console.print(titled("\nWaived"))
    for held in waived:
        print_indented(Text(f"{held.finding.rule}  {place_of(held.finding)}", "dim"), 2, console)
        print_indented(Text(f"{held.person}, until {held.until}: {held.reason}"), 4, console)
    ended = [w for w in report.waived if w.ended]
    if ended:
        console.print(titled("\nWaivers that have ended"))
    for over in ended:
        print_finding(over.finding, console)
        print_indented(Text(f"Waived by {over.person} until {over.until}: {over.reason}"), 4, console)
