"""Who did what."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import Any

import msgspec
from django.db.models import QuerySet
from django.http import HttpResponse, StreamingHttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.models import AuditEntry
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.accounts.queries import list_audit
from zarbek.service.catalog.permissions import require_owner
from zarbek.service.common.api import ASCII, PAGING, ApiView, Parameter, describe
from zarbek.service.common.asker import for_asker
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of


class AuditView(msgspec.Struct):
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


class AuditPage(msgspec.Struct):
    """next: the address of what was done before, or null."""

    items: list[AuditView]
    total: int
    next: str | None


_FILTERS = (
    Parameter("project", "Only what was done to this project; for others than administrators, one that they own."),
    Parameter("action", "Only what was done so.", pattern=ASCII), Parameter("actor", "Only what this account did."),
)  # fmt: skip


class Audit(ApiView):
    """What was done, by whom."""

    @describe(id="listAudit", answer=AuditPage, parameters=(*PAGING, *_FILTERS))
    def get(self, request: Request) -> HttpResponse:
        """What was done, newest first."""
        page = page_of(_asked_for(request), ("-id",), request.query_params, request.path)
        return json_response(request, {**page, "items": [_view(entry) for entry in page["items"]]})


class AuditLines(ApiView):
    """What was done, all of it."""

    @describe(id="exportAudit", answer=str, media_type="application/x-ndjson", parameters=_FILTERS)
    def get(self, request: Request) -> StreamingHttpResponse:
        """What was done, oldest first: JSON Lines."""
        rows = _asked_for(request).order_by("id")
        return StreamingHttpResponse(for_asker(_lines(rows)), content_type="application/x-ndjson")


def _asked_for(request: Request) -> QuerySet[AuditEntry]:
    asked = {name: request.query_params.get(name, "") for name in ("project", "action", "actor")}
    if asked["project"]:
        require_owner(asked["project"])
    else:
        require_administrator()
    return list_audit(**asked)


def _lines(rows: QuerySet[AuditEntry]) -> Iterator[bytes]:
    for entry in rows.iterator(chunk_size=500):
        yield msgspec.json.encode(_view(entry)) + b"\n"


def _view(entry: AuditEntry) -> AuditView:
    return AuditView(
        entry.pk, entry.at, entry.actor, entry.token, entry.address, entry.action, entry.project, entry.subject,
        entry.before, entry.after,
    )  # fmt: skip
