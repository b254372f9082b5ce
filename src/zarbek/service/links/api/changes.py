"""What changed between releases, and who would notice."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.changes.change import Comparison
from zarbek.core.changes.page_words import PageWords
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import NotFound, Problem
from zarbek.service.links.comparison import compare, compare_page, find_predecessor
from zarbek.service.links.impact import Impact, impact_of_pattern, impact_of_release


class Compare(ApiView):
    """What changed between two releases."""

    @describe(id="compareReleases", answer=Comparison,
              parameters=(Parameter("old", "A version, alias or range; the release before the newer one if left out."),
                          Parameter("new", "A version, alias or range; latest if left out.")))  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """What changed between two releases, element by element."""
        old, new = _releases(request, slug)
        return json_response(request, compare(old.pk, new.pk))


class ComparePage(ApiView):
    """What one page says differently in two releases."""

    @describe(id="comparePages", answer=PageWords,
              parameters=(Parameter("page", "Its path in the newer release, or where it was for one that is gone."),
                          Parameter("old", "A version, alias or range; the release before the newer one if left out."),
                          Parameter("new", "A version, alias or range; latest if left out.")))  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """What one page says differently in two releases, section by section and word by word."""
        old, new = _releases(request, slug)
        path = request.query_params.get("page", "")
        found = compare_page(old, new, path)
        if found is None:
            raise NotFound(f"Neither {old.version} nor {new.version} of {slug} has a page {path}.")
        return json_response(request, found)


def _releases(request: Request, slug: str) -> tuple[Release, Release]:
    """The older and the newer release that a request names."""
    new = get_release(slug, request.query_params.get("new", ""))
    asked = request.query_params.get("old", "")
    old = get_release(slug, asked) if asked else find_predecessor(new)
    if old is None:
        raise Problem(f"{slug} {new.version} is the first release; name another one with old.")
    return old, new


class ImpactView(ApiView):
    """Who refers to a symbol, or is affected by a release."""

    @describe(id="getImpact", answer=Impact,
              parameters=(Parameter("name", "A symbol, with all that is in it, or a pattern with *."),
                          Parameter("version", "Where name is looked up; latest if left out."),
                          Parameter("release", "Instead of name: a release, for what it breaks.")))  # fmt: skip
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Who refers to a symbol, a pattern, or what a release breaks."""
        asked = request.query_params
        if asked.get("release"):
            return json_response(request, impact_of_release(get_release(slug, asked["release"])))
        if not asked.get("name"):
            raise Problem("Say whose referrers are wanted: name a symbol or pattern, or a release.")
        return json_response(request, impact_of_pattern(get_release(slug, asked.get("version", "")), asked["name"]))
