"""Services that describe themselves, as a list of a project."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.db import transaction
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.requests.http_request import FORBIDDEN_HEADERS, is_header
from zarbek.core.sources.interfaces.document_set import plain_name
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.actions.projects import check_slug, ensure_project
from zarbek.service.catalog.permissions import may_maintain, require_maintainer
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import Address, ApiView, Line, Slug, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Refused
from zarbek.service.sources.actions import set_services
from zarbek.service.sources.models import RunningService
from zarbek.service.sources.polling import poll_services


class ServiceEntry(msgspec.Struct, forbid_unknown_fields=True):
    """address: of the description. server: where callers reach the service; strip: the beginning of its
    own paths that the gateway adds. headers: for access; those that are left out stay as they were."""

    name: Slug
    address: Address
    server: Address = ""
    strip: Line = ""
    headers: dict[Slug, Annotated[str, msgspec.Meta(max_length=4000)]] | None = None
    poll_minutes: Annotated[int, msgspec.Meta(ge=0, le=100_000)] = 0


class ServiceState(msgspec.Struct):
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


def service_state(service: RunningService, *, is_told: bool = True) -> ServiceState:
    """is_told: whether the caller may manage the project, and so know where its services run."""
    told = (service.address, service.server, service.strip, sorted(service.headers)) if is_told else ("", "", "", [])
    problem = service.problem if is_told or not service.problem else "It gave no description."
    return ServiceState(
        service.name, *told, service.poll_minutes, service.asked_at, service.fetched_at, service.changed_at, problem
    )


class Services(ApiView):
    """The running services of a project."""

    @describe(id="listServices", answer=list[ServiceState])
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The running services that a project is gathered from."""
        is_told = may_maintain(slug)
        return json_response(request, [service_state(s, is_told=is_told) for s in get_project(slug).services.all()])

    @describe(id="setServices", answer=list[ServiceState], body=list[ServiceEntry])
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Say which services a project is gathered from, all of them at once."""
        require_administrator()
        entries = read_body(request, list[ServiceEntry])
        for entry in entries:
            _check(entry)
        if len({e.name for e in entries}) != len(entries):
            raise Refused("Each service needs a name of its own.")
        with transaction.atomic():
            project = ensure_project(check_slug(slug))
            set_services(project, [msgspec.structs.asdict(e) for e in entries])
        return json_response(request, [service_state(s) for s in project.services.all()])


class ServicePoll(ApiView):
    """Asking them for their descriptions."""

    @describe(id="pollServices", answer=list[ServiceState])
    def post(self, request: Request, slug: str) -> HttpResponse:
        """Ask a project's services for their descriptions now."""
        require_maintainer(slug)
        project = get_project(slug)
        poll_services(project.pk)
        return json_response(request, [service_state(s) for s in project.services.all()])


def _check(entry: ServiceEntry) -> None:
    if entry.name != plain_name(entry.name) or entry.name.startswith(".") or len(entry.name) > 100:
        raise Refused(f"{entry.name!r} is no name for a service: letters, digits, dots and hyphens only.")
    for address in (entry.address, entry.server):
        if address and not address.startswith(("http://", "https://")):
            raise Refused(f"{address} is no address of HTTP.")
    if not entry.address or len(entry.address) > 500 or len(entry.server) > 500 or len(entry.strip) > 200:
        raise Refused(f"{entry.name} needs the address of its description, of at most 500 characters.")
    if not 0 <= entry.poll_minutes <= 100_000:
        raise Refused("poll_minutes is out of its bounds.")
    for name, value in (entry.headers or {}).items():
        if name.lower() in FORBIDDEN_HEADERS or not is_header(name, value):
            raise Refused(f"{name} is no header that can be sent.")
