"""Findings across the portal, and the newest report of a project."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.findings.rules import RULES
from zarbek.service.catalog.queries import get_project, get_release
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of
from zarbek.service.common.problems import NotFound
from zarbek.service.findings.models import ALIVE, FindingRecord
from zarbek.service.publishing.models import Run


class FindingView(msgspec.Struct):
    project: str
    version: str
    state: str
    cause: str
    first_seen_at: datetime
    first_run: int
    finding: dict[str, Any]


class FindingPage(msgspec.Struct):
    items: list[FindingView]
    total: int
    next: str | None


class Findings(ApiView):
    @describe(id="listFindings", summary="Findings of the newest releases.", answer=FindingPage,
              parameters=(*PAGING, Parameter("project", "Only of this project."), Parameter("family", "dangling, stale or text."),
                          Parameter("rule", "Only of this rule."), Parameter("severity", "error, warning or note."),
                          Parameter("state", "new, open, back or fixed; all but fixed if left out."), Parameter("owner", "Only of this owner.")))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        asked = request.query_params
        rows = FindingRecord.objects.select_related("project").order_by("project__slug", "rule", "pk")
        rows = rows.filter(state=asked["state"]) if asked.get("state") else rows.filter(state__in=ALIVE)
        for name, field in (
            ("project", "project__slug"),
            ("rule", "rule"),
            ("severity", "severity"),
            ("owner", "owner"),
        ):
            if value := asked.get(name):
                rows = rows.filter(**{field: value})
        if family := asked.get("family"):
            rows = rows.filter(rule__startswith=f"{family}/")
        page = page_of(rows, asked, request.path)
        items = [
            FindingView(r.project.slug, r.version, r.state, r.cause, r.first_seen_at, r.first_run, r.document)
            for r in page["items"]
        ]
        return json_response(request, {**page, "items": items})


class LatestReport(ApiView):
    @describe(id="getReport", summary="The report of the run that published a release.", answer=dict,
              parameters=(Parameter("version", "A version or alias; latest if left out."),))  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        release = get_release(slug, request.query_params.get("version", ""))
        run = (
            Run.objects.filter(project=slug, version=release.version, state="done", is_dry=False)
            .order_by("-pk")
            .first()
        )
        if run is None or not run.report:
            raise NotFound(f"{slug} {release.version} has no report.")
        return json_response(request, msgspec.json.decode(run.report))


class Rules(ApiView):
    @describe(id="listRules", summary="The rules with their meanings.", answer=list)
    def get(self, request: Request) -> HttpResponse:
        return json_response(
            request, [{"id": r.id, "severity": r.severity, "meaning": r.meaning, "mend": r.mend} for r in RULES]
        )


class Health(ApiView):
    @describe(id="getHealth", summary="References of a project over its runs, oldest first.", answer=list)
    def get(self, request: Request, slug: str) -> HttpResponse:
        rows = get_project(slug).health.order_by("run").values("run", "at", "total", "dangling", "stale")
        return json_response(request, list(rows))
