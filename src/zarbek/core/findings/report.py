"""What a run found, against the run before."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from zarbek.core.model.finding import Finding


class Counted(msgspec.Struct, frozen=True):
    """References of one release. held: those that are neither dangling nor stale."""

    total: int = 0
    held: int = 0
    dangling: int = 0
    stale: int = 0
    outside: int = 0


class Elsewhere(msgspec.Struct, frozen=True):
    """Findings that this publish brought about in another project."""

    project: str
    version: str
    owner: str
    findings: list[Finding]


class Report(msgspec.Struct, frozen=True, kw_only=True):
    """new, open and fixed are disjoint and sorted by place; fixed are as they were."""

    project: str
    version: str
    run: int = 0
    previous: str = ""
    dry: bool = False
    counts: Counted
    new: list[Finding]
    open: list[Finding]
    fixed: list[Finding]
    elsewhere: list[Elsewhere] = []


def compare_findings(
    now: Iterable[Finding], before: Iterable[Finding]
) -> tuple[list[Finding], list[Finding], list[Finding]]:
    """(new, open, fixed) by fingerprint, each sorted by place and without repeats."""
    current = {f.fingerprint: f for f in sorted(now, key=Finding.sort_key, reverse=True)}
    known = {f.fingerprint: f for f in before}
    new = [f for key, f in current.items() if key not in known]
    still = [f for key, f in current.items() if key in known]
    fixed = [f for key, f in known.items() if key not in current]
    return tuple(sorted(group, key=Finding.sort_key) for group in (new, still, fixed))  # type: ignore[return-value]
