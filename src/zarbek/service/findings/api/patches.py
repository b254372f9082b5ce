"""Patches for the sources."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.findings.patches import Edit
from zarbek.service.accounts.permissions import require_someone
from zarbek.service.catalog.queries import get_project, get_release
from zarbek.service.common.api import ApiView, Parameter, describe, read_flag
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Conflict
from zarbek.service.findings.actions.patching import ask_patch
from zarbek.service.findings.patches import Patch, find_mendable, list_edits
from zarbek.service.findings.tasks import patch as make_patch

_ASKED = (
    Parameter("likely", "true for suggestions that are not beyond doubt, too.", "boolean"),
    Parameter(
        "fingerprint",
        "Only for these findings, whose suggestions are accepted; may be given often.",
        most=16,
        pattern="[0-9a-f]*",
    ),
)


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
        project, chosen = get_project(slug), request.query_params.getlist("fingerprint")
        release, rows = get_release(slug, ""), find_mendable(project, chosen)
        edits = list_edits(release, rows, likely=read_flag(request, "likely"), accepted=bool(chosen))
        return json_response(request, Edits(slug, release.version, release.commit, edits))


class PatchView(ApiView):
    """The same as a unified diff."""

    @describe(id="getPatch", answer=Patch,
              parameters=_ASKED)  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The same as a unified diff against the gathered commit, which is fetched again for it: 202 and the state
        making until it is made, then 200. For findings that are chosen, somebody has to be signed in."""
        project, chosen = get_project(slug), request.query_params.getlist("fingerprint")
        if chosen:
            require_someone()
        record, is_new = ask_patch(project, likely=read_flag(request, "likely"), fingerprints=chosen)
        if is_new:
            make_patch.enqueue(record.pk)
        if record.problem:
            raise Conflict(record.problem)
        if record.document is not None:
            return json_response(request, msgspec.convert(record.document, Patch))
        release = get_release(slug, "")
        response = json_response(request, Patch(slug, release.version, release.commit, "making", "", 0, []))
        response.status_code, response["Retry-After"] = 202, "1"
        del response["ETag"]
        return response
