"""How the links of a release are laid out."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.inheritance import Inheritance
from zarbek.core.linking.link import Link


class LinkMap(msgspec.Struct, frozen=True):
    """modules: module to link document id. pages: the id of the document of all pages, or 0. inheritance: module to
    the id of the document of its types' bases and heirs. referrers: unit to the id of the document that tells
    which texts of the release refer to what stands in it."""

    modules: dict[str, int] = {}
    pages: int = 0
    inheritance: dict[str, int] = {}
    referrers: dict[str, int] = {}

    def document_ids(self) -> set[int]:
        """Of all its documents."""
        parts = (self.modules, self.inheritance, self.referrers)
        return {self.pages, *(pk for part in parts for pk in part.values())} - {0}


#: Kind of a text, ``symbol`` or ``page``, and its path.
Text = tuple[str, str]
#: Path or wanted name to the texts of the same release that refer to it, sorted.
ReferrerBlock = dict[str, list[Text]]
#: Path of a symbol or page to its links, one a mention, in order.
LinkBlock = dict[str, list[Link]]
#: Path of a type to its bases and heirs.
InheritanceBlock = dict[str, Inheritance]
