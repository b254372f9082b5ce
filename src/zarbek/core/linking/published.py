"""Addresses below which trees of HTML are published, and what of a release they mean. Source: RFC 3986, section 3."""

from __future__ import annotations

import posixpath
from collections.abc import Iterable, Mapping
from typing import NamedTuple
from urllib.parse import urlsplit

from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.sources.htmltrees.addresses import spellings
from zarbek.core.sources.htmltrees.discovery import is_page, served_for

#: What names of addresses begin with among the names that projects bring.
ADDRESS = "address"


class PublishedTree(NamedTuple):
    """A release and the folder of its source that is published at an address."""

    project: str
    version: str
    folder: str


class PublishedPlace(NamedTuple):
    """What an address means: a path below the source's root of a release, as it is written."""

    tree: PublishedTree
    path: str


def bare_address(address: str) -> str:
    """``host/path`` of an address of the web, without query and fragment; empty for any other."""
    try:
        parts = urlsplit(address)
    except ValueError:
        return ""
    is_of_web = parts.scheme in ("http", "https") and parts.netloc
    return f"{parts.netloc.lower()}{parts.path or '/'}" if is_of_web else ""


def place_at(address: str, trees: Mapping[str, PublishedTree]) -> PublishedPlace | None:
    """What a bare address means. trees: by their bare addresses, each with a ``/`` at its end. Cost: by the number of
    its parts."""
    head = address if address.endswith("/") else f"{address}/"
    while head:
        if head in trees:
            return PublishedPlace(trees[head], trees[head].folder + address[len(head) :])
        head = head[: head.rstrip("/").rfind("/") + 1]
    return None


def file_at(index: ReleaseIndex, path: str) -> str:
    """The file of a release that a path means, as a server would; empty where it has none."""
    for spelt in spellings(path):
        for file in served_for(spelt):
            if file in index.pages_by_file or file in index.assets:
                return file
    return ""


def is_page_address(path: str) -> bool:
    """Whether an address is that of a page: others may be anything that nobody gathered."""
    return is_page(path) or "." not in posixpath.basename(path)


def names_at(addresses: Iterable[str]) -> set[str]:
    """The names of addresses among those that a project brings."""
    return {f"{ADDRESS}:{bare}" for address in addresses if (bare := bare_address(address))}
