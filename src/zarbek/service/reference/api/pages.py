"""Pages as readers and programs see them."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial
from pathlib import PurePosixPath
from typing import NamedTuple
from urllib.parse import quote

import msgspec
from django.http import FileResponse, HttpResponse
from django.shortcuts import redirect
from rest_framework.request import Request

from zarbek.service.catalog.models import HEAVY, Alias, Release
from zarbek.service.catalog.queries import LATEST, get_release
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe
from zarbek.service.common.conditional import body_response, caching, json_response
from zarbek.service.common.paging import page_of, page_of_list, read_cursor, read_size
from zarbek.service.common.problems import NotFound, Problem
from zarbek.service.content.models import Asset
from zarbek.service.content.queries import find_asset, get_contents
from zarbek.service.links.relocations import follow
from zarbek.service.reference.dashboard import Dashboard, get_dashboard
from zarbek.service.reference.guide_page import find_moved_page, get_guide_page
from zarbek.service.reference.navigation import first_of_navigation, whole_navigation
from zarbek.service.reference.page_cache import cached_page
from zarbek.service.reference.page_data import GuidePage, MemberDetails, Navigation, SymbolPage
from zarbek.service.reference.symbol_lists import SymbolRow, list_public
from zarbek.service.reference.symbol_page import get_member_details, get_symbol_page


class SymbolList(msgspec.Struct):
    """next: the address of the symbols that follow, or null."""

    items: list[SymbolRow]
    total: int
    next: str | None


class NavigationPage(msgspec.Struct):
    """next: the address of the projects that follow, or null."""

    items: list[Navigation]
    total: int
    next: str | None


class _Shown(NamedTuple):
    """What is shown at an address. make: its page; follow: where it is in a release, if it has moved, else empty."""

    kind: str
    collection: str
    make: Callable[[Release, str], object]
    follow: Callable[[Release, str], str]


_SYMBOLS = _Shown("symbol", "symbols", get_symbol_page, follow)
#: A tag of a language (RFC 5646, section 2.1), as far as supplements are told apart by it.
_LANGUAGE = re.compile(r"[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8}){0,4}")
_GUIDES = _Shown("guide", "guides", get_guide_page, find_moved_page)


def _shown_or_moved(request: Request, shown: _Shown, slug: str, version: str, path: str) -> HttpResponse:
    """A page, or the way to where it is now. Raises NotFound."""
    try:
        return body_response(request, *cached_page(shown.kind, slug, version, path, shown.make))
    except NotFound:
        release = get_release(slug, version)
        moved = shown.follow(release, path)
        if not moved:
            raise
    place = f"/api/v1/projects/{quote(slug)}/releases/{quote(version, safe='')}/{shown.collection}/{quote(moved)}"
    return redirect(place, permanent=_is_pinned(release, version))


_READER = Parameter("language", "Of the reader (BCP 47): what is translated into it is shown so.")


def _language_of(request: Request) -> str:
    """Of the reader, empty for none. Raises Problem for what is none."""
    language: str = request.query_params.get("language", "")
    if language and not _LANGUAGE.fullmatch(language):
        raise Problem(f"{language[:40]!r} is no language. Give one as BCP 47 has it, as de or pt-BR.")
    return language


class SymbolDetail(ApiView):
    """The page of a symbol."""

    @describe(
        id="getSymbol",
        answer=SymbolPage,
        parameters=[_READER],
    )
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """The page of one symbol: signature, text, members, findings, referrers.

        A symbol that has moved answers from its new address.
        """
        language = _language_of(request)
        shown = _SYMBOLS._replace(kind=f"symbol {language}", make=partial(get_symbol_page, language=language))
        return _shown_or_moved(request, shown if language else _SYMBOLS, slug, version, path)


class Members(ApiView):
    """The members of a type in full."""

    @describe(
        id="listMembers",
        answer=MemberDetails,
        parameters=(*PAGING, _READER),
    )
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """The members of a type in full: signature, text, parameters. Those that follow on a symbol's page."""
        after, size = read_cursor(request.query_params), read_size(request.query_params)
        language = _language_of(request)
        kind = f"members {after} {size} {language}"
        make = partial(get_member_details, after=after, size=size, language=language)
        return body_response(request, *cached_page(kind, slug, version, path, make))


