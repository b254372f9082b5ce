"""What a working tree's texts linked to when it was saved last: of the next save, only what differs is looked at.

Texts that differ are linked at once. Where a save changes names as well, others may mean something else now, and all
are to be linked once there is time.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from typing import TypeVar

import msgspec

from zarbek.core.linking.index import PageEntry, SymbolEntry
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Release
from zarbek.service.content.block_layout import BlockEntry, PageRef, ReleaseContents
from zarbek.service.content.queries import get_contents, get_manifest, get_module_block, list_page_refs
from zarbek.service.links.documents import Text

Row = TypeVar("Row", BlockEntry, PageRef)
_wants_all: ContextVar[bool] = ContextVar("wants_all", default=True)


@dataclass(frozen=True, slots=True)
class LastLinked:
    """release: its primary key. findings: of all its texts, from their links. is_whole: whether each text was linked
    after the last name had changed."""

    release: int
    findings: list[Finding]
    is_whole: bool


@dataclass(slots=True)
class Difference:
    """texts: of the later of two releases, that differ. is_named_alike: whether all names mean in it what they meant,
    so that the links of all other texts stay what they are."""

    texts: set[Text] = field(default_factory=set)
    is_named_alike: bool = True


#: By project.
_last: dict[str, LastLinked] = {}


@contextmanager
def differences_first() -> Iterator[None]:
    """While this lasts, only texts that differ are linked, as far as something was linked before."""
    token = _wants_all.set(False)
    try:
        yield
    finally:
        _wants_all.reset(token)


def last_linked(release: Release) -> LastLinked | None:
    """What was linked before a release of the same project, where only what differs from it is wanted."""
    return None if _wants_all.get() else _last.get(release.project.slug)


def note_linked(release: Release, findings: list[Finding], *, is_whole: bool) -> None:
    """Remember it for the next, in the preview of a working tree."""
    _last[release.project.slug] = LastLinked(release.pk, findings, is_whole)


def is_whole(project: str) -> bool:
    """Whether nothing is left to be linked of what was linked last of a project."""
    return project not in _last or _last[project].is_whole


def difference(before: int, after: int) -> Difference:
    """Of two releases by primary key."""
    old, new = get_contents(before), get_contents(after)
    found = Difference(is_named_alike=_is_alike(old, new) and _told(before) == _told(after))
    for unit in sorted({*old.modules, *old.types, *new.modules, *new.types}):
        if old.block_of(unit) != new.block_of(unit):
            _compare_units(old.block_of(unit), new.block_of(unit), found)
    if old.pages != new.pages:
        pages = [{ref.entry.path: ref for ref in list_page_refs(pk)} for pk in (before, after)]
        found.texts |= {("page", path) for path in _differing(*pages)}
        found.is_named_alike &= {p: _named(r.entry) for p, r in pages[0].items()} == {
            p: _named(r.entry) for p, r in pages[1].items()
        }
    return found


def _compare_units(before: int, after: int, found: Difference) -> None:
    if not before or not after:
        found.is_named_alike = False
    blocks = [get_module_block(pk) if pk else None for pk in (before, after)]
    entries = [{e.symbol.path: e for e in block.entries} if block else {} for block in blocks]
    found.texts |= {("symbol", path) for path in _differing(*entries)}
    if blocks[0] is not None and blocks[1] is not None and blocks[0].scopes != blocks[1].scopes:
        found.is_named_alike = False
        found.texts |= {("symbol", path) for path in entries[1]}
    found.is_named_alike &= {p: _meant(e.symbol) for p, e in entries[0].items()} == {
        p: _meant(e.symbol) for p, e in entries[1].items()
    }


def _differing(before: Mapping[str, Row], after: Mapping[str, Row]) -> set[str]:
    return {path for path, row in after.items() if before.get(path) != row}


def _meant(entry: SymbolEntry) -> SymbolEntry:
    """What others that name it rest on: not where it stands and what it says."""
    return msgspec.structs.replace(entry, line=0, summary="-" if entry.summary else "", said="", body="")


def _named(entry: PageEntry) -> PageEntry:
    return msgspec.structs.replace(entry, summary="", said="")


def _is_alike(before: ReleaseContents, after: ReleaseContents) -> bool:
    """Whether they have the same other names and pictures."""
    return (before.aliases, before.assets, before.hidden) == (after.aliases, after.assets, after.hidden)


def _told(release: int) -> Manifest:
    """What the manifest says besides what its bundle holds."""
    return msgspec.structs.replace(get_manifest(release), counts={}, digests={}, commit="")
