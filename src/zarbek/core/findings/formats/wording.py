"""A report in sentences."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding


def count(number: int, one: str, many: str = "") -> str:
    """``1 symbol``, ``2 symbols``."""
    return f"{number:,} {one if number == 1 else many or one + 's'}"


def faults_of(dangling: int, stale: int) -> str:
    """``1 dangles, 2 are stale``; empty where all is well."""
    told = [f"{dangling:,} {'dangles' if dangling == 1 else 'dangle'}"] if dangling else []
    told += [f"{stale:,} {'is' if stale == 1 else 'are'} stale"] if stale else []
    return ", ".join(told)


def summary_of(report: Report) -> str:
    """``412 of 418 references hold. 4 dangle, 2 are stale. New 2, still open 4, mended 1.``"""
    counts = report.counts
    sentence = f"{counts.held:,} of {counts.total:,} references hold."
    if faults := faults_of(counts.dangling, counts.stale):
        sentence += f" {faults}."
    new, still, fixed = (len(without_notes(f)) for f in (report.new, report.open, report.fixed))
    sentence += f" New {new}, still open {still}, mended {fixed}."
    return sentence + "".join(f" {told}" for told in [*_told_elsewhere(report), *_told_besides(report)])


def _told_elsewhere(report: Report) -> Iterator[str]:
    elsewhere = [(e.project, len(without_notes(e.findings))) for e in report.elsewhere]
    broken = sum(number for _, number in elsewhere)
    mended = sum(len(without_notes(other.fixed)) for other in report.elsewhere)
    projects = count(len({project for project, number in elsewhere if number}), "other project")
    if broken:
        word = "would touch" if report.dry else "touched"
        yield f"This release {word} {count(broken, 'reference')} in {projects}."
    if mended:
        yield f"It {'would mend' if report.dry else 'mended'} {count(mended, 'reference')} elsewhere."


def _told_besides(report: Report) -> Iterator[str]:
    ended = sum(w.ended for w in report.waived)
    if waived := len(report.waived) - ended:
        yield f"{count(waived, 'finding')} {'is' if waived == 1 else 'are'} waived."
    if ended:
        yield f"{count(ended, 'waiver has', 'waivers have')} ended."
    if notes := len(notes_of(report)):
        yield f"{count(notes, 'note')} besides."
    if report.withheld:
        yield f"{report.withheld} more in projects that you may not see."


def without_notes(findings: Iterable[Finding]) -> list[Finding]:
    """What counts."""
    return [f for f in findings if not f.is_note]


def notes_of(report: Report) -> list[Finding]:
    """What is merely worth knowing in the report's own project."""
    return [f for f in (*report.new, *report.open) if f.is_note]


def fix_of(finding: Finding) -> str:
    """What to do about it, with the reason; empty where nothing is known."""
    if not finding.suggestion:
        return ""
    why = f" ({finding.why})" if finding.why else ""
    return f"{'Use' if finding.certain else 'Likely'} {finding.suggestion}{why}."


def place_of(finding: Finding) -> str:
    """FILE:LINE of a finding, or what it is about where it has no file."""
    if not finding.file:
        return "the manifest" if finding.subject_kind == "project" else finding.subject
    return f"{finding.file}:{finding.line}" if finding.line else finding.file


def groups_of(report: Report) -> list[tuple[str, str, list[Finding]]]:
    """(heading, state, findings) in the order in which they should be read; without notes and empty groups."""
    waived = {w.finding.fingerprint for w in report.waived if not w.ended}
    groups = [("New here", "new", [f for f in report.new if f.fingerprint not in waived])]
    for other in report.elsewhere:
        owner = f", owned by {other.owner}" if other.owner else ", which nobody owns"
        groups.append((f"Broken in {other.project} {other.version}{owner}", "new", other.findings))
        groups.append((f"Mended in {other.project} {other.version}", "fixed", other.fixed))
    groups.append(("Still open", "open", [f for f in report.open if f.fingerprint not in waived]))
    groups.append(("Mended", "fixed", report.fixed))
    told = [(heading, state, without_notes(found)) for heading, state, found in groups]
    return [group for group in told if group[2]]
