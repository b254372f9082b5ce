"""A report as text for a terminal."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rich.console import Console
from rich.markup import escape
from rich.text import Text

from zarbek.cli.terminal import count, print_indented

_STYLE = {"dangling": "red", "stale": "yellow", "text": "yellow"}


def print_report(report: dict[str, Any], console: Console) -> None:
    """report: as the API answers it."""
    console.print(f"[bold]{escape(report['project'])} {escape(report['version'])}[/bold]" + _run_words(report))
    console.print(summary_sentence(report))
    _print_group("New here", report["new"], console)
    for other in report["elsewhere"]:
        owner = f", owned by {other['owner']}" if other["owner"] else ", which nobody owns"
        _print_group(f"Broken in {other['project']} {other['version']}{owner}", other["findings"], console)
    _print_group("Still open", report["open"], console)
    _print_group("Mended", report["fixed"], console)


def _run_words(report: dict[str, Any]) -> str:
    if report.get("dry"):
        return ", a dry run; nothing was stored"
    return f", run {report['run']}" if report.get("run") else ""


def summary_sentence(report: dict[str, Any]) -> str:
    """``412 of 418 references hold. 4 dangle, 2 are stale. New 2, mended 1.``"""
    counts = report["counts"]
    sentence = f"{counts['held']:,} of {counts['total']:,} references hold."
    faults = []
    if counts["dangling"]:
        faults.append(f"{counts['dangling']:,} dangle" + ("s" if counts["dangling"] == 1 else ""))
    if counts["stale"]:
        faults.append(f"{counts['stale']:,} {'is' if counts['stale'] == 1 else 'are'} stale")
    if faults:
        sentence += f" {', '.join(faults)}."
    sentence += f" New {len(report['new'])}, still open {len(report['open'])}, mended {len(report['fixed'])}."
    broken = sum(len(other["findings"]) for other in report["elsewhere"])
    if broken:
        projects = count(len(report["elsewhere"]), "other project")
        sentence += f" This release touched {count(broken, 'reference')} in {projects}."
    return sentence


def _print_group(title: str, findings: Iterable[dict[str, Any]], console: Console) -> None:
    rows = list(findings)
    if not rows:
        return
    console.print(f"\n[bold]{escape(title)}[/bold]")
    for finding in rows:
        _print_finding(finding, console)


def _print_finding(finding: dict[str, Any], console: Console) -> None:
    family = finding["rule"].partition("/")[0]
    style = _STYLE.get(family, "")
    place = f"{finding.get('file', '')}:{finding.get('line', 0)}"
    console.print(Text.assemble((f"  {finding['rule']}", style), "  ", (place, "dim")))
    if finding.get("before") or finding.get("after"):
        line = Text()
        line.append(finding.get("before", "")).append(finding["text"], style=f"{style} underline")
        line.append(finding.get("after", ""))
        print_indented(line, 4, console)
    hint = finding["message"]
    if finding.get("suggestion"):
        sure = "Use " if finding.get("certain") else "Likely "
        why = f" ({finding['why']})" if finding.get("why") else ""
        hint += f" {sure}{finding['suggestion']}{why}."
    print_indented(Text(hint), 4, console)
