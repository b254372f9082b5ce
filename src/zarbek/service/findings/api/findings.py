"""Findings across the portal, and the newest report of a project."""

from __future__ import annotations

from datetime import date, datetime

import msgspec
from django.db.models import QuerySet
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.findings.formats import FORMATS, write_report
from zarbek.core.findings.report import Report, without_projects
from zarbek.core.findings.rules import RULES, SEVERITY_ORDER
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.queries import get_project, get_release, has_project
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.api import ASCII, PAGING, ApiView, Parameter, describe, read_choice, read_flag
from zarbek.service.common.conditional import body_response, json_response
from zarbek.service.common.paging import page_of
from zarbek.service.common.request_validation import read_number
from zarbek.service.content.editions import projects_read_in_part
from zarbek.service.findings.actions.judging import list_waived
from zarbek.service.findings.html_report import MEDIA_TYPE, report_html
from zarbek.service.findings.models import FindingRecord
from zarbek.service.findings.queries import FindingQuery, Group, find_findings, group_findings, standing
from zarbek.service.findings.trends import HealthView, MapEdge, TrendPoint, list_edges, list_points, list_trend
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.queries import get_reported_run, get_run_with_report


class WaivedBy(msgspec.Struct):
    """The waiver that covers a finding; until: its last day."""

    reason: str
    person: str
    until: date


class FindingView(msgspec.Struct):
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


class FindingPage(msgspec.Struct):
    """next: the address of the findings that follow, or null."""

    items: list[FindingView]
    total: int
    next: str | None


class FindingGroup(msgspec.Struct):
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


_FILTERS = (
    Parameter("project", "Only of this project."), Parameter("family", "dangling, stale or text.", pattern=ASCII),
    Parameter("rule", "Only of this rule.", pattern=ASCII), Parameter("severity", "error, warning or note.", pattern=ASCII),
    Parameter("least", "Of this severity or a worse one."),
    Parameter("state", "new, open, back or fixed; all but fixed if left out."),
    Parameter("owner", "Only of this owner; - for nobody's."), Parameter("target", "Only about this: PROJECT/NAME."),
    Parameter("waived", "true for waived ones only, false for the others."),
)  # fmt: skip


def asked_findings(request: Request) -> QuerySet[FindingRecord]:
    """The findings that a request asks for. Raises Problem for a word that is none of its choices."""
    asked = {name: request.query_params.get(name, "") for name in FindingQuery.__struct_fields__}
    if asked["least"]:
        read_choice(request, "least", SEVERITY_ORDER, "note")
    waived = read_flag(request, "waived") if asked.pop("waived") else None
    return find_findings(FindingQuery(**asked, waived=waived))


def finding_view(row: FindingRecord) -> FindingView:
    """A standing finding as the API shows it."""
    waiver = row.waiver
    return FindingView(
        row.project.slug, row.version, row.branch, row.state, _cause(row), row.first_seen_at, row.last_seen_at,
        row.fixed_at, row.fixed_in, row.first_run,
        WaivedBy(waiver.reason, waiver.person, waiver.until) if waiver else None,
        standing([row])[0],
    )  # fmt: skip


def _cause(row: FindingRecord) -> str:
    """What brought it about, unless that is kept from the asker."""
    return "" if row.cause.partition(" ")[0] in hidden_projects().slugs else row.cause


class Findings(ApiView):
    """The findings that stand."""

    @describe(id="listFindings", answer=FindingPage,
              parameters=(*PAGING, *_FILTERS))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """Findings of the releases that are judged."""
        rows = asked_findings(request)
        page = page_of(rows, ("project__slug", "rule", "pk"), request.query_params, request.path)
        return json_response(request, {**page, "items": [finding_view(r) for r in page["items"]]})


class FindingGroups(ApiView):
    """The findings that stand, in groups."""

    @describe(id="groupFindings", answer=list[FindingGroup],
              parameters=(Parameter("by", "target, owner, rule or project; target if left out."), *_FILTERS))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """The same findings, grouped: the largest group first."""
        by = read_choice(request, "by", ("target", "owner", "rule", "project"), "target")
        groups = group_findings(asked_findings(request), by)
        firsts = FindingRecord.objects.in_bulk([group.first for group in groups])
        return json_response(request, [_group_view(g, firsts[g.first]) for g in groups if g.first in firsts])


def _group_view(group: Group, first: FindingRecord) -> FindingGroup:
    suggestion = next(iter(group.suggestions)) if len(group.suggestions) == 1 else ""
    return FindingGroup(
        group.key, group.count, group.places, group.new, group.waived, sorted(group.projects), sorted(group.rules),
        first.document.get("message", ""), suggestion, group.oldest or first.first_seen_at,
    )  # fmt: skip


_FORMAT = Parameter("format", "json, sarif, junit, csv, markdown or html; json if left out.")


class LatestReport(ApiView):
    """The report of a project's release."""

    @describe(id="getReport", answer=Report,
              parameters=(Parameter("version", "A version or alias; latest if left out."), _FORMAT))  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The report of the run that published a release."""
        release = get_release(slug, request.query_params.get("version", ""))
        return report_response(request, get_reported_run(slug, release.version))


class RunReport(ApiView):
    """The report of a run."""

    @describe(id="getRunReport", answer=Report,
              parameters=(_FORMAT,))  # fmt: skip
    def get(self, request: Request, run_id: int) -> HttpResponse:
        """What a run found, against the run before."""
        return report_response(request, get_run_with_report(run_id))


def report_response(request: Request, run: Run) -> HttpResponse:
    """What the run found, with the waivers of today."""
    form = read_choice(request, "format", (*FORMATS, "html"), "json")
    kept = hidden_projects().slugs | projects_read_in_part().slugs
    report = without_projects(msgspec.json.decode(run.report, type=Report), kept)
    if has_project(run.project):
        found = [*report.new, *report.open]
        report = msgspec.structs.replace(report, waived=list_waived(get_project(run.project), found))
    if form == "html":
        return body_response(request, report_html(report).encode(), content_type=MEDIA_TYPE)
    return body_response(request, write_report(report, form).encode(), content_type=FORMATS[form][0])


class RuleView(msgspec.Struct):
    """fix: what to do about it."""

    id: str
    severity: str
    meaning: str
    fix: str


class Rules(ApiView):
    """The rules by which findings are made."""

    @describe(id="listRules", answer=list[RuleView])
    def get(self, request: Request) -> HttpResponse:
        """The rules with their meanings."""
        return json_response(request, [RuleView(r.id, r.severity, r.meaning, r.fix) for r in RULES])


class Health(ApiView):
    """A project's references over its runs."""

    @describe(id="getHealth", answer=list[HealthView])
    def get(self, request: Request, slug: str) -> HttpResponse:
        """References of a project over its runs, oldest first."""
        return json_response(request, list_points(get_project(slug)))


class Trend(ApiView):
    """References over the last days."""

    @describe(id="getTrend", answer=list[TrendPoint],
              parameters=(Parameter("owner", "Only projects of this team."), Parameter("project", "Only this project."),
                          Parameter("days", "How many days back; 30 if left out.", "integer", least=1, most_number=3660)))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """References over time, of the portal, a team or a project."""
        days = read_number("days", request.query_params.get("days", "30"), 1, 3660)
        asked = request.query_params
        return json_response(request, list_trend(days, asked.get("owner", ""), asked.get("project", "")))


class Map(ApiView):
    """Which project refers to which."""

    @describe(id="getMap", answer=list[MapEdge])
    def get(self, request: Request) -> HttpResponse:
        """Which project refers to which, and how its references there come out."""
        return json_response(request, list_edges())
