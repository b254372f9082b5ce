"""A mention: a place that names something."""

from __future__ import annotations

from typing import Literal
from urllib.parse import quote, unquote

import msgspec

from zarbek.core.model.limits import Offset

Origin = Literal[
    "link", "see", "raises", "type", "base", "schema", "data", "page", "asset", "block",
    "label", "url", "code",
]  # fmt: skip

#: Origins whose author clearly meant a reference: unresolved, they dangle.
MEANT: frozenset[str] = frozenset({"link", "see", "schema", "page", "asset", "block", "label", "url"})

BESIDE = "beside"


class Mention(msgspec.Struct, frozen=True, omit_defaults=True, array_like=True):
    """One place in a text or signature that names something.

    text: as written. name: what to look up, without marks and titles.
    field: where in the symbol it stands: ``doc``, ``param:NAME``, ``returns``, ``raises``,
    ``base``, ``type``. line and column: 1-based, in the file; column 0 is unknown.
    role: the kind of target that the author asked for, or empty; BESIDE of a link in a page of a
    tree to a file that was there when it was gathered, and is no part of the release.
    """

    text: str
    name: str
    origin: Origin
    field: str = "doc"
    line: Offset = 0
    column: Offset = 0
    role: str = ""

    @property
    def address(self) -> str:
        """The ``api:`` reference (RFC 3986) that stands for this mention in doc text."""
        return address_of(self.name, self.role)


def address_of(name: str, role: str = "") -> str:
    """The ``api:`` reference for a name as its author wrote it."""
    if name.startswith("api:"):
        return name
    is_plain = name.isascii() and name.replace(".", "").isidentifier()
    plain = name if is_plain else quote(name, safe="~!*'@,;:+=$./")
    return f"api:{plain}?{role}" if role else f"api:{plain}"


def absolute_place(address: str) -> tuple[str, str, str]:
    """(project, version, path) of an address ``api://PROJECT[@VERSION]/PATH`` (RFC 3986)."""
    owner, _, path = address[6:].partition("/")
    project, _, version = owner.partition("@")
    return unquote(project), unquote(version), unquote(path)
