"""What previews ask of a release: what they need to link to it, and elements that have changed since."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.content.link_index import MOST_ELEMENTS, read_elements, read_link_index


class LinkIndexes(ApiView):
    """What others need to link to a release."""

    @describe(id="getLinkIndex", answer=dict)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """All names of a release, as far as links to it rest on them: for previews, and of the same version as they."""
        release = get_release(slug, version)
        return json_response(request, read_link_index(release), immutable=version == release.version)


class ElementsView(ApiView):
    """Elements as they are kept."""

    @describe(
        id="getElements", answer=dict,
        parameters=(Parameter("path", "of an element; may be repeated, and no more than 20 are answered"),),
    )  # fmt: skip
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Elements of a release as they are kept, by their paths: for previews, and of the same version as they."""
        release = get_release(slug, version)
        paths = request.query_params.getlist("path")[:MOST_ELEMENTS]
        return json_response(request, read_elements(release, paths), immutable=version == release.version)
