"""When a text was last changed, release by release."""

from __future__ import annotations

from collections.abc import Mapping

from zarbek.core.linking.index import ReleaseIndex


def changed_texts(
    own: ReleaseIndex, before: ReleaseIndex | None, written_before: Mapping[str, str], same_pages: frozenset[str]
) -> dict[str, str]:
    """Path of a symbol or page to the version in which its text last changed, where that is an
    older one than this release.

    before: the release that this one follows, with its own answer. same_pages: paths of the pages
    whose text is equal in both.
    """
    if before is None:
        return {}
    found = {path: written_before.get(path, before.version) for path in same_pages}
    for path, entry in own.symbols.items():
        old = before.symbols.get(path)
        if entry.said and old is not None and old.said == entry.said:
            found[path] = written_before.get(path, before.version)
    return found
