"""Where references come from and events go to; requests that were sent."""

from __future__ import annotations

from datetime import datetime

import msgspec

from zarbek.client.values.interfaces import Snippet


class Ahead(msgspec.Struct, frozen=True, kw_only=True):
    """tags: newer than what is published. commits: on the branch since, None where unknown."""

    tags: list[str] = []
    commits: int | None = None
    branch: str = ""
    since: str = ""
    head: str = ""


class Source(msgspec.Struct, frozen=True, kw_only=True):
    """address, folder: empty for who may not manage the project. hook: the address that a code host may call;
    secret: only in the answer that made it."""

    id: int
    project: str
    address: str
    folder: str
    poll_minutes: int
    tags: str
    branch: str
    polled_at: datetime | None
    problem: str
    ahead: Ahead
    hook: str
    secret: str = ""


class RunningService(msgspec.Struct, frozen=True, kw_only=True):
    """headers: their names; what they hold is never told."""

    name: str
    address: str
    server: str
    strip: str
    headers: list[str]
    poll_minutes: int
    asked_at: datetime | None
    fetched_at: datetime | None
    changed_at: datetime | None
    problem: str


class Database(msgspec.Struct, frozen=True, kw_only=True):
    """The database that a project is gathered with. address, password_from, schemas: empty for who may not manage the
    project. schemas: each with the database and schema in which its tables lie in the model."""

    address: str
    password_from: str
    schemas: dict[str, str]
    poll_minutes: int
    asked_at: datetime | None
    fetched_at: datetime | None
    changed_at: datetime | None
    problem: str


class Webhook(msgspec.Struct, frozen=True, kw_only=True):
    """secret: only in the answer that made it."""

    id: int
    url: str
    project: str
    person: str
    created_at: datetime
    secret: str = ""


class Delivery(msgspec.Struct, frozen=True, kw_only=True):
    """state: waiting, delivered or given-up. status: HTTP status of the last answer, 0 for none."""

    id: int
    event: str
    type: str
    state: str
    attempts: int
    status: int
    problem: str
    created_at: datetime
    due_at: datetime
    delivered_at: datetime | None
    body: str


class GivenAnswer(msgspec.Struct, frozen=True, kw_only=True):
    """What came back. time_ms: until the last byte. described: whether the description has the
    status; fits: whether the body is what it describes, None where that cannot be judged."""

    status: int
    reason: str
    headers: list[tuple[str, str]]
    body: str
    time_ms: int
    truncated: bool
    described: bool
    fits: bool | None
    faults: list[str]


class CallResult(msgspec.Struct, frozen=True, kw_only=True):
    """A request as it was sent, or would be, and what came back. problem: why none did."""

    method: str
    url: str
    snippets: list[Snippet]
    answer: GivenAnswer | None = None
    problem: str = ""
