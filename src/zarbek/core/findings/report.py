"""What a run found, against the run before."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import date

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
    """Findings that this publish brought about, or mended, in another project."""

    project: str
    version: str
    owner: str
    findings: list[Finding]
    fixed: list[Finding] = []


class Waived(msgspec.Struct, frozen=True):
    """A finding that someone has decided to live with. ended: whether that time is over."""

    finding: Finding
    reason: str
    person: str
    until: date
    ended: bool = False


class Examined(msgspec.Struct, frozen=True):
    """Mentions of other releases that were looked at again, of all that are judged."""

    releases: int = 0
    texts: int = 0
    mentions: int = 0
    judged: int = 0


class Report(msgspec.Struct, frozen=True, kw_only=True):
    """new, open and fixed are disjoint and sorted by place; fixed are as they were. waived: those of
    new and open that a waiver covers, and those whose waiver has ended. held_for: why the project's
    policy keeps the release from ``latest``. withheld: how many findings its reader is not told, since they are about
    projects that are kept from them."""

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
    waived: list[Waived] = []
    examined: Examined = Examined()
    held_for: str = ""
    branch: str = ""
    title: str = ""
    repository: str = ""
    commit: str = ""
    withheld: int = 0


class Compared(msgspec.Struct, frozen=True):
    """new, open and fixed as in a report. carried: computed fingerprint of a finding now to that of
    the finding that it continues, where these differ."""

    new: list[Finding]
    open: list[Finding]
    fixed: list[Finding]
    carried: dict[str, str]

    @property
    def is_empty(self) -> bool:
        """Whether nothing stood before and nothing stands now."""
        return not (self.new or self.open or self.fixed)


def compare_findings(now: Iterable[Finding], before: Iterable[Finding]) -> Compared:
    """By fingerprint, then by what moved: the same fault under a subject that has another path now.

    Each group is sorted by place and without repeats.
    """
    current = {f.fingerprint: f for f in sorted(now, key=Finding.sort_key, reverse=True)}
    known = {f.fingerprint: f for f in before}
    new = [f for key, f in current.items() if key not in known]
    gone = [f for key, f in known.items() if key not in current]
    carried = _carried(new, gone)
    continued = set(carried.values())
    still = [f for key, f in current.items() if key in known or key in carried]
    return Compared(
        sorted((f for f in new if f.fingerprint not in carried), key=Finding.sort_key),
        sorted(still, key=Finding.sort_key),
        sorted((f for f in gone if f.fingerprint not in continued), key=Finding.sort_key),
        carried,
    )


def _carried(new: list[Finding], gone: list[Finding]) -> dict[str, str]:
    """Findings that went with their file or symbol: alike in rule, target and words, and alone in it;
    or alike in the last part of their subject, and alone in that."""
    found: dict[str, str] = {}
    for words in (True, False):
        left, right = _alike(new, words, found.keys()), _alike(gone, words, set(found.values()))
        for key, findings in left.items():
            others = right.get(key, [])
            if len(findings) == 1 == len(others):
                found[findings[0].fingerprint] = others[0].fingerprint
    return found


def _alike(findings: list[Finding], words: bool, taken: Iterable[str]) -> dict[tuple[str, ...], list[Finding]]:
    done = set(taken)
    groups: dict[tuple[str, ...], list[Finding]] = defaultdict(list)
    for f in findings:
        if f.fingerprint in done:
            continue
        last = f.subject.rpartition("/")[2].rpartition(".")[2]
        place = (f.before, f.after) if words else (last,)
        if any(place):
            groups[f.rule, f.target, f.text, *place].append(f)
    return groups


def without_projects(report: Report, hidden: Collection[str]) -> Report:
    """The report as somebody is told it from whom projects are kept: findings in them or about them are counted, and
    nothing else is said of them."""
    if not hidden:
        return report
    is_own = report.project in hidden

    def told(findings: Iterable[Finding]) -> list[Finding]:
        return [f for f in findings if f.about not in hidden and not is_own]

    elsewhere = [
        msgspec.structs.replace(e, findings=told(e.findings), fixed=told(e.fixed))
        for e in report.elsewhere if e.project not in hidden
    ]  # fmt: skip
    made = msgspec.structs.replace(
        report, new=told(report.new), open=told(report.open), fixed=told(report.fixed), elsewhere=elsewhere,
        waived=[w for w in report.waived if w.finding.about not in hidden and not is_own], examined=Examined(),
    )  # fmt: skip
    return msgspec.structs.replace(made, withheld=_size(report) - _size(made))


def _size(report: Report) -> int:
    own = len(report.new) + len(report.open) + len(report.fixed)
    return own + sum(len(e.findings) + len(e.fixed) for e in report.elsewhere)
