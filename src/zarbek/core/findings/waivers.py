"""Which findings someone has decided to live with."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from fnmatch import fnmatchcase

import msgspec

from zarbek.core.model.finding import Finding


class WaiverRule(msgspec.Struct, frozen=True, kw_only=True):
    """What a waiver covers; an empty part covers everything, ``*`` stands for any text.

    until: the last day on which it holds.
    """

    id: int = 0
    project: str = ""
    rule: str = ""
    target: str = ""
    file: str = ""
    fingerprint: str = ""
    reason: str = ""
    person: str = ""
    until: date

    def covers(self, finding: Finding, project: str) -> bool:
        """Whether a finding of a project is one that the waiver is for, whatever the day."""
        return (
            self.project in ("", project)
            and self.fingerprint in ("", finding.fingerprint)
            and _fits(self.rule, finding.rule)
            and _fits(self.target, finding.target)
            and _fits(self.file, finding.file)
        )

    def holds_on(self, day: date) -> bool:
        """Whether the waiver holds on a day; its last one is until."""
        return day <= self.until


def _fits(pattern: str, text: str) -> bool:
    return not pattern or fnmatchcase(text, pattern)


def waiver_of(finding: Finding, project: str, waivers: Iterable[WaiverRule], day: date) -> WaiverRule | None:
    """The waiver that holds longest of those that cover a finding on a day."""
    found = [w for w in waivers if w.holds_on(day) and w.covers(finding, project)]
    return max(found, key=lambda w: (w.until, -w.id), default=None)
