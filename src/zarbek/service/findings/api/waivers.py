"""Decisions to live with findings."""

from __future__ import annotations

from datetime import date
from typing import Annotated

import msgspec
from django.http import HttpResponse
from django.utils import timezone
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.permissions import require_maintainer
from zarbek.service.common.api import PAGING, Address, ApiView, Parameter, Slug, Words, describe, read_body
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.common.paging import page_of
from zarbek.service.findings.actions.waivers import end_waiver, make_waivers
from zarbek.service.findings.models import Waiver
from zarbek.service.findings.queries import counted_waivers, get_waiver, rule_of
from zarbek.service.findings.tasks import cover


class NewWaiver(msgspec.Struct, forbid_unknown_fields=True):
    """What to live with: a rule, a pattern of targets or files, or single findings by fingerprint.
    reason: why. until: the last day on which it holds. project: empty for every project."""

    reason: Words
    until: date
    project: Slug = ""
    rule: Annotated[str, msgspec.Meta(max_length=60, pattern="^[ -~]*$")] = ""
    target: Annotated[str, msgspec.Meta(max_length=700)] = ""
    file: Address = ""
    fingerprints: Annotated[
        list[Annotated[str, msgspec.Meta(max_length=16, pattern="^[0-9a-f]*$")]], msgspec.Meta(max_length=1000)
    ] = []


class WaiverView(msgspec.Struct):
    """Empty fields cover everything. covers: how many standing findings. until: the last day."""

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


class WaiverPage(msgspec.Struct):
    """next: the address of the waivers that follow, or null."""

    items: list[WaiverView]
    total: int
    next: str | None


def waiver_view(waiver: Waiver, covers: int) -> WaiverView:
    """covers: standing findings."""
    rule = rule_of(waiver)
    return WaiverView(
        waiver.pk, rule.project, rule.rule, rule.target, rule.file, rule.fingerprint, rule.reason, rule.person,
        rule.until, not rule.holds_on(timezone.now().date()), covers,
    )  # fmt: skip


class Waivers(ApiView):
    """The findings that somebody lives with for a while."""

    @describe(id="listWaivers", answer=WaiverPage,
              parameters=(*PAGING, Parameter("project", "Only of this project.")))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """Waivers, newest first; ended ones say so."""
        rows = counted_waivers()
        if slug := request.query_params.get("project"):
            rows = rows.filter(project__slug=slug)
        page = page_of(rows, ("-id",), request.query_params, request.path)
        return json_response(request, {**page, "items": [waiver_view(w, w.covers) for w in page["items"]]})

    @describe(id="addWaivers", answer=list[WaiverView], status=201, body=NewWaiver)
    def post(self, request: Request) -> HttpResponse:
        """Waive findings until a day: one waiver, or one for each fingerprint."""
        body = read_body(request, NewWaiver)
        if body.project:
            require_maintainer(body.project)
        else:
            require_administrator()
        made = make_waivers(
            project=body.project, rule=body.rule, target=body.target, file=body.file, fingerprints=body.fingerprints,
            reason=body.reason, until=body.until, person=request.user.get_username(),
        )  # fmt: skip
        if not body.project:
            cover.enqueue()
        counted = counted_waivers().filter(pk__in=[w.pk for w in made]).order_by("pk")
        return created_response(request, [waiver_view(w, w.covers) for w in counted])


class WaiverDetail(ApiView):
    """One waiver."""

    @describe(id="endWaiver", answer=None, status=204)
    def delete(self, request: Request, waiver_id: int) -> HttpResponse:
        """End a waiver now."""
        waiver = get_waiver(waiver_id)
        if waiver.project is not None:
            require_maintainer(waiver.project.slug)
        else:
            require_administrator()
        end_waiver(waiver)
        if waiver.project is None:
            cover.enqueue()
        return HttpResponse(status=204)
