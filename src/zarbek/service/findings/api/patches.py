"""Patches for the sources."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.findings.patches import Edit
from zarbek.service.accounts.throttling import Few
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import ApiView, Parameter, describe, read_flag
from zarbek.service.common.conditional import json_response
from zarbek.service.findings.patches import Patch, list_edits, make_patch

_ASKED = (
    Parameter("likely", "true for suggestions that are not beyond doubt, too.", "boolean"),
    Parameter(
        "fingerprint",
        "Only for these findings, whose suggestions are accepted; may be given often.",
        most=16,
        pattern="[0-9a-f]*",
    ),
)


#: Each fetches a commit from wherever its repository is.
_PATCHES = Few(2, "patches run")


class Edits(msgspec.Struct):
    """Edits of a release's source, as it was at a commit."""

    project: str
    version: str
    commit: str
    edits: list[Edit]


class EditList(ApiView):
    """What to write in place of names that went wrong."""

    @describe(id="listEdits", answer=Edits, parameters=_ASKED)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """What to write in place of names that went wrong."""
        fingerprints = request.query_params.getlist("fingerprint")
        release, edits = list_edits(get_project(slug), likely=read_flag(request, "likely"), fingerprints=fingerprints)
        return json_response(request, Edits(slug, release.version, release.commit, edits))


class PatchView(ApiView):
    """The same as a unified diff."""

    @describe(id="getPatch", answer=Patch,
              parameters=_ASKED)  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The same as a unified diff against the gathered commit."""
        fingerprints = request.query_params.getlist("fingerprint")
        with _PATCHES:
            patch = make_patch(get_project(slug), likely=read_flag(request, "likely"), fingerprints=fingerprints)
        return json_response(request, patch)
