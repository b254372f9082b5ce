"""References between documents: JSON Pointer (RFC 6901) in URI references (RFC 3986)."""

from __future__ import annotations

import posixpath
from typing import Any
from urllib.parse import unquote

from zarbek.core.model.web_address import cut_fragment, join_address, split_address
from zarbek.core.sources.interfaces.documents import Pointer


def split_reference(reference: str, base_file: str) -> tuple[str, str]:
    """(file or absolute URI, fragment) of a reference written in a file."""
    place, fragment = cut_fragment(reference)
    if not place:
        return base_file, unquote(fragment)
    if split_address(place).scheme:
        return place, unquote(fragment)
    if split_address(base_file).scheme:
        return join_address(base_file, place), unquote(fragment)
    path = posixpath.normpath(posixpath.join(posixpath.dirname(base_file), unquote(place)))
    return path, unquote(fragment)


def parse_pointer(fragment: str) -> Pointer | None:
    """The pointer of a fragment; None for the name of an anchor."""
    if not fragment:
        return ()
    if not fragment.startswith("/"):
        return None
    return tuple(part.replace("~1", "/").replace("~0", "~") for part in fragment[1:].split("/"))


def write_pointer(pointer: Pointer) -> str:
    """A pointer as text (RFC 6901, section 3)."""
    return "".join("/" + str(part).replace("~", "~0").replace("/", "~1") for part in pointer)


def with_indexes(pointer: Pointer, value: Any) -> Pointer:
    """A pointer as it was written, with numbers where it counts the items of a list in a value."""
    found: list[str | int] = []
    for part in pointer:
        found.append(int(part) if isinstance(value, list) and str(part).isascii() and str(part).isdigit() else part)
        try:
            value = value[found[-1]]
        except (KeyError, IndexError, TypeError):
            value = None
    return tuple(found)
