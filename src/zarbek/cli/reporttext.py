"""A report as text for a terminal."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import msgspec
from rich.console import Console
from rich.text import Text

from zarbek.cli.terminal import print_indented, titled
from zarbek.client.values.findings import Report as Answered
from zarbek.core.findings.formats.wording import fix_of, groups_of, notes_of, place_of, summary_of
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

_STYLE = {"dangling": "red", "stale": "yellow", "text": "yellow"}


#: Lines of findings that a terminal shows before the rest is summed up.
MAX_LINES = 40
_MOST_FILES = 3
#: Of equal findings so many other places are told.
_MOST_PLACES = 5


def print_report(raw: Answered, console: Console, *, whole: bool = False) -> None:
    """What is certain, and in a terminal no more than MAX_LINES of it, equal findings together; what is left is
    summed up by rule and file, as notes always are. raw: as the API answers it. whole: everything."""
    report = msgspec.convert(raw, Report, from_attributes=True)
    console.print(titled(f"{report.project} {report.version}", _run_words(report)))
    console.print(summary_of(report))
    if report.held_for:
        print_indented(Text(f"Held back from latest. {report.held_for}", "red"), 0, console)
    notes = notes_of(report)
    left: list[Finding] = [] if whole else [*notes]
    room = _Room(MAX_LINES if console.is_terminal and not whole else None)
    for title, _, findings in groups_of(report):
        shown = room.take(_equal(findings) if room.most is not None else [[f] for f in findings], left)
        if shown:
            _print_group(title, shown, console)
    if whole and notes:
        _print_group("Notes", [[note] for note in notes], console)
    _print_left(left, report, console)
    _print_waived(report, console)
    examined = report.examined
    if examined.mentions:
        told = f"\nLooked again at {examined.mentions:,} of {examined.judged:,} references elsewhere."
        console.print(told, style="dim")


@dataclass(slots=True)
class _Room:
    """How many lines of findings there is room for. most: None for all."""

    most: int | None
    lines: int = 0

    def take(self, groups: list[list[Finding]], left: list[Finding]) -> list[list[Finding]]:
        """Those that have room; what has none goes to left."""
        shown = []
        for equal in groups:
            self.lines += _lines_of(equal[0])
            if self.most is None or self.lines <= self.most:
                shown.append(equal)
            else:
                left += equal
        return shown


def _equal(findings: Iterable[Finding]) -> list[list[Finding]]:
    """Findings that say the same of the same thing, at several places, together."""
    found: dict[tuple[str, ...], list[Finding]] = {}
    for f in findings:
        found.setdefault((f.rule, f.target, f.message, f.suggestion, f.was, f.now), []).append(f)
    return list(found.values())


def _lines_of(finding: Finding) -> int:
    return 2 + bool(finding.before or finding.after) + 2 * bool(finding.was or finding.now)


def _print_left(left: list[Finding], report: Report, console: Console) -> None:
    if not left:
        return
    console.print(titled("\nNot shown"))
    by_rule: dict[str, Counter[str]] = {}
    for finding in left:
        by_rule.setdefault(finding.rule, Counter())[finding.file or finding.subject] += 1
    for rule, files in sorted(by_rule.items(), key=lambda item: (-item[1].total(), item[0])):
        most = [f"{file} {count}" for file, count in files.most_common(_MOST_FILES)]
        more = len(files) - len(most)
        told = ", ".join(most) + (f" and {more} more" if more else "")
        print_indented(Text.assemble(f"{files.total():,} ", rule, "  ", (told, "dim")), 2, console)
    command = "--all" if report.dry or not report.run else f"zarbek report {report.project}@{report.version} --all"
    console.print(Text(f"  {command} shows them.", "dim"))


def _run_words(report: Report) -> str:
    if report.dry:
        return ", a dry run; nothing was stored"
    return f", run {report.run}" if report.run else ""


def _print_group(title: str, findings: Iterable[Sequence[Finding]], console: Console) -> None:
    console.print(titled(f"\n{title}"))
    for equal in findings:
        print_finding(equal[0], console, equal[1:])


def print_finding(finding: Finding, console: Console, others: Sequence[Finding] = ()) -> None:
    """others: those that say the same at other places."""
    style = _STYLE.get(finding.family, "")
    console.print(Text.assemble((f"  {finding.rule}", style), "  ", (place_of(finding), "dim")))
    if finding.before or finding.after:
        line = Text()
        line.append(finding.before).append(finding.text, style=f"{style} underline").append(finding.after)
        print_indented(line, 4, console)
    print_indented(Text(f"{finding.message} {fix_of(finding)}".strip()), 4, console)
    if finding.was or finding.now:
        print_indented(Text.assemble(("was ", "dim"), finding.was), 4, console)
        print_indented(Text.assemble(("now ", "dim"), finding.now), 4, console)
    if others:
        places = ", ".join(place_of(other) for other in others[:_MOST_PLACES])
        more = f" and {len(others) - _MOST_PLACES} more" if len(others) > _MOST_PLACES else ""
        print_indented(Text(f"The same at {places}{more}.", "dim"), 4, console)


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
