"""Editions: what one audience, or one variant of a product, has of a release."""

from __future__ import annotations

from collections.abc import Collection
from typing import Literal

import msgspec

from zarbek.core.model.limits import Label, Title
from zarbek.core.model.visibility import SHOWN

#: Who may read an edition: all who may read its project, who is signed in, or who has a part in the project.
Readers = Literal["public", "inside", "teams"]


class Edition(msgspec.Struct, frozen=True, omit_defaults=True):
    """A view of a release.

    without: flags whose elements it has not. only: flags of which its elements have one, where any are named.
    visibility: the levels that it shows, as a project says it; empty for those of the project.
    """

    title: Title = ""
    readers: Readers = "public"
    without: list[Label] = []
    only: list[Label] = []
    visibility: Literal["", "public", "internal", "private"] = ""

    def has(self, flags: Collection[str]) -> bool:
        """Whether an element with these flags is in it."""
        return not any(f in self.without for f in flags) and (not self.only or any(f in self.only for f in flags))

    def levels(self, own: tuple[str, ...]) -> tuple[str, ...]:
        """The visibilities that it shows. own: those of the project."""
        return tuple(level for level in own if level in SHOWN[self.visibility]) if self.visibility else own


#: Of whoever may read none of a project's editions.
NOTHING = Edition(only=["\0"])
