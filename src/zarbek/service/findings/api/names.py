"""Names of the portal, and whose they are."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.models import NameClaim
from zarbek.service.catalog.queries import claims_of
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe, read_body, read_flag
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of
from zarbek.service.findings.claims import settle_name


class ClaimView(msgspec.Struct):
    """One project's word that a name is its own. name: ``family:namespace``, or a package URL.
    held: whether it is; shared: whether with others, by decision."""

    name: str
    project: str
    held: bool
    shared: bool
    since: datetime
    decided_by: str


class ClaimPage(msgspec.Struct):
    """next: the address of the claims that follow, or null."""

    items: list[ClaimView]
    total: int
    next: str | None


class Decision(msgspec.Struct, forbid_unknown_fields=True):
    """projects: whose the name is; several have it together."""

    name: Annotated[str, msgspec.Meta(min_length=1, max_length=400)]
    projects: Annotated[list[str], msgspec.Meta(min_length=1, max_length=50)]


def claim_view(claim: NameClaim) -> ClaimView:
    """A claim as the API shows it."""
    return ClaimView(claim.name, claim.project.slug, claim.is_held, claim.is_shared, claim.since, claim.decided_by)


class Names(ApiView):
    """Whom names belong to."""

    @describe(id="listNames", answer=ClaimPage,
              parameters=(*PAGING, Parameter("contested", "true for those that several claim and nobody has decided.", "boolean"),
                          Parameter("project", "Only of this project.")))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """Names that projects say are their own."""
        rows = claims_of(request.query_params.get("project", ""), contested=read_flag(request, "contested"))
        page = page_of(rows, ("name", "id"), request.query_params, request.path)
        return json_response(request, {**page, "items": [claim_view(c) for c in page["items"]]})

    @describe(id="decideName", answer=list[ClaimView], body=Decision)
    def put(self, request: Request) -> HttpResponse:
        """Give a name to one of the projects that claim it, or to several together."""
        require_administrator()
        wanted = read_body(request, Decision)
        claims = settle_name(wanted.name, wanted.projects, request.user.get_username())
        return json_response(request, [claim_view(c) for c in claims])
