"""What the tests of a release show of it: read once for all of its readers, when it is published."""

from __future__ import annotations

from collections import defaultdict

import msgspec

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.example import EXERCISED
from zarbek.service.catalog.models import Release
from zarbek.service.common.packing import digest_of, pack, unpack
from zarbek.service.content.block_layout import BlockEntry
from zarbek.service.content.queries import get_contents, get_verdicts, iter_entries, read_symbols
from zarbek.service.links.queries import get_link_map, links_of_text
from zarbek.service.reference.rendering_cache import kept_once

#: How it is kept: what was kept in another way is read again.
_FORMAT = b"tested 2"
#: What can be called or made: nothing else asks for a test.
_ASKED = frozenset("function method class struct record interface trait object operation macro procedure event".split())


class AskedElement(msgspec.Struct, frozen=True, array_like=True):
    """An element that can be called or made. name: within its module. standing: who sees it, by number. examples: those
    that show it, by number."""

    path: str
    name: str
    kind: str
    module: str
    standing: int
    examples: list[int] = []


class OwnExample(msgspec.Struct, frozen=True, array_like=True):
    """An example of the release. standing: who sees it, by number. shows: who sees what it shows of the release."""

    path: str
    title: str
    standing: int
    shows: list[int]


class OwnTested(msgspec.Struct, frozen=True, array_like=True):
    """standings: entries of no name, in place of all that the same readers see. elements: by module, in each as they
    are declared. examples: by path."""

    standings: list[SymbolEntry]
    elements: list[AskedElement]
    examples: list[OwnExample]


def get_own_tested(release: Release) -> OwnTested:
    """For all readers: whoever asks leaves out what they do not see. Cost where it was kept at publishing: reading one
    document; of a release of before that, the first time, reading its tests."""
    digest, kept = _kept(release)
    return unpack(kept or kept_once(digest, lambda: pack(_read(release))), OwnTested)


def read_own_tested(release: Release) -> bytes:
    """What a release keeps of it; empty where that is there already."""
    digest, kept = _kept(release)
    return b"" if kept else digest.encode() + pack(_read(release))


def _kept(release: Release) -> tuple[str, bytes]:
    """The digest of what the release has and refers to, and what was kept of that; empty where it was of something
    else."""
    contents, links, tested = Release.objects.values_list("contents", "links", "tested").get(pk=release.pk)
    digest = digest_of(b"\0".join((_FORMAT, bytes(contents), bytes(links))))
    kept = bytes(tested)
    return digest, kept.removeprefix(digest.encode()) if kept.startswith(digest.encode()) else b""


def _read(release: Release) -> OwnTested:
    return _Reading(release).read()


class _Reading:
    def __init__(self, release: Release) -> None:
        self._release = release
        self._standings: dict[bytes, int] = {}
        self._shown: dict[str, list[int]] = defaultdict(list)

    def read(self) -> OwnTested:
        verdicts = get_verdicts(get_contents(self._release.pk).verdicts)
        entries = list(iter_entries(self._release.pk))
        by_path = {entry.symbol.path: entry.symbol for entry in entries}
        examples = self._examples([e for e in entries if e.symbol.path in verdicts], by_path)
        asked = [e.symbol for e in entries if e.symbol.kind in _ASKED]
        names = {entry.path: entry.name for entry in asked}
        elements = [
            AskedElement(
                entry.path, _within(entry, names), entry.kind, entry.module, self._standing(entry),
                self._shown.get(entry.path, []),
            ) for entry in sorted(asked, key=lambda e: (e.module, e.file, e.line))
        ]  # fmt: skip
        return OwnTested([msgspec.json.decode(s, type=SymbolEntry) for s in self._standings], elements, examples)

    def _examples(self, entries: list[BlockEntry], by_path: dict[str, SymbolEntry]) -> list[OwnExample]:
        link_map, found = get_link_map(self._release), []
        for entry, symbol in read_symbols(sorted(entries, key=lambda e: e.symbol.path)):
            links = links_of_text(self._release, link_map, "symbol", symbol.path)
            targets = {
                link.path for mention, link in zip(symbol.mentions, links, strict=False)
                if mention.field == EXERCISED and link.kind == "symbol" and link.project == self._release.project.slug
            }  # fmt: skip
            for path in targets:
                self._shown[path].append(len(found))
            title = symbol.example.title if symbol.example is not None else symbol.name
            shows = sorted({self._standing(by_path[path]) for path in targets if path in by_path})
            found.append(OwnExample(symbol.path, title, self._standing(entry.symbol), shows))
        return found

    def _standing(self, entry: SymbolEntry) -> int:
        """All that decides who sees an entry, as the number of one that stands for all like it."""
        like = SymbolEntry(
            "", "", "", "", "", entry.visibility, "", entry.summary and "_", flags=entry.flags, variants=entry.variants
        )
        return self._standings.setdefault(msgspec.json.encode(like), len(self._standings))


def _within(entry: SymbolEntry, names: dict[str, str]) -> str:
    """An element's name within its module; a public name may begin with another module."""
    rest = entry.path.removeprefix(entry.module)
    if rest != entry.path and rest:
        return rest.lstrip(".:/")
    owner = names.get(entry.parent)
    return f"{owner}.{entry.name}" if owner is not None else entry.name
