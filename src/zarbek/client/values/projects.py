"""Projects, their releases and runs, and what search finds."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import msgspec


class Release(msgspec.Struct, frozen=True, kw_only=True):
    """support: supported or retired by decision, else empty. is_judged: whether its references are looked at when
    others publish. held_for: why a policy keeps it from latest. symbols, pages: how many it has."""

    version: str
    is_preview: bool
    commit: str
    published_at: datetime | None
    aliases: list[str]
    symbols: int
    pages: int
    support: str
    is_judged: bool
    held_for: str


class Project(msgspec.Struct, frozen=True, kw_only=True):
    """latest: a version, empty for none. releases: newest first. purl: package URL (ECMA-427). visibility: for whom it
    is: public, inside for who is signed in, or teams for its members."""

    slug: str
    title: str
    summary: str
    owner: str
    purl: str
    latest: str
    releases: list[Release]
    visibility: str


class Dependency(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """purl: package URL (ECMA-427) without version. range: in the ecosystem's own notation,
    empty for any. exact: the version that a lock file names, or empty."""

    purl: str
    range: str = ""
    exact: str = ""


class TreeFacts(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A tree of HTML. folder: below the source's root, with a ``/`` at its end, or empty. address: where it is
    published, or empty. first: the page that readers come to first. frame: digests, in hexadecimal, of the blocks that
    its program puts around every page. body: selector of CSS for a page's content, or empty. language: of the code that
    it describes, or empty."""

    folder: str
    address: str = ""
    first: str = ""
    frame: list[str] = []
    body: str = ""
    language: str = ""


class Edition(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A view of a release, by the flags of its elements."""

    title: str = ""
    readers: Literal["public", "inside", "teams"] = "public"
    without: list[str] = []
    only: list[str] = []
    visibility: Literal["", "public", "internal", "private"] = ""


class Manifest(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """choices: which release of each project that it refers to its names mean."""

    format: int
    project: str
    version: str = ""
    title: str = ""
    summary: str = ""
    owner: str = ""
    purl: str = ""
    commit: str = ""
    repository: str = ""
    languages: list[str] = []
    namespaces: list[str] = []
    provides: dict[str, list[str]] = {}
    dependencies: list[Dependency] = []
    prefixes: dict[str, str] = {}
    outside: dict[str, str] = {}
    supported: list[str] = []
    owners: dict[str, str] = {}
    servers: list[str] = []
    trees: list[TreeFacts] = []
    editions: dict[str, Edition] = {}
    options: dict[str, str] = {}
    counts: dict[str, int] = {}
    digests: dict[str, str] = {}
    choices: dict[str, str]


class Policy(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """severity: of findings that hold a release back, and of worse ones; empty for no policy. families, rules: only
    these, if any are named. new_only: whether findings that stood before do not count. more_than: how many may pass."""

    severity: str = ""
    families: list[str] = []
    rules: list[str] = []
    new_only: bool = True
    more_than: int = 0


class Support(msgspec.Struct, frozen=True, kw_only=True):
    """support: by decision, empty for the rule. judged: whether its references are looked at when others publish."""

    version: str
    support: str
    judged: bool


class Hold(msgspec.Struct, frozen=True, kw_only=True):
    """released_by: who let the release become latest."""

    version: str
    released_by: str


class Claim(msgspec.Struct, frozen=True, kw_only=True):
    """One project's word that a name is its own. name: ``family:namespace``, or a package URL.
    held: whether it is; shared: whether with others, by decision."""

    name: str
    project: str
    held: bool
    shared: bool
    since: datetime
    decided_by: str


class Run(msgspec.Struct, frozen=True, kw_only=True):
    """One publish. state: queued, running, done or failed. done of total within the stage. problem: why it failed.
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
        """Whether it is done or failed."""
        return self.state in ("done", "failed")


class LogLine(msgspec.Struct, frozen=True, kw_only=True):
    """level: info, warning or error."""

    at: datetime
    level: str
    text: str


class Hit(msgspec.Struct, frozen=True, kw_only=True):
    """A symbol or guide that a search found. href: its address below the portal's."""

    project: str
    version: str
    kind: str
    path: str
    name: str
    summary: str
    is_deprecated: bool
    href: str


class Referrer(msgspec.Struct, frozen=True, kw_only=True):
    """A symbol or guide of another release that refers to something. kind: symbol or page."""

    project: str
    version: str
    kind: str
    path: str
