"""Which elements of a release are shown by tests, and how these went."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator

import msgspec

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.example import Verdict
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import find_entry, iter_entries, read_symbol
from zarbek.service.links.models import Referrer
from zarbek.service.links.queries import judged_by_project
from zarbek.service.reference.example_page import list_exercised, verdicts_of
from zarbek.service.reference.navigation import audience_of_release, href_of_symbol

#: What can be called or made: nothing else asks for a test.
_ASKED = frozenset("function method class struct record interface trait object operation macro procedure event".split())


class ShownBy(msgspec.Struct):
    """An example of an element. project, version: where it is from."""

    title: str
    path: str
    href: str
    project: str
    version: str
    verdict: Verdict


class TestedElement(msgspec.Struct):
    """An element that examples show. name: within its module."""

    path: str
    name: str
    kind: str
    href: str
    examples: list[ShownBy]


class UntestedElement(msgspec.Struct):
    """An element that none shows."""

    path: str
    name: str
    kind: str
    href: str


class TestedModule(msgspec.Struct):
    """The elements of a module: those that examples show, and the others."""

    path: str
    href: str
    shown: list[TestedElement]
    others: list[UntestedElement]


class Tested(msgspec.Struct):
    """What is tested of a release, by module. elements: how many can be called or made; shown: how many of them by an
    example; examples: how many, by how they went."""

    project: str
    title: str
    version: str
    elements: int
    shown: int
    examples: dict[str, int]
    modules: list[TestedModule]


def list_tested(release: Release) -> Tested:
    """The elements that readers see, with the examples of this release and of others' newest ones."""
    sees = audience_of_release(release).sees
    entries = [e.symbol for e in iter_entries(release.pk) if e.symbol.kind in _ASKED and sees(e.symbol)]
    shown: dict[str, list[ShownBy]] = defaultdict(list)
    counted: dict[tuple[str, str], str] = {}
    for target, example in (*_own(release), *_others(release)):
        counted[example.project, example.path] = example.verdict.state
        if all(example.href != known.href for known in shown[target]):
            shown[target].append(example)
    modules = _by_module(release, entries, shown)
    return Tested(
        release.project.slug, release.project.title, release.version, len(entries),
        sum(len(module.shown) for module in modules), dict(sorted(Counter(counted.values()).items())), modules,
    )  # fmt: skip


def _own(release: Release) -> Iterator[tuple[str, ShownBy]]:
    for path, verdict in verdicts_of(release).items():
        entry = find_entry(release.pk, path)
        symbol = read_symbol(entry) if entry is not None else None
        if symbol is None or symbol.example is None:
            continue
        made = ShownBy(symbol.example.title, path, href_of_symbol(release, path), release.project.slug,
                       release.version, verdict)  # fmt: skip
        yield from ((target.name, made) for target in list_exercised(release, symbol))


def _others(release: Release) -> Iterator[tuple[str, ShownBy]]:
    """Examples of other projects whose references are judged."""
    rows = Referrer.objects.filter(project=release.project.slug, is_target=True, symbol__isnull=False)
    named = list(rows.exclude(source=release.project).values_list("source_id", "symbol__path", "path"))
    releases = judged_by_project({source for source, _, _ in named})
    for source, path, target in named:
        for home in releases.get(source, ()):
            verdict = verdicts_of(home).get(path)
            entry = find_entry(home.pk, path) if verdict is not None else None
            example = read_symbol(entry).example if entry is not None else None
            if verdict is not None and example is not None:
                yield target, ShownBy(example.title, path, href_of_symbol(home, path), home.project.slug,
                                      home.version, verdict)  # fmt: skip


def _by_module(
    release: Release, entries: list[SymbolEntry], shown: dict[str, list[ShownBy]]
) -> list[TestedModule]:  # fmt: skip
    found: dict[str, TestedModule] = {}
    names = {entry.path: entry.name for entry in entries}
    for entry in sorted(entries, key=lambda e: (e.module, e.file, e.line)):
        module = found.setdefault(
            entry.module, TestedModule(entry.module, href_of_symbol(release, entry.module), [], [])
        )
        name = _within(entry, names)
        href = href_of_symbol(release, entry.path)
        if examples := shown.get(entry.path):
            module.shown.append(TestedElement(entry.path, name, entry.kind, href, examples))
        else:
            module.others.append(UntestedElement(entry.path, name, entry.kind, href))
    return list(found.values())


def _within(entry: SymbolEntry, names: dict[str, str]) -> str:
    """An element's name within its module; a public name may begin with another module."""
    rest = entry.path.removeprefix(entry.module)
    if rest != entry.path and rest:
        return rest.lstrip(".:/")
    owner = names.get(entry.parent)
    return f"{owner}.{entry.name}" if owner is not None else entry.name
