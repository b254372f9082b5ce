"""What the portal says of itself."""

from __future__ import annotations

from datetime import date, datetime

import msgspec


class Published(msgspec.Struct, frozen=True, kw_only=True):
    """The last run of a project that published something. counts: as the run's."""

    run: int
    project: str
    version: str
    at: datetime
    counts: dict[str, int]


class OwnerFindings(msgspec.Struct, frozen=True, kw_only=True):
    """Standing findings that a team is to look at, by family; owner: empty for nobody."""

    owner: str
    dangling: int
    stale: int
    text: int
    projects: list[str]


class Going(msgspec.Struct, frozen=True, kw_only=True):
    """A run that waits or goes; done of total within the stage."""

    id: int
    project: str
    version: str
    stage: str
    done: int
    total: int
    state: str


class Day(msgspec.Struct, frozen=True, kw_only=True):
    """dangling: references that dangled at the end of a day."""

    day: date
    dangling: int


class Dashboard(msgspec.Struct, frozen=True, kw_only=True):
    """name: of the portal. references, dangling, stale: of the newest releases. new_dangling: findings. trend: the
    last days, oldest first."""

    name: str
    references: int
    dangling: int
    stale: int
    new_dangling: int
    projects: int
    published: list[Published]
    by_owner: list[OwnerFindings]
    running: list[Going]
    trend: list[Day]


class HealthPoint(msgspec.Struct, frozen=True, kw_only=True):
    """References of a project after a run, and its findings: open since before, new, fixed."""

    run: int
    at: datetime
    total: int
    dangling: int
    stale: int
    open: int
    new: int
    fixed: int


class TrendPoint(msgspec.Struct, frozen=True, kw_only=True):
    """At one moment: references, and findings but notes that stand; new and fixed since the point before."""

    at: datetime
    total: int
    dangling: int
    stale: int
    open: int
    new: int
    fixed: int


class MapEdge(msgspec.Struct, frozen=True, kw_only=True):
    """References of the newest release of one project into another. version: the one they mean."""

    source: str
    target: str
    version: str
    total: int
    dangling: int
    stale: int
