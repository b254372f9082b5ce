"""Supplements, as the portal tells of them."""

from __future__ import annotations

from datetime import datetime

import msgspec


class Supplement(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """A text for an element that stands elsewhere. target: what it says that it is for. language: of a translation."""

    project: str
    version: str
    path: str
    href: str
    file: str
    target: str
    language: str = ""


class Words(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """Something that is said of an element. by: which of the page's supplements says it, -1 for the source; hidden_by:
    the one that readers see in its place, None where they see it. name: of a parameter."""

    kind: str
    html: str
    by: int
    hidden_by: int | None = None
    name: str = ""
    line: int = 0


class Revision(msgspec.Struct, frozen=True, kw_only=True):
    """A supplement that was written in the portal, as somebody left it; text: empty where it was removed."""

    id: int
    name: str
    text: str
    author: str
    reason: str
    written_at: datetime


class Written(msgspec.Struct, frozen=True, kw_only=True):
    """run: the number of the run that brings it to readers."""

    revision: Revision
    run: int
