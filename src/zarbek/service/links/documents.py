"""How the links of a release are laid out."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.kin import Kin
from zarbek.core.linking.linker import Link


class LinkMap(msgspec.Struct, frozen=True):
    """modules: module to link document id. pages: the id of the document of all pages, or 0. kin: module to
    the id of the document of its types' kin."""

    modules: dict[str, int] = {}
    pages: int = 0
    kin: dict[str, int] = {}


#: Path of a symbol or page to its links, one a mention, in order.
LinkBlock = dict[str, list[Link]]
#: Path of a type to its kin.
KinBlock = dict[str, Kin]
