"""Which files of a source tell of its data model, and in which order they are read."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from hashlib import sha256
from itertools import chain

import msgspec
from pathspec import GitIgnoreSpec

from zarbek.core.model.database_catalog import DatabaseCatalog
from zarbek.core.sources.datamodels.dialects import dialect_of
from zarbek.core.sources.datamodels.settings import NO_DATA, DataSettings
from zarbek.core.sources.languages.reading import SourceFile

_DESCRIBED = (".model.yaml", ".model.yml")
_NUMBER = re.compile(r"(\d+)")
#: The way back from a migration.
_UNDONE = re.compile(r"(?:^|[._/-])(?:down|undo|rollback|revert)(?=[._/-]|$)", re.IGNORECASE)
_DEFINES = re.compile(r"(?im)^\s*(?:CREATE|ALTER|DROP|RENAME|COMMENT\s+ON)\b")
_ASKS = re.compile(r"(?is)\A(?:\s+|--[^\n]*|/\*.*?\*/|\{#.*?#\})*+(?:\{\{.*?\}\}\s*)*(?:\(|SELECT\b|WITH\b)")
#: Of a file, to see what it is.
_HEAD = 100_000


class ModelFiles(msgspec.Struct, frozen=True, omit_defaults=True):
    """The files of a data model, each list in the order in which it is read. queries: file to the database and schema
    of what it makes. described: files of other forms to the pattern by which they are read."""

    definitions: list[str] = []
    queries: dict[str, str] = {}
    macros: list[str] = []
    models: list[str] = []
    described: dict[str, str] = {}
    results: list[str] = []


def locate_model(
    files: list[str], load: Callable[[str], bytes], settings: DataSettings, languages: Iterable[str], place: str, *,
    is_alone: bool, project_file: str = "", catalog: DatabaseCatalog | None = None,
) -> list[SourceFile]:  # fmt: skip
    """The data model of a source, as one thing to read; none where there is none.

    load: bytes of a file. place: database and schema of tables that name none, where the settings say nothing.
    is_alone: whether nothing else of the source can be read: SQL among other code is a data model only where the
    project says so. catalog: what the database says of itself; project_file: which names it.
    """
    models = [file for file in files if file.endswith(_DESCRIBED)]
    is_told = settings != NO_DATA or bool(models) or is_alone
    if catalog is None and not _is_wanted(set(languages), is_told=is_told):
        return []
    found = _files(files, load, settings, models)
    if catalog is None and not (found.definitions or found.queries or found.models or found.described):
        return []
    options = {
        "files": [msgspec.json.encode(found).decode()], "settings": [msgspec.json.encode(settings).decode()],
        "dialect": [settings.dialect or _dialect_of(found, load, catalog)], "beside": [_digest(found, load)],
    }  # fmt: skip
    if catalog is not None:
        options["catalog"] = [msgspec.json.encode(catalog).decode()]
    return [SourceFile(next(_all(found), project_file), "sql", settings.place or place, options=options)]


def _all(found: ModelFiles) -> Iterator[str]:
    return chain(found.macros, found.definitions, found.queries, found.models, found.described, found.results)


def _digest(found: ModelFiles, load: Callable[[str], bytes]) -> str:
    digest = sha256()
    for file in _all(found):
        digest.update(file.encode() + b"\0" + sha256(load(file)).digest())
    return digest.hexdigest()[:16]


def _dialect_of(found: ModelFiles, load: Callable[[str], bytes], catalog: DatabaseCatalog | None) -> str:
    if catalog is not None:
        return catalog.dialect
    return dialect_of(load(f)[:_HEAD].decode(errors="replace") for f in [*found.definitions, *found.queries])


def _is_wanted(languages: set[str], *, is_told: bool) -> bool:
    return "sql" in languages or (not languages and is_told)


def _files(
    files: list[str], load: Callable[[str], bytes], settings: DataSettings, models: list[str]
) -> ModelFiles:  # fmt: skip
    macros = _chosen(files, settings.macros)
    queries = [f for f in _chosen(files, settings.queries) if f not in macros]
    definitions = [f for f in _chosen(files, settings.definitions) if f not in macros]
    taken = {*macros, *queries, *definitions}
    rest = [file for file in files if file.endswith(".sql") and file not in taken]
    asking, defining = _told_apart(rest, load)
    queries += asking if not settings.queries else []
    definitions += defining if not settings.definitions else []
    described = {file: p for p in settings.descriptions for file in _chosen(files, [p]) if file not in models}
    patterns = [(GitIgnoreSpec.from_lines([pattern]), place) for pattern, place in settings.places.items()]
    places = {file: _place_of(file, patterns, settings.place) for file in queries}
    return ModelFiles(definitions, places, macros, models, described, _chosen(files, settings.results))


def _told_apart(files: list[str], load: Callable[[str], bytes]) -> tuple[list[str], list[str]]:
    """Files that begin with a query, and those that define something, but for the way back from that."""
    heads = {file: load(file)[:_HEAD].decode(errors="replace") for file in files}
    asking = [file for file, head in heads.items() if _ASKS.match(head)]
    rest = (f for f, head in heads.items() if f not in asking and _DEFINES.search(head) and not _UNDONE.search(f))
    return asking, sorted(rest, key=by_number)


def _chosen(files: list[str], patterns: list[str]) -> list[str]:
    """The files of patterns, those of earlier ones first, each by name."""
    found: dict[str, None] = {}
    for pattern in patterns:
        spec = GitIgnoreSpec.from_lines([pattern])
        found |= dict.fromkeys(sorted(filter(spec.match_file, files), key=by_number))
    return list(found)


def _place_of(file: str, patterns: list[tuple[GitIgnoreSpec, str]], otherwise: str) -> str:
    return next((place for spec, place in reversed(patterns) if spec.match_file(file)), otherwise)


def by_number(file: str) -> list[tuple[int, str]]:
    """A key by which names are in order, numbers in them by their value."""
    return [(int(part), "") if part.isdigit() and len(part) < 30 else (-1, part) for part in _NUMBER.split(file)]
