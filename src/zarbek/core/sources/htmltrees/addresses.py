"""What an address in a page means, below the tree's root. Source: URL Standard (WHATWG), sections 4.1 and 4.4."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable
from functools import lru_cache
from typing import Literal, NamedTuple
from urllib.parse import unquote, urljoin, urlsplit

from zarbek.core.model.limits import MAX_ADDRESS, MAX_FILE

_SCHEME = re.compile(r"[A-Za-z][A-Za-z0-9+.-]*:")
#: What browsers take out of an address, and what they cut off its ends.
_REMOVED = str.maketrans("", "", "\t\n\r")
_ENDS = "".join(map(chr, range(0x21)))


class Reference(NamedTuple):
    """kind: ``file`` of the tree, ``url`` elsewhere, or ``none`` for what leads nowhere. path: of the file that is
    meant, below the tree's root, or the whole address; where no such file is there it is not decoded, and begins with
    ``..`` where it leaves the tree. fragment: not decoded."""

    kind: Literal["file", "url", "none"]
    path: str = ""
    fragment: str = ""


_NOWHERE = Reference("none")
#: So many addresses of a folder are remembered.
_MANY = 50_000


#: A path below the tree's root to the file that it means, or empty.
FindFile = Callable[[str], str]


def find_none(_path: str) -> str:
    """Where nothing is known of the files."""
    return ""


class Site(NamedTuple):
    """Where the files of a tree are. published: its address, with a ``/`` at its end, or empty: absolute addresses
    below that are addresses of the tree. folder: what is published there, below the source's root, with a ``/`` at its
    end, or empty. find: the file that a path below the source's root means, or empty."""

    published: str = ""
    folder: str = ""
    find: FindFile = find_none


NO_SITE = Site()


class Addresses:
    """Reads the addresses of one page. file: the page, below the root. base: what its ``base`` element says."""

    def __init__(self, file: str, base: str = "", site: Site = NO_SITE) -> None:
        self._file, self._site = file, site
        self._folder, self._outside = posixpath.dirname(file), ""
        self._known = dict[str, Reference]() if base else _known_in(self._folder, site)
        if not base:
            return
        found = self.read(base)
        if found.kind == "url":
            self._outside = found.path
        elif found.kind == "file":
            self._file, self._folder = found.path, found.path.rpartition("/")[0]

    def read(self, address: str) -> Reference:
        """What an address means. Cost: a look into a table for what another page of the folder says, too."""
        if address.startswith("#"):
            return Reference("file", self._file, address[1:]) if not self._outside else self._read(address)
        found = self._known.get(address)
        if found is None:
            found = self._read(address)
            if found.path != self._file and len(self._known) < _MANY:
                self._known[address] = found
        return found

    def _read(self, address: str) -> Reference:
        text = address.strip(_ENDS)
        if not text.isprintable():
            text = text.translate(_REMOVED)
        if len(text) > MAX_ADDRESS:
            return _NOWHERE
        if _SCHEME.match(text):
            return self._absolute(text)
        text, mark, fragment = text.partition("#")
        text = text.replace("\\", "/")
        if self._outside:
            return Reference("url", urljoin(self._outside, text + mark + fragment))
        if text.startswith("//"):
            return self._absolute("https:" + text + mark + fragment)
        path = text.partition("?")[0]
        if not path:
            return Reference("file", self._file, fragment)
        if path.startswith("/"):
            return self._from_root(path, fragment)
        return self._in_tree(self._folder, path, fragment)

    def _in_tree(self, folder: str, path: str, fragment: str) -> Reference:
        joined = _normal(folder, path) or "/"
        if len(joined) > MAX_FILE:
            return _NOWHERE
        return Reference("file", self._site.find(joined) or joined, fragment)

    def _absolute(self, text: str) -> Reference:
        scheme = text.partition(":")[0].lower()
        if scheme not in ("http", "https"):
            return _NOWHERE
        published = self._site.published
        if published and (below := below_published(text, published)) is not None:
            path, _, fragment = below.partition("#")
            return self._in_tree(self._site.folder.rstrip("/"), path.partition("?")[0] or "./", fragment)
        return Reference("url", text)

    def _from_root(self, path: str, fragment: str) -> Reference:
        """From the root of the site: below where the tree is published, else nobody's to know but the site's."""
        if not self._site.published:
            return Reference("none", path)
        site = urlsplit(self._site.published)
        return self._absolute(f"{site.scheme}://{site.netloc}{path}" + (f"#{fragment}" if fragment else ""))


def below_published(address: str, published: str) -> str | None:
    """What follows in an address that lies where a tree is published; None for any other. Scheme, case of the host
    and a missing ``/`` at the end make no difference."""
    ours, theirs = (re.sub(r"^https?://([^/?#]*)", lambda m: m[1].lower(), a) for a in (published, address))
    if theirs.startswith(ours):
        return theirs[len(ours) :]
    return theirs[len(ours) - 1 :] if re.split(r"[?#]", theirs)[0] == ours.rstrip("/") else None


@lru_cache(maxsize=16)
def _known_in(_folder: str, _site: Site) -> dict[str, Reference]:
    """What addresses mean in the pages of a folder."""
    return {}


def _normal(folder: str, path: str) -> str:
    while path.startswith("../") and folder and len(path) > 3:
        path, folder = path[3:], folder.rpartition("/")[0]
    if "//" not in path and "/." not in path and path[0] not in "./" and path[-1] != "/":  # As nearly all are.
        return f"{folder}/{path}" if folder else path
    joined = posixpath.normpath(posixpath.join(folder, path))
    ends = path.endswith(("/", "/.", "/..")) or path in (".", "..")
    return ("" if joined == "." else joined) + ("/" if ends and joined != "." else "")


def spellings(text: str) -> tuple[str, str]:
    """A path or fragment as it is written, and percent-decoded (RFC 3986, section 2.1): files and places are looked
    for in this order."""
    return text, unquote(text)
