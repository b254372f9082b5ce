"""What others need to link to a release."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.content.link_index import read_link_index


class LinkIndexes(ApiView):
    """What others need to link to a release."""

    @describe(id="getLinkIndex", answer=dict)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """All names of a release, as far as links to it rest on them: for previews, and of the same version as they."""
        release = get_release(slug, version)
        return json_response(request, read_link_index(release), immutable=version == release.version)
