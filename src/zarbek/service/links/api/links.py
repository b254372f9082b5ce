"""Links of a release and referrers of a symbol."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import msgspec
from django.http import HttpResponse, StreamingHttpResponse
from rest_framework.request import Request

from zarbek.core.linking.index import ReleaseIndex, entry_of
from zarbek.core.linking.link import Link
from zarbek.core.model.mention import Mention
from zarbek.core.model.mention_places import file_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.permissions import may_maintain
from zarbek.service.catalog.queries import find_release, get_project, get_release
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.asker import for_asker
from zarbek.service.common.conditional import json_response
from zarbek.service.content.editions import audience_for
from zarbek.service.content.queries import find_shown, get_manifest, load_index
from zarbek.service.links.queries import iter_links, list_referrers


class ReferrerView(msgspec.Struct):
    """A text that refers to a symbol or guide. kind: symbol or page."""

    project: str
    version: str
    kind: str
    path: str


class Links(ApiView):
    """The mentions of a release with their links."""

    @describe(
        id="listLinks",
        answer=str,
        media_type="application/x-ndjson",
    )
    def get(self, request: Request, slug: str, version: str) -> StreamingHttpResponse:
        """Every mention of a release with its link: JSON Lines.

        Those of elements that the project keeps to itself are for who maintains it.
        """
        release = get_release(slug, version)
        return StreamingHttpResponse(for_asker(_lines(slug, release)), content_type="application/x-ndjson")


def _lines(slug: str, release: Release) -> Iterator[bytes]:
    names, audience = _Names(), audience_for(get_manifest(release.pk))
    has_all = audience.edition is None and may_maintain(slug)
    for owner, links in iter_links(release):
        if not has_all and isinstance(owner, Symbol) and audience.keeps(entry_of(owner)):
            continue
        kind = "page" if isinstance(owner, Page) else "symbol"
        batch = []
        for mention, link in zip(owner.mentions, links, strict=True):
            source = {"project": slug, "version": release.version, kind: owner.path, "field": mention.field}
            batch.append(msgspec.json.encode(_row(source, file_of(owner, mention), mention, link, names)))
        yield b"\n".join(batch) + b"\n"


def _row(source: dict[str, str], file: str, mention: Mention, link: Link, names: _Names) -> dict[str, Any]:
    return {
        "from": source, "origin": mention.origin, "text": mention.text, "file": file, "line": mention.line,
        "column": mention.column, "outcome": link.outcome, "target": _target(link, names), "stale": link.stale,
    }  # fmt: skip


def _target(link: Link, names: _Names) -> dict[str, Any] | None:
    if link.outcome != "linked":
        return None
    if link.kind == "url":
        return {"url": link.path}
    base = {"project": link.project, "version": link.version, "anchor": link.anchor}
    if link.kind == "symbol":
        return {**base, "symbol": link.path, "names": names.of(link)}
    return {**base, link.kind: link.path, "names": []}


class _Names:
    """Public names of targets, remembered within one answer."""

    def __init__(self) -> None:
        self._indexes: dict[tuple[str, str], ReleaseIndex | None] = {}
        self._names: dict[tuple[str, str, str, str], list[str]] = {}

    def of(self, link: Link) -> list[str]:
        key = (link.project, link.version, link.path, link.via)
        if key not in self._names:
            index = self._index(link.project, link.version)
            self._names[key] = index.public_names(link.path, link.via) if index else []
        return self._names[key]

    def _index(self, project: str, version: str) -> ReleaseIndex | None:
        key = (project, version)
        if key not in self._indexes:
            release = find_release(get_project(project), version)
            self._indexes[key] = load_index(release.pk) if release else None
        return self._indexes[key]


class Referrers(ApiView):
    """Who refers to a symbol or guide."""

    @describe(
        id="listReferrers",
        answer=list[ReferrerView],
    )
    def get(self, request: Request, slug: str, path: str) -> HttpResponse:
        """Who refers to a symbol or guide, in the newest release of each project."""
        project = get_project(slug)
        release = find_release(project, "")
        entry = find_shown(release.pk, path) if release else None
        return json_response(request, list_referrers(project, entry.symbol.path if entry else path))
