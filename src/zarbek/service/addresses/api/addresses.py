"""Which addresses of the web are asked, and which could not be reached."""

from __future__ import annotations

from datetime import datetime

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.addresses.actions.wishes import set_quiet, set_wishes
from zarbek.service.addresses.queries import KnownAddresses, known_addresses, quiet_hosts
from zarbek.service.addresses.tasks import judge_addresses_of
from zarbek.service.catalog.permissions import require_maintainer
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import ApiView, Line, describe, read_body
from zarbek.service.common.conditional import json_response


class Wishes(msgspec.Struct, forbid_unknown_fields=True):
    """asks: whether the project's addresses are asked at all. quiet: hosts that are left alone, ``*`` for
    any text."""

    asks: bool = True
    quiet: list[Line] = []


class Unreachable(msgspec.Struct):
    """An address of which nothing can be told, why, and since when."""

    url: str
    why: str
    since: datetime


class AddressView(msgspec.Struct):
    """known: addresses of the newest release that are asked. unreachable: those of which nothing can be
    told, which is no fault of the references."""

    asks: bool
    quiet: list[str]
    known: int
    unreachable: list[Unreachable]
    checked_at: datetime | None


class Addresses(ApiView):
    """Addresses of the web that a project links to, and which hosts are left alone."""

    @describe(id="getAddresses", answer=AddressView)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Addresses of the web that a project links to, and which could not be reached."""
        return json_response(request, _view(known_addresses(get_project(slug))))

    @describe(id="setAddresses", answer=AddressView, body=Wishes)
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Say which addresses of a project are asked."""
        require_maintainer(slug)
        project, wishes = get_project(slug), read_body(request, Wishes)
        set_wishes(project, asks=wishes.asks, quiet=wishes.quiet)
        judge_addresses_of.enqueue(project.pk)
        return json_response(request, _view(known_addresses(project)))


def _view(found: KnownAddresses) -> AddressView:
    unreachable = [Unreachable(row.url, row.unreachable, row.unreachable_since) for row in found.unreachable]
    return AddressView(found.wishes.asks, found.wishes.quiet, found.known, unreachable, found.checked_at)


class QuietHosts(ApiView):
    """Hosts that the portal never asks."""

    @describe(id="listQuietHosts", answer=list[str])
    def get(self, request: Request) -> HttpResponse:
        """Hosts that the portal never asks."""
        return json_response(request, quiet_hosts())

    @describe(id="setQuietHosts", answer=list[str], body=list[Line])
    def put(self, request: Request) -> HttpResponse:
        """Name the hosts that the portal never asks; * stands for any text."""
        require_administrator()
        return json_response(request, set_quiet(read_body(request, list[Line])))
