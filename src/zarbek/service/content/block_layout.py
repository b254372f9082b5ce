"""How a release's contents are laid out in blocks."""

from __future__ import annotations

import zlib

import msgspec

from zarbek.core.linking.index import PageEntry, SymbolEntry
from zarbek.core.model.bundle import Alias, Scope
from zarbek.core.model.page import Page
from zarbek.core.model.source_text import SourceText


class BlockEntry(msgspec.Struct, frozen=True, array_like=True):
    """A symbol with the primary key of its content."""

    symbol: SymbolEntry
    content: int


class ModuleBlock(msgspec.Struct, frozen=True):
    """What is read together: a module's own symbols, or a type with all that is in it.

    scopes: of the module's files; empty for a type, whose names stand in its module's block.
    outline: the module's outermost types, which have blocks of their own.
    """

    scopes: list[Scope]
    entries: list[BlockEntry]
    outline: list[BlockEntry] = []


class PageRef(msgspec.Struct, frozen=True, array_like=True):
    """A guide with the primary key of its content."""

    entry: PageEntry
    content: int


class SourceEntry(msgspec.Struct, frozen=True, array_like=True):
    """A file of a release. units: modules and types that it declares something of. variants: of what it declares, each
    once, by what editions have it."""

    file: str
    language: str
    lines: int
    units: list[str] = []
    variants: list[list[str]] = []


class SourceRef(msgspec.Struct, frozen=True, array_like=True):
    """A file with the primary key of its content."""

    entry: SourceEntry
    content: int


class ReleaseContents(msgspec.Struct, frozen=True):
    """modules: path of a module to block id. types: the same of outermost types that have a block
    of their own. hidden: modules that readers do not see; empty: those without anything to read.
    aliases, pages, names, verdicts, sources: block ids, 0 for none. assets: path to digest. titles: of modules that
    are called otherwise than their path.
    """

    modules: dict[str, int] = {}
    aliases: int = 0
    pages: int = 0
    assets: dict[str, str] = {}
    types: dict[str, int] = {}
    hidden: list[str] = []
    empty: list[str] = []
    titles: dict[str, str] = {}
    names: int = 0
    verdicts: int = 0
    sources: int = 0

    @property
    def blocks(self) -> set[int]:
        """Ids of all blocks of the release."""
        own = {self.aliases, self.pages, self.names, self.verdicts, self.sources}
        return {*self.modules.values(), *self.types.values(), *own} - {0}

    def block_of(self, unit: str) -> int:
        """The block of a module or type, 0 for none."""
        return self.modules.get(unit) or self.types.get(unit, 0)


_ENCODE = msgspec.json.Encoder().encode
_DECODE = msgspec.json.Decoder(Page).decode
#: How what zlib packs begins (RFC 1950, section 2.2), and no JSON.
_PACKED = b"\x78"


def pack_page(page: Page) -> bytes:
    """A page's content without its place among others; one of a tree is compressed."""
    document = _ENCODE(msgspec.structs.replace(page, order=-1, depth=0))
    return zlib.compress(document, 1) if page.form == "html" else document


def unpack_page(document: bytes) -> Page:
    """What pack_page made."""
    return _DECODE(zlib.decompress(document) if document.startswith(_PACKED) else document)


def pack_source(source: SourceText) -> bytes:
    """The text of a file, compressed."""
    return zlib.compress(source.text.encode("utf-8", errors="replace"), 6)


def unpack_source(document: bytes) -> str:
    """What pack_source made."""
    return zlib.decompress(document).decode("utf-8")


AliasBlock = list[Alias]
PageBlock = list[PageRef]
