"""What a project asks of its releases, and which of them are cared for."""

from __future__ import annotations

from typing import Literal

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.actions.release_policy import change_support, override_hold, set_outside, set_policy
from zarbek.service.catalog.permissions import require_maintainer
from zarbek.service.catalog.queries import get_project, get_release, outside_addresses
from zarbek.service.common.api import Address, ApiView, Line, Words, describe, read_body
from zarbek.service.common.conditional import json_response


class Support(msgspec.Struct, forbid_unknown_fields=True):
    """support: ``supported`` and ``retired`` by decision; empty for the rule."""

    support: Literal["supported", "retired", ""]


class Override(msgspec.Struct, forbid_unknown_fields=True):
    """why: a sentence, kept with the name of who says it."""

    why: Words


class PolicyView(msgspec.Struct, omit_defaults=True):
    """severity: of findings that hold a release back, and of worse ones; empty for no policy. families, rules: only
    these, if any are named. new_only: whether findings that stood before do not count. more_than: how many may pass."""

    severity: str = ""
    families: list[str] = []
    rules: list[str] = []
    new_only: bool = True
    more_than: int = 0


class SupportView(msgspec.Struct):
    """support: by decision, empty for the rule. judged: whether its references are looked at when others publish."""

    version: str
    support: str
    judged: bool


class HoldView(msgspec.Struct):
    """released_by: who let the release become latest."""

    version: str
    released_by: str


def policy_view(policy: dict[str, object]) -> PolicyView:
    """A policy as the API shows it."""
    return msgspec.convert(policy, PolicyView)


class Policy(ApiView):
    """When releases are held back from latest."""

    @describe(id="getPolicy", answer=PolicyView)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """What a release must be free of to become latest; empty for nothing."""
        return json_response(request, policy_view(get_project(slug).policy))

    @describe(id="setPolicy", answer=PolicyView, body=dict)
    def put(self, request: Request, slug: str) -> HttpResponse:
        """Hold releases with such findings back from latest; empty ends the policy."""
        require_administrator()
        return json_response(request, policy_view(set_policy(get_project(slug), read_body(request, dict))))


class ReleaseSupport(ApiView):
    """Whether a release is supported or retired by decision."""

    @describe(
        id="setSupport",
        answer=SupportView,
        body=Support,
    )
    def put(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Say whether a release is still cared for, and so judged."""
        require_maintainer(slug)
        release = change_support(get_release(slug, version), read_body(request, Support).support)
        return json_response(request, SupportView(release.version, release.support, release.is_judged))


class ReleaseHold(ApiView):
    """What holds a release back."""

    @describe(id="overrideHold", answer=HoldView, body=Override)
    def post(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Let a release that is held back become latest, in one's own name."""
        require_administrator()
        why = read_body(request, Override).why
        release = override_hold(get_release(slug, version), request.user.get_username(), why)
        return json_response(request, HoldView(release.version, release.released_by))


class Outside(ApiView):
    """Where readers are sent for names outside the portal."""

    @describe(id="listOutside", answer=dict[str, str])
    def get(self, request: Request) -> HttpResponse:
        """Where readers are sent for names outside the portal."""
        return json_response(request, outside_addresses())

    @describe(id="setOutside", answer=dict[str, str], body=dict[Line, Address])
    def put(self, request: Request) -> HttpResponse:
        """Set addresses by namespace, with {name} for the whole name; empty removes one."""
        require_administrator()
        return json_response(request, set_outside(read_body(request, dict[Line, Address])))
