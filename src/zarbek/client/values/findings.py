"""Reports, findings, waivers and patches."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

import msgspec


class Finding(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """One problem in one place.

    rule: ``family/name``. subject: path of the symbol or page where it stands.
    text: what was written, with before and after for its surroundings on the line.
    target: what it was about: ``PROJECT/PATH`` or a name. suggestion: the likely name to
    write in its place; certain: whether that is beyond doubt; why: its reason.
    was, now: declarations or texts, old beside new. fingerprint: 16 hexadecimal digits that survive
    line moves. places: how often the text has it."""

    rule: str
    severity: Literal["error", "warning", "note"]
    subject: str
    message: str
    subject_kind: str = "symbol"
    file: str = ""
    line: int = 0
    column: int = 0
    text: str = ""
    before: str = ""
    after: str = ""
    target: str = ""
    suggestion: str = ""
    certain: bool = False
    why: str = ""
    fingerprint: str = ""
    owner: str = ""
    was: str = ""
    now: str = ""
    places: int = 1


class Counted(msgspec.Struct, frozen=True, kw_only=True):
    """References of one release. held: those that are neither dangling nor stale."""

    total: int = 0
    held: int = 0
    dangling: int = 0
    stale: int = 0
    outside: int = 0


class Elsewhere(msgspec.Struct, frozen=True, kw_only=True):
    """Findings that this publish brought about, or mended, in another project."""

    project: str
    version: str
    owner: str
    findings: list[Finding]
    fixed: list[Finding] = []


class Waived(msgspec.Struct, frozen=True, kw_only=True):
    """A finding that someone has decided to live with. ended: whether that time is over."""

    finding: Finding
    reason: str
    person: str
    until: date
    ended: bool = False


class Examined(msgspec.Struct, frozen=True, kw_only=True):
    """Mentions of other releases that were looked at again, of all that are judged."""

    releases: int = 0
    texts: int = 0
    mentions: int = 0
    judged: int = 0


class Report(msgspec.Struct, frozen=True, kw_only=True):
    """new, open and fixed are disjoint and sorted by place; fixed are as they were. waived: those of
    new and open that a waiver covers, and those whose waiver has ended. held_for: why the project's
    policy keeps the release from ``latest``. withheld: how many findings one is not told, since they are about projects
    that are kept from one."""

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


class WaivedBy(msgspec.Struct, frozen=True, kw_only=True):
    """Who lives with a finding until a day, and why."""

    reason: str
    person: str
    until: date


class StandingFinding(msgspec.Struct, frozen=True, kw_only=True):
    """state: new, open, back or fixed. cause: the release that brought it about."""

    project: str
    version: str
    branch: str
    state: str
    cause: str
    first_seen_at: datetime
    last_seen_at: datetime | None
    fixed_at: datetime | None
    fixed_in: str
    first_run: int
    waived: WaivedBy | None
    finding: Finding


class FindingGroup(msgspec.Struct, frozen=True, kw_only=True):
    """Findings that belong together: key is a target, owner or rule. places: where they stand. message: of one of
    them."""

    key: str
    count: int
    places: int
    new: int
    waived: int
    projects: list[str]
    rules: list[str]
    message: str
    suggestion: str
    oldest: datetime


class Waiver(msgspec.Struct, frozen=True, kw_only=True):
    """A decision to live with findings until a day. project, rule, target, file, fingerprint: which ones; empty for
    any. ended: whether the day is past. covers: how many stand under it."""

    id: int
    project: str
    rule: str
    target: str
    file: str
    fingerprint: str
    reason: str
    person: str
    until: date
    ended: bool
    covers: int


class Edit(msgspec.Struct, frozen=True, kw_only=True):
    """Write replacement in place of written. line: 1-based; column: 1-based, 0 for unknown."""

    file: str
    line: int
    column: int
    written: str
    replacement: str
    certain: bool = True
    rule: str = ""
    why: str = ""


class Edits(msgspec.Struct, frozen=True, kw_only=True):
    """What to write in the files of a commit."""

    project: str
    version: str
    commit: str
    edits: list[Edit]


class Patch(msgspec.Struct, frozen=True, kw_only=True):
    """state: making or made. diff: for ``git apply`` at the root of the repository. made: names that it mends; left:
    edits that it does not make, each with the reason."""

    project: str
    version: str
    commit: str
    state: str
    diff: str
    made: int
    left: list[str]


class Rule(msgspec.Struct, frozen=True, kw_only=True):
    """fix: what to do about it."""

    id: str
    severity: str
    meaning: str
    fix: str


class Unreachable(msgspec.Struct, frozen=True, kw_only=True):
    """An address that could not be reached, and since when."""

    url: str
    why: str
    since: datetime


class Addresses(msgspec.Struct, frozen=True, kw_only=True):
    """known: addresses of the newest release that are asked. unreachable: those of which nothing can be
    told, which is no fault of the references."""

    asks: bool
    quiet: list[str]
    known: int
    unreachable: list[Unreachable]
    checked_at: datetime | None