class GuideDetail(ApiView):
    """The page of a guide."""

    @describe(id="getGuide", answer=GuidePage)
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """The page of one guide. One that has moved answers from its new address."""
        return _shown_or_moved(request, _GUIDES, slug, version, path)


class Contents(ApiView):
    """What a release has, to go from."""

    @describe(id="getContents", answer=Navigation)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """A release's modules and guides."""
        return json_response(request, whole_navigation(get_release(slug, version)))


class ContentsOfAll(ApiView):
    """What the portal has, to go from."""

    @describe(id="listContents", answer=NavigationPage, parameters=PAGING)
    def get(self, request: Request) -> HttpResponse:
        """The first modules and guides of each project's newest release, by slug."""
        newest = Alias.objects.filter(name=LATEST)
        rows = newest.select_related("release__project").defer(*(f"release__{name}" for name in HEAVY))
        page = page_of(rows, ("release__project__slug",), request.query_params, request.path)
        return json_response(request, {**page, "items": [first_of_navigation(a.release) for a in page["items"]]})


class Symbols(ApiView):
    """The symbols of a release."""

    @describe(id="listSymbols", answer=SymbolList,
              parameters=(*PAGING, Parameter("kind", "Only of this kind.")))  # fmt: skip
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Public symbols of a release by path."""
        release = get_release(slug, version)
        kind = request.query_params.get("kind", "")
        rows = [row for row in list_public(release.pk) if kind in ("", row.kind)]
        page = page_of_list(rows, lambda row: row.path, request.query_params, request.path)
        return json_response(request, page, immutable=_is_pinned(release, version))


class AssetDetail(ApiView):
    """An image of a guide."""

    @describe(id="getAsset", answer=str, media_type="image/*")
    def get(self, request: Request, slug: str, version: str, path: str) -> FileResponse:
        """A picture of a guide."""
        release = get_release(slug, version)
        digest = get_contents(release.pk).assets.get(path)
        asset = find_asset(release.project, digest) if digest else None
        if asset is None:
            raise NotFound(f"{slug} {release.version} has no file {path}.")
        return asset_response(asset, path)


#: The only types that files of a release are served with, by the end of their names: pictures.
_PICTURES = {
    ".png": "image/png", ".jpg": "image/jpeg", ".jpeg": "image/jpeg", ".gif": "image/gif", ".webp": "image/webp",
    ".avif": "image/avif", ".bmp": "image/bmp", ".ico": "image/x-icon", ".svg": "image/svg+xml",
}  # fmt: skip


def asset_response(asset: Asset, name: str) -> FileResponse:
    """A file of a release as what it can do no harm as: a picture by its name, else bytes to keep.

    Vector pictures may hold scripts: in a page they do not run, and by themselves they are kept, too.
    """
    kind = _PICTURES.get(PurePosixPath(name).suffix.lower(), "application/octet-stream")
    is_kept = kind in ("application/octet-stream", "image/svg+xml")
    response = FileResponse(
        asset.file.open(), content_type=kind, as_attachment=is_kept, filename=PurePosixPath(name).name
    )
    response["Cache-Control"] = caching(immutable=True)
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    response["Cross-Origin-Resource-Policy"] = "same-origin"
    response["X-Content-Type-Options"] = "nosniff"
    return response


def _is_pinned(release: Release, version: str) -> bool:
    return release.version == version and not release.is_preview


class PortalDashboard(ApiView):
    """What the portal says of itself."""

    @describe(id="getDashboard", answer=Dashboard)
    def get(self, request: Request) -> HttpResponse:
        """What happened lately, and the portal's health in figures."""
        return json_response(request, get_dashboard())
