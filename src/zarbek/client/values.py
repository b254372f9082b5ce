"""What the portal answers."""

from __future__ import annotations

from datetime import datetime

import msgspec


class Release(msgspec.Struct, frozen=True):
    """support: supported or retired by decision, else empty. is_judged: whether its references are
    looked at when others publish. held_for: why a policy keeps it from latest."""

    version: str
    is_preview: bool
    commit: str
    published_at: datetime | None
    aliases: list[str]
    symbols: int
    pages: int
    support: str = ""
    is_judged: bool = False
    held_for: str = ""


class Project(msgspec.Struct, frozen=True):
    """releases: newest first."""

    slug: str
    title: str
    summary: str
    owner: str
    purl: str
    latest: str
    releases: list[Release]


class Run(msgspec.Struct, frozen=True):
    """state: queued, running, done or failed. done of total within the stage.
    is_new: false when the portal answered with an earlier run of the same content."""

    id: int
    project: str
    version: str
    state: str
    stage: str
    done: int
    total: int
    attempt: int
    is_preview: bool
    is_dry: bool
    actor: str
    problem: str
    counts: dict[str, int]
    created_at: datetime
    finished_at: datetime | None
    is_new: bool = True

    @property
    def is_over(self) -> bool:
        return self.state in ("done", "failed")


class LogLine(msgspec.Struct, frozen=True):
    at: datetime
    level: str
    text: str


class Hit(msgspec.Struct, frozen=True):
    project: str
    version: str
    kind: str
    path: str
    name: str
    summary: str
    is_deprecated: bool
    href: str


class Referrer(msgspec.Struct, frozen=True):
    project: str
    version: str
    kind: str
    path: str


class Token(msgspec.Struct, frozen=True):
    """text: only in the answer that made it."""

    id: int
    name: str
    project: str
    created_at: datetime
    expires_at: datetime | None
    last_used_at: datetime | None
    text: str = ""
