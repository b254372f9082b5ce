"""When texts and declarations last changed, release by release."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from zarbek.core.linking.index import ReleaseIndex


class DeclarationHistory(msgspec.Struct, frozen=True):
    """What a release has of those that it follows, beside when its texts last changed.

    versions: its own, and those that it follows, each before the one that it follows in turn. shapes: path of a symbol
    to the version in which its declaration last changed, where that is a later one than its text's.
    """

    versions: list[str] = []
    shapes: dict[str, str] = {}


class SymbolHistory:
    """Tells quickly of most symbols of a release that they are what they were in an older one.

    texts: path of a symbol to the version in which its text last changed, where that is an older one.
    """

    def __init__(self, texts: Mapping[str, str], declarations: DeclarationHistory) -> None:
        self._texts, self._shapes = texts, declarations.shapes
        self._age = {version: age for age, version in enumerate(declarations.versions)}

    @property
    def size(self) -> int:
        """How many symbols and versions it knows."""
        return 1 + len(self._texts) + len(self._shapes) + len(self._age)

    def is_as_in(self, version: str, path: str) -> bool:
        """Whether text and declaration of a symbol are those that a version had; False also where nobody knows."""
        text = self._texts.get(path)
        if text is None or version not in self._age:
            return False
        changed = self._shapes.get(path, text)
        return self._age.get(changed, len(self._age)) >= self._age[version]


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


def changed_declarations(
    own: ReleaseIndex, before: ReleaseIndex, texts: Mapping[str, str], history_before: DeclarationHistory
) -> DeclarationHistory:
    """The history of a release's declarations. texts: as changed_texts gave them; history_before: of the release that
    this one follows."""
    shapes = {}
    for path in texts.keys() & own.symbols.keys() & before.symbols.keys():
        if own.symbols[path].shape != before.symbols[path].shape:
            shapes[path] = own.version
        elif path in history_before.shapes:
            shapes[path] = history_before.shapes[path]
    return DeclarationHistory([own.version, before.version, *history_before.versions[1:]], shapes)
