"""Pages of trees as they were gathered, for who wants to see them so."""

from __future__ import annotations

import posixpath
from typing import NamedTuple

from zarbek.core.sources.htmltrees.discovery import served_for
from zarbek.service.catalog.models import Release
from zarbek.service.common.problems import NotFound
from zarbek.service.content.models import Asset
from zarbek.service.content.queries import find_asset, get_contents, list_page_refs, read_page

#: The types that files besides pages are served with, by the ends of their names; others are bytes to keep.
_TYPES = {
    ".css": "text/css", ".woff": "font/woff", ".woff2": "font/woff2", ".ttf": "font/ttf", ".otf": "font/otf",
    ".png": "image/png", ".jpg": "image/jpeg", ".jpeg": "image/jpeg", ".gif": "image/gif", ".webp": "image/webp",
    ".avif": "image/avif", ".bmp": "image/bmp", ".ico": "image/x-icon", ".svg": "image/svg+xml",
    ".txt": "text/plain; charset=utf-8",
}  # fmt: skip
PAGE_TYPE = "text/html; charset=utf-8"
OTHER_TYPE = "application/octet-stream"


class Original(NamedTuple):
    """A page's text, or a file of the release; media_type: what it may be taken for."""

    content: str | Asset
    media_type: str


def find_original(release: Release, path: str) -> Original:
    """A page of a tree or a file that one shows, by its place in the source. Raises NotFound."""
    by_file = {ref.entry.file: ref for ref in list_page_refs(release.pk)}
    for file in served_for(path):
        if file in by_file and (page := read_page(by_file[file])).form == "html":
            return Original(page.text, PAGE_TYPE)
    digest = get_contents(release.pk).assets.get(path)
    asset = find_asset(release.project, digest) if digest else None
    if asset is None:
        raise NotFound(f"{release.project.slug} {release.version} has no page or file {path}.")
    return Original(asset, _TYPES.get(posixpath.splitext(path)[1].lower(), OTHER_TYPE))
