"""Atom feeds (RFC 4287) of the portal, of a project and of a team."""

from __future__ import annotations

from collections.abc import Iterable
from urllib.parse import quote

import msgspec
from django.conf import settings
from django.db.models import QuerySet
from django.http import HttpResponse
from django.template.loader import render_to_string
from django.utils.feedgenerator import Atom1Feed
from rest_framework.request import Request

from zarbek.core.findings.formats.wording import summary_of, without_notes
from zarbek.core.findings.formats.xml_text import xml_text
from zarbek.core.findings.report import Report, without_projects
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.queries import get_project
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.api import ApiView
from zarbek.service.common.problems import NotFound
from zarbek.service.findings.html_report import items_of
from zarbek.service.findings.models import FindingRecord
from zarbek.service.findings.queries import standing
from zarbek.service.publishing.models import Run

LENGTH = 40


class PortalFeed(ApiView):
    """The portal's runs as a feed (RFC 4287)."""

    def get(self, request: Request) -> HttpResponse:
        """The feed."""
        return _runs("The portal", "/", "portal", Run.objects.all())


class ProjectFeed(ApiView):
    """A project's runs as a feed."""

    def get(self, request: Request, slug: str) -> HttpResponse:
        """The feed. Raises NotFound."""
        project = get_project(slug)
        return _runs(project.title, f"/projects/{slug}", f"projects/{slug}", Run.objects.filter(project=slug))


class TeamFeed(ApiView):
    """What is new for a team, wherever it stands."""

    def get(self, request: Request, owner: str) -> HttpResponse:
        """The feed; empty for a team that owns nothing."""
        return _team(owner)


def _team(owner: str) -> HttpResponse:
    known = FindingRecord.objects.filter(owner=owner)
    if not known.exists():
        raise NotFound(f"No finding was ever {owner}'s turn.")
    feed = _feed(owner, f"/findings?owner={owner}", f"teams/{owner}")
    rows = known.exclude(severity="note").select_related("project").order_by("-first_seen_at", "-pk")
    for row in rows[:LENGTH]:
        (finding,) = standing([row])
        feed.add_item(
            title=xml_text(f"{row.project.slug}: {finding.message}"),
            description=_entry([finding]),
            link=f"{settings.PUBLIC_URL}/findings?project={quote(row.project.slug)}&rule={quote(row.rule)}",
            unique_id=f"{settings.PUBLIC_URL}/findings/{row.pk}", pubdate=row.first_seen_at,
            updateddate=row.fixed_at or row.first_seen_at, categories=[xml_text(row.rule), row.state],
        )  # fmt: skip
    return _answer(feed)


def _runs(title: str, link: str, path: str, rows: QuerySet[Run]) -> HttpResponse:
    feed = _feed(title, link, path)
    for run in _reported(rows):
        report = without_projects(msgspec.json.decode(run.report, type=Report), hidden_projects().slugs)
        feed.add_item(
            title=xml_text(f"{run.project} {run.version}"), link=f"{settings.PUBLIC_URL}/reports/{run.pk}",
            unique_id=f"{settings.PUBLIC_URL}/reports/{run.pk}", pubdate=run.finished_at, updateddate=run.finished_at,
            description=_entry(without_notes(report.new)[:20], summary_of(report)),
        )  # fmt: skip
    return _answer(feed)


def _entry(findings: Iterable[Finding], summary: str = "") -> str:
    return xml_text(render_to_string("notices/entry.html", {"items": items_of(findings), "summary": summary}))


def _reported(rows: QuerySet[Run]) -> Iterable[Run]:
    found = list(rows.filter(state="done", is_dry=False).exclude(report=b"").order_by("-pk")[:LENGTH])
    return found


def _feed(title: str, link: str, path: str) -> Atom1Feed:
    base = settings.PUBLIC_URL
    own = f"{base}/feeds/{quote(path)}"
    return Atom1Feed(
        title=xml_text(f"{title}: references"), link=base + quote(link, safe="/?=&"), description="",
        feed_url=f"{own}.atom", feed_guid=own, author_name=xml_text(settings.PORTAL_NAME),
    )  # fmt: skip


def _answer(feed: Atom1Feed) -> HttpResponse:
    response = HttpResponse(feed.writeString("utf-8"), content_type=feed.content_type)
    response["Cache-Control"] = "no-cache"
    return response
