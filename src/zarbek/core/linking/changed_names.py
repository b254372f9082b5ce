"""Which names mean something else after a release than before it."""

from __future__ import annotations

from functools import lru_cache

from zarbek.core.linking.dependency_trace import made_key
from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.language_profile import profile_of
from zarbek.core.model.bundle import Scope
from zarbek.core.model.example import EXAMPLE
from zarbek.core.model.naming import key_of


@lru_cache(maxsize=64)
def changed_names(before: ReleaseIndex, after: ReleaseIndex) -> frozenset[str]:
    """Keys and paths, of symbols, aliases and pages, and ``KEY.*`` for types whose members or bases
    differ: whatever asks for none of them gets the same answers from both releases.

    Cost: linear in the sizes of both.
    """
    found: set[str] = set()
    for path in before.symbols.keys() | after.symbols.keys():
        old, new = before.symbols.get(path), after.symbols.get(path)
        if old is None or new is None or _seen(old) != _seen(new):
            _add_symbol(found, path, old or new)  # type: ignore[arg-type]
    for name in before.aliases.keys() | after.aliases.keys():
        if before.aliases.get(name) != after.aliases.get(name):
            found.add(name)
            found.add(name.rpartition(".")[0] + ".*")
    found |= before.offered_names ^ after.offered_names
    found.update(map(made_key, (before.macro_words | before.misplaced) ^ (after.macro_words | after.misplaced)))
    for file in before.file_scopes.keys() | after.file_scopes.keys():
        _add_scope(found, before.file_scopes.get(file), after.file_scopes.get(file))
    for path in before.pages.keys() | after.pages.keys():
        old_page, new_page = before.pages.get(path), after.pages.get(path)
        if old_page is None or new_page is None or old_page.anchors != new_page.anchors:
            found.add(path)
    return frozenset(found)


def _seen(entry: SymbolEntry) -> tuple[object, ...]:
    """An entry without its place and body, which no link rests on; but for a test, whose code others quote."""
    quoted = entry.body if entry.kind == EXAMPLE else ""
    return (quoted, entry.name, entry.kind, entry.parent, entry.module, entry.visibility, entry.shape, entry.summary,
            entry.bases, entry.deprecated, entry.flags, entry.language, entry.said, entry.through,
            entry.gives, entry.gives_each)  # fmt: skip


def _add_symbol(found: set[str], path: str, entry: SymbolEntry) -> None:
    key = key_of(path)
    found.update((path, key, key + ".*"))
    parent = key_of(entry.parent)
    found.add(parent + ".*")
    if entry.name in profile_of(entry.language).dynamic:
        found.add(parent)
    if entry.language == "cpp" and entry.name.endswith(">"):  # A specialisation opens its template.
        found.add(key.partition("<")[0])
        found.add(key.partition("<")[0] + ".*")


def _add_scope(found: set[str], old: Scope | None, new: Scope | None) -> None:
    """Names that others reach through what a module imports."""
    if old == new:
        return
    for module in {scope.module for scope in (old, new) if scope is not None}:
        _add_imports(found, key_of(module), old, new)


def _add_imports(found: set[str], key: str, old: Scope | None, new: Scope | None) -> None:
    before, after = (old.imports if old else {}), (new.imports if new else {})
    found.update(f"{key}.{name}" for name in before.keys() | after.keys() if before.get(name) != after.get(name))
    if (old.wildcards if old else []) != (new.wildcards if new else []):
        found.add(key + ".*")
