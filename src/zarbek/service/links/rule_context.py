"""What the rules of findings ask the portal, for the texts of one release."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import NamedTuple

from zarbek.core.changes.change import Detail
from zarbek.core.changes.data_models import RETYPED
from zarbek.core.changes.signatures import compare_declarations, declaration_of
from zarbek.core.changes.texts import differing_words, means_the_same
from zarbek.core.editions.reused_texts import text_of_element
from zarbek.core.editions.visibility import audience_of
from zarbek.core.findings.change_mentions import lost_figures, repeats, spoken_of
from zarbek.core.findings.link_rules import ChangedSince
from zarbek.core.findings.text_history import SymbolHistory
from zarbek.core.linking.index import SymbolEntry, entry_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.suggestions import Suggestion, suggest
from zarbek.core.model.example import EXAMPLE, Example
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.content.block_layout import BlockEntry
from zarbek.service.content.queries import find_content, find_entry, read_contents, read_symbol
from zarbek.service.links.changed_elsewhere import find_content_elsewhere
from zarbek.service.links.histories import get_symbol_history, read_histories
from zarbek.service.links.resolution_context import DatabaseResolutionContext

_OTHER_TEXT = Detail("text", "Its text says something else now.")


class _Change(NamedTuple):
    """What became of a symbol between two releases. figures: numbers and units that its text has no longer; words:
    of its text before and after, where those differ."""

    since: ChangedSince
    figures: frozenset[str]
    words: tuple[str, str]


class DatabaseRuleContext:
    """text_history: path of a text to the version in which it last changed, where that is an older one."""

    def __init__(self, release: Release, portal: DatabaseResolutionContext) -> None:
        self.release, self.portal = release, portal
        self.text_history, declared = read_histories(release)
        self._own_history = SymbolHistory(self.text_history, declared)
        self._changed: dict[tuple[str, str, str, str], _Change | None] = {}
        self._suggested: dict[tuple[str, str, str], Suggestion | None] = {}
        self._choices: dict[str, dict[str, str]] = {}

    def suggest(self, project: str, version: str, name: str) -> Suggestion | None:
        """What may be meant by a name that a release has not; None for no idea."""
        key = (project, version, name)
        if key not in self._suggested:  # A name that is missed once is often missed again.
            target = self.portal.find(project, version)
            before = self.portal.before(project, name, target.version) if target is not None else None
            self._suggested[key] = suggest(name, target, before) if target is not None else None
        return self._suggested[key]

    def entry(self, link: Link) -> SymbolEntry | None:
        """The symbol that a link leads to; None for a guide, or nothing."""
        index = self.portal.find(link.project, link.version)
        return index.symbols.get(link.path) if index else None

    def gone_since(self, project: str, name: str, version: str) -> str:
        """The version in which a name went; empty if it never was there."""
        return self.portal.gone_since(project, name, version)

    def deprecated_in(self, project: str, path: str, version: str) -> str:
        """The version in which a symbol was deprecated first."""
        return self.portal.deprecated_in(project, path, version)

    def moved_in(self, project: str, version: str, name: str) -> str:
        """The version in which a name became another."""
        return self.portal.moved_in(project, version, name)

    def newest(self, project: str) -> str:
        """A project's newest version; empty for none."""
        index = self.portal.newest_of(project)
        return index.version if index else ""

    def owners_of(self, name: str) -> list[str]:
        """The projects that own the namespace that a name lies in."""
        head = key_of(name)
        while head:
            if owners := self.portal.owners_of(head):
                return owners
            head = head.rpartition(".")[0]
        return []

    def changed(self, subject: str, link: Link, block: Callable[[], str]) -> ChangedSince | None:
        """How a link's target changed since the words that mention it were written; None where it did not, or nobody
        can tell. block: gives those words."""
        found = self._since(subject, link)
        return _spoken(found, link.path, block()) if found is not None else None

    def retyped(self, subject: str, link: Link) -> ChangedSince | None:
        """How the type of a column changed since the query that reads it was written; None where it did not."""
        found = self._since(subject, link)
        details = [d for d in found.since.details if d.kind in RETYPED] if found is not None else []
        return found.since._replace(details=details) if found is not None and details else None

    def lacking(self, variants: Collection[str], link: Link) -> list[str]:
        """The editions that have a text of some flags, and not the target of its link within the project."""
        own = self.portal.own
        if own is None or link.project != own.project:
            return []
        editions = own.manifest.editions.items()
        audiences = ((name, audience_of(own.manifest.options, edition)) for name, edition in editions)
        return [name for name, audience in audiences if audience.has(variants) and not audience.has(link.variants)]

    def says(self, link: Link) -> bool:
        """Whether the element that a link leads to has the text that is used of it."""
        found = self._entry_in(link.project, link.version, link.path)
        return found is not None and text_of_element(read_symbol(found).doc, link.anchor) is not None

    def retold(self, subject: str, link: Link, written: str) -> ChangedSince | None:
        """How the text of a link's target changed since a supplement was written for it; None where it says the same.
        written: the release for which it was; empty takes the one that counted when its own text was published."""
        then = written or self._then(subject, link)
        if not then or not self.portal.is_before(link.project, then, link.version):
            return None
        pair = self._contents_of(link.project, link.path, then, link.version)
        if pair is None:
            return None
        before, after = read_contents(pair)
        if means_the_same(before.doc, after.doc) and bool(before.doc) == bool(after.doc):
            return None
        between = self._between(link.project, then, link.version)
        since = self._changed_in(between, link.project, pair, before, set())
        return ChangedSince(then, since, [_OTHER_TEXT], *differing_words(before.doc, after.doc))

    def _then(self, subject: str, link: Link) -> str:
        """The release of a link's project that counted when the text that names it was published as it is."""
        if link.version != self.portal.choice_of(link.project):
            return ""  # Who names a version means that one.
        written = self.text_history.get(subject, self.release.version)
        return written if link.project == self.release.project.slug else self._choices_of(written).get(link.project, "")

    def example(self, link: Link) -> Example | None:
        """The example that a link leads to; None where it leads to something else."""
        found = self._entry_in(link.project, link.version, link.path)
        return read_symbol(found).example if found is not None and found.symbol.kind == EXAMPLE else None

    def _since(self, subject: str, link: Link) -> _Change | None:
        then = self._then(subject, link)
        if not then or not self.portal.is_before(link.project, then, link.version):
            return None
        key = (link.project, link.path, then, link.version)
        if key not in self._changed:
            self._changed[key] = self._compare(*key)
        return self._changed[key]

    def as_written(self, path: str) -> Symbol | None:
        """A symbol of the release as it was when its text was last changed; None where it has
        the same signature still, or the text is as young as the release."""
        version = self.text_history.get(path, "")
        own = self.portal.own
        if not version or own is None or path not in own.symbols or self._own_history.is_as_in(version, path):
            return None
        found = self._entry_in(own.project, version, path)
        if found is None or found.symbol.shape == own.symbols[path].shape:
            return None
        return read_symbol(found)

    def _choices_of(self, version: str) -> dict[str, str]:
        """What the mentions of one of the project's releases meant when it was published."""
        if version not in self._choices:
            row = self.release.project.releases.filter(version=version).values_list("first_choices", flat=True).first()
            self._choices[version] = row or {}
        return self._choices[version]

    def _compare(self, project: str, path: str, then: str, now: str) -> _Change | None:
        pair = self._contents_of(project, path, then, now)
        if pair is None:
            return None
        before, after = read_contents(pair)
        if _is_equal(entry_of(before), entry_of(after)):
            return None
        details = [d for d in compare_declarations(before, after) if not _is_told(d)]
        if not details and means_the_same(before.doc, after.doc):
            return None
        since = self._changed_in(self._between(project, then, now), project, pair, before, {d.kind for d in details})
        words = differing_words(before.doc, after.doc)
        told = (
            ChangedSince(then, since, details, declaration_of(before), declaration_of(after)) if details
            else ChangedSince(then, since, [_OTHER_TEXT], *words)
        )  # fmt: skip
        return _Change(told, lost_figures(before.doc, after.doc), words)

    def _contents_of(self, project: str, path: str, then: str, now: str) -> tuple[int, int] | None:
        """Those of a symbol in two releases; None where it is the same in both, or missing in one."""
        if (release_id := self._release_of(project, now)) and self._history_of(release_id).is_as_in(then, path):
            return None
        old, new = self._content_in(project, then, path), self._content_in(project, now, path)
        return (old, new) if old and new and old != new else None

    def _between(self, project: str, then: str, now: str) -> list[str]:
        """Those behind a version, oldest first, up to another."""
        return [v for v in self.portal.history(project, now) if self.portal.is_before(project, then, v)]

    def _changed_in(
        self, versions: list[str], project: str, pair: tuple[int, int], before: Symbol, kinds: set[str]
    ) -> str:  # fmt: skip
        """The first of some versions, the last of which has the later one of a pair of contents, that differs from the
        earlier one."""
        changed = (v for v in versions[:-1] if self._has_changed(project, v, pair, before, kinds))
        return next(changed, versions[-1])

    def _has_changed(
        self, project: str, version: str, pair: tuple[int, int], before: Symbol, kinds: set[str]
    ) -> bool:  # fmt: skip
        """Whether a version between those of a pair of contents differs from the older one in these kinds of details,
        or in its text."""
        found = self._content_in(project, version, before.path)
        if not found or found in pair:
            return bool(found) and found == pair[1]
        (symbol,) = read_contents((found,))
        if kinds:
            return any(d.kind in kinds and not _is_told(d) for d in compare_declarations(before, symbol))
        return not means_the_same(before.doc, symbol.doc)

    def _history_of(self, release_id: int) -> SymbolHistory:
        return self._own_history if release_id == self.release.pk else get_symbol_history(release_id)

    def _release_of(self, project: str, version: str) -> int:
        """The id of a release; 0 for none."""
        found = self.portal.versions(project).get(version)
        return self.release.pk if found == 0 else found or 0

    def _content_in(self, project: str, version: str, path: str) -> int:
        release_id = self._release_of(project, version)
        return (find_content(release_id, path) or find_content_elsewhere(release_id, path)) if release_id else 0

    def _entry_in(self, project: str, version: str, path: str) -> BlockEntry | None:
        release_id = self._release_of(project, version)
        found = find_entry(release_id, path) if release_id else None
        if found is None or found.symbol.path != path:
            return None
        content = found.content or find_content_elsewhere(release_id, path)
        return BlockEntry(found.symbol, content) if content else None


def _spoken(changed: _Change, path: str, block: str) -> ChangedSince | None:
    """What of the changes the text itself speaks of; None for nothing."""
    since, figures, words = changed
    if details := spoken_of(since.details, block, path):
        return since._replace(details=details)
    if not repeats(block, figures):
        return None
    return since._replace(details=[_OTHER_TEXT], was=words[0], now=words[1])


def _is_equal(left: SymbolEntry, right: SymbolEntry) -> bool:
    return (left.shape, left.said) == (right.shape, right.said)


def _is_told(detail: Detail) -> bool:
    """Whether a type was only written down, or is no longer."""
    return detail.kind in ("parameter-type", "return-type", "type") and not (detail.before and detail.after)
