"""What the rules of findings ask the portal, for the texts of one release."""

from __future__ import annotations

from collections.abc import Callable

from zarbek.core.changes.change import Detail
from zarbek.core.changes.signatures import compare_declarations, declaration_of
from zarbek.core.changes.texts import differing_words, means_the_same
from zarbek.core.findings.change_mentions import speaks_of_text, spoken_of
from zarbek.core.findings.link_rules import ChangedSince
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.linker import Link
from zarbek.core.linking.suggestions import Suggestion, suggest
from zarbek.core.linking.versions import sort_key
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.content.block_layout import BlockEntry
from zarbek.service.content.queries import find_entry, read_symbol
from zarbek.service.links.resolution_context import DatabaseResolutionContext


class DatabaseRuleContext:
    """text_history: path of a text to the version in which it last changed, where that is an older one."""

    def __init__(self, release: Release, portal: DatabaseResolutionContext, text_history: dict[str, str]) -> None:
        self.release, self.portal, self.text_history = release, portal, text_history
        self._changed: dict[tuple[str, str, str, str], ChangedSince | None] = {}
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
        if link.version != self.portal.choice_of(link.project):
            return None  # Who names a version means that one.
        written = self.text_history.get(subject, self.release.version)
        then = written if link.project == self.release.project.slug else self._choices_of(written).get(link.project, "")
        ecosystem = self.portal.ecosystem_of(link.project)
        if not then or sort_key(then, ecosystem) >= sort_key(link.version, ecosystem):
            return None
        key = (link.project, link.path, then, link.version)
        if key not in self._changed:
            self._changed[key] = self._compare(*key)
        found = self._changed[key]
        return self._spoken(found, key, block()) if found is not None else None

    def _spoken(self, changed: ChangedSince, key: tuple[str, str, str, str], block: str) -> ChangedSince | None:
        """What of the changes the text itself speaks of; None for nothing."""
        project, path, then, now = key
        details = spoken_of(changed.details, block, path)
        if details:
            return changed._replace(details=details)
        old, new = self._entry_in(project, then, path), self._entry_in(project, now, path)
        if old is None or new is None:
            return None
        before, after = read_symbol(old).doc, read_symbol(new).doc
        if not speaks_of_text(before, after, block):
            return None
        was, now_said = differing_words(before, after)
        return changed._replace(details=[Detail("text", "Its text says something else now.")], was=was, now=now_said)

    def as_written(self, path: str) -> Symbol | None:
        """A symbol of the release as it was when its text was last changed; None where it has
        the same signature still, or the text is as young as the release."""
        version = self.text_history.get(path, "")
        own = self.portal.own
        if not version or own is None or path not in own.symbols:
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

    def _compare(self, project: str, path: str, then: str, now: str) -> ChangedSince | None:
        old, new = self._entry_in(project, then, path), self._entry_in(project, now, path)
        if old is None or new is None or _is_equal(old.symbol, new.symbol):
            return None
        before, after = read_symbol(old), read_symbol(new)
        details = [d for d in compare_declarations(before, after) if not _is_told(d)]
        text = not means_the_same(before.doc, after.doc)
        if not details and not text:
            return None
        kinds = {d.kind for d in details}
        between = self._between(project, then, now)
        since = next((v for v in between if self._has_changed(project, v, before, kinds)), now)
        if not details:
            details = [Detail("text", "Its text says something else now.")]
            return ChangedSince(then, since, details, *differing_words(before.doc, after.doc))
        return ChangedSince(then, since, details, declaration_of(before), declaration_of(after))

    def _between(self, project: str, then: str, now: str) -> list[str]:
        ecosystem = self.portal.ecosystem_of(project)
        least = sort_key(then, ecosystem)
        return [v for v in self.portal.history(project, now) if sort_key(v, ecosystem) > least]

    def _has_changed(self, project: str, version: str, before: Symbol, kinds: set[str]) -> bool:
        """Whether a version differs from an older one in these kinds of details, or in its text."""
        found = self._entry_in(project, version, before.path)
        if found is None:
            return False
        symbol = read_symbol(found)
        if kinds:
            return any(d.kind in kinds and not _is_told(d) for d in compare_declarations(before, symbol))
        return not means_the_same(before.doc, symbol.doc)

    def _entry_in(self, project: str, version: str, path: str) -> BlockEntry | None:
        release_id = self.portal.versions(project).get(version)
        if release_id == 0:
            release_id = self.release.pk
        found = find_entry(release_id, path) if release_id else None
        return found if found is not None and found.symbol.path == path else None


def _is_equal(left: SymbolEntry, right: SymbolEntry) -> bool:
    return (left.shape, left.said) == (right.shape, right.said)


def _is_told(detail: Detail) -> bool:
    """Whether a type was only written down, or is no longer."""
    return detail.kind in ("parameter-type", "return-type", "type") and not (detail.before and detail.after)
