"""People, teams, who has which part, tokens, sessions, and who did what."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import msgspec


class Token(msgspec.Struct, frozen=True, kw_only=True):
    """scope: read, publish or manage. maker: whose account it stands for. text: only in the answer that made it."""

    id: int
    name: str
    project: str
    scope: str
    maker: str
    created_at: datetime
    expires_at: datetime | None
    last_used_at: datetime | None
    text: str = ""


class Person(msgspec.Struct, frozen=True, kw_only=True):
    """An account. is_from_provider: whether it signs in at the provider of identities."""

    name: str
    email: str
    is_active: bool
    is_administrator: bool
    is_from_provider: bool
    teams: list[str]
    last_login: datetime | None


class Team(msgspec.Struct, frozen=True, kw_only=True):
    """is_from_provider: whether the provider of identities says who is in it. people: for administrators and for who is
    in it; else empty."""

    name: str
    is_from_provider: bool
    people: list[str]


class Visibility(msgspec.Struct, frozen=True, kw_only=True):
    """public: for all who reach the portal; inside: for who is signed in; teams: for members."""

    visibility: str


class ProjectMember(msgspec.Struct, frozen=True, kw_only=True):
    """A person, or a team, with its part: reader, maintainer or owner. is_everywhere: in all projects."""

    user: str
    team: str
    role: str
    since: datetime
    is_everywhere: bool


class SignIn(msgspec.Struct, frozen=True, kw_only=True):
    """A session of the asker. agent: what its browser says that it is. is_this: whether it is the one that asks."""

    id: int
    created_at: datetime
    seen_at: datetime
    address: str
    agent: str
    is_this: bool


class AuditEntry(msgspec.Struct, frozen=True, kw_only=True):
    """at: when. actor: name of an account, ``portal`` for what happens by itself, empty for nobody. token: by which, if
    by any. address: from where. subject: to what, in the project or the portal. before, after: what changed."""

    id: int
    at: datetime
    actor: str
    token: str
    address: str
    action: str
    project: str
    subject: str
    before: Any = None
    after: Any = None


class Subscription(msgspec.Struct, frozen=True, kw_only=True):
    """project: of which one is told what is new; or owner: the team whose turn it is."""

    id: int
    project: str
    owner: str


class MailSettings(msgspec.Struct, frozen=True, kw_only=True):
    """address: where mail goes; empty where the account has none."""

    address: str
    is_paused: bool
    subscriptions: list[Subscription]
