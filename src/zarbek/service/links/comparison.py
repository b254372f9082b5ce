"""Two releases of a project side by side."""

from __future__ import annotations

from collections.abc import Collection
from functools import lru_cache

from zarbek.core.changes.change import Comparison
from zarbek.core.changes.comparison import compare_releases
from zarbek.core.changes.page_words import MAX_SECTIONS, PageWords, compare_sections
from zarbek.core.editions.restriction import restricted
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.versions import is_prerelease, sort_key
from zarbek.core.model.example import EXAMPLE, EXERCISED
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page, Section
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import list_releases
from zarbek.service.content.block_layout import BlockEntry
from zarbek.service.content.editions import audience_for, edition_name_of
from zarbek.service.content.page_sections import sections_of
from zarbek.service.content.queries import get_manifest, iter_blocks, load_index, read_symbols, read_text

#: A number that says less than the changes do.
HIDES_BREAK = "text/hides-break"
#: A test that showed something and is not there any more.
VANISHED = "stale/verdict"
#: What is found by comparing a release with the one before.
COMPARED = (HIDES_BREAK, VANISHED)


def compare(old: int, new: int) -> Comparison:
    """Releases by id, as far as whoever asks may read them. Cost: by what differs, and one look at the rest."""
    names = (edition_name_of(get_manifest(pk)) for pk in (old, new))
    return _compare(old, new, *names)


@lru_cache(maxsize=16)
def _compare(old: int, new: int, old_edition: str, new_edition: str) -> Comparison:
    """Both never change."""
    before, after = _entries(old), _entries(new)
    unchanged = {p for p, entry in before.items() if p in after and after[p].content == entry.content}
    return compare_releases(
        _index_of(old, old_edition), _index_of(new, new_edition), load_old=lambda paths: _load(before, paths),
        load_new=lambda paths: _load(after, paths), unchanged=unchanged,
    )  # fmt: skip


def _index_of(release_id: int, edition: str) -> ReleaseIndex:
    """What an edition has of a release."""
    index = load_index(release_id)
    return restricted(index, audience_for(get_manifest(release_id))) if edition else index


def compare_page(old: Release, new: Release, path: str) -> PageWords | None:
    """What a page says differently. path: in the newer release, or where it was for one that is gone; None where
    neither has it."""
    change = next((page for page in compare(old.pk, new.pk).pages if page.path == path), None)
    was = change.was or path if change is not None else path
    before, after = read_text(old.pk, "page", was), read_text(new.pk, "page", path)
    if before is None and after is None:
        return None
    found = compare_sections(_sections(old, before), _sections(new, after))
    return PageWords(
        new.project.slug, old.version, new.version, path, was, found[:MAX_SECTIONS], len(found) > MAX_SECTIONS
    )


def _sections(release: Release, page: Symbol | Page | None) -> list[Section]:
    return sections_of(page, get_manifest(release.pk).tree_of(page.file)) if isinstance(page, Page) else []


def _entries(release_id: int) -> dict[str, BlockEntry]:
    return {entry.symbol.path: entry for _, block in iter_blocks(release_id) for entry in block.entries}


def _load(entries: dict[str, BlockEntry], paths: Collection[str]) -> dict[str, Symbol]:
    return {symbol.path: symbol for _, symbol in read_symbols([entries[p] for p in dict.fromkeys(paths)])}


def find_predecessor(release: Release) -> Release | None:
    """The final release that one follows by number; None for the first, and for previews."""
    version = get_manifest(release.pk).version
    if release.is_preview:
        return None
    ecosystem = release.project.ecosystem
    own = sort_key(version, ecosystem)
    return next(
        (
            r for r in list_releases(release.project, previews=False)
            if r.pk != release.pk and not is_prerelease(r.version, ecosystem) and sort_key(r.version, ecosystem) < own
        ),
        None,
    )  # fmt: skip


def judge_examples(comparison: Comparison, before: Release) -> list[Finding]:
    """VANISHED: examples that the older release has, and the newer one does not, each at what it showed."""
    gone = [c.path for c in comparison.changes if c.kind == "removed" and c.symbol_kind == EXAMPLE]
    entries = _entries(before.pk) if gone else {}
    found = []
    for path, symbol in _load(entries, gone).items():
        title = symbol.example.title if symbol.example is not None else symbol.name
        shown = next((m.name for m in symbol.mentions if m.field == EXERCISED), path)
        told = f"The example “{title}” of {shown}, which {before.version} had, is gone."
        found.append(
            Finding(VANISHED, "warning", path, told,
                    file=symbol.file, line=symbol.line, text=symbol.name, target=path,
                    fingerprint=fingerprint(VANISHED, path, symbol.name))
        )  # fmt: skip
    return found


def judge_number(comparison: Comparison) -> Finding | None:
    """HIDES_BREAK: the version number promises what the changes do not keep."""
    if not comparison.hides_break:
        return None
    breaking = [c for c in comparison.changes if c.breaks]
    told = "1 change does" if len(breaking) == 1 else f"{len(breaking)} changes do"
    names = ", ".join((c.was or c.path) for c in breaking[:3]) + (" and more" if len(breaking) > 3 else "")
    return Finding(
        HIDES_BREAK, "note", "", subject_kind="project", text=comparison.new,
        message=f"{comparison.new} says by its number that nothing breaks since {comparison.old}; "
        f"{told}: {names}. The changes ask for {comparison.suggested}.",
        target=f"{comparison.project}/", suggestion=comparison.suggested, why="Semantic Versioning 2.0.0",
        fingerprint=fingerprint(HIDES_BREAK, comparison.project, comparison.new),
    )  # fmt: skip
