"""Bundles that one process makes and reads itself: in memory, where nobody else has them in hand."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from pathlib import Path
from typing import TypeVar

import msgspec

from zarbek.core.material.bundle_file import MAX_LINE_BYTES, MEMBERS, BundleReader
from zarbek.core.model.bundle import Manifest

T = TypeVar("T")


class Holder:
    """Takes what a bundle holds in the place of ``write_bundle``; ``bundle`` has it then."""

    bundle: HeldBundle

    def __call__(
        self, _path: Path, manifest: Manifest, members: Mapping[str, Iterable[bytes]], assets: Collection[str],
        read: Callable[[str], bytes],
    ) -> Manifest:  # fmt: skip
        """The manifest with what is counted."""
        self.bundle = HeldBundle(manifest, members, assets, read)
        return self.bundle.manifest


class HeldBundle(BundleReader):
    """Reads like one from a file; without digests and bounds, for what is in it was just written."""

    def __init__(
        self, manifest: Manifest, members: Mapping[str, Iterable[bytes]], assets: Collection[str],
        read: Callable[[str], bytes],
    ) -> None:  # fmt: skip
        self._members = {name: list(members.get(name, ())) for name in MEMBERS}
        self._assets = {name: read(name) for name in sorted(assets)}
        counts = {name.removesuffix(".jsonl"): len(lines) for name, lines in self._members.items()}
        self.manifest = msgspec.structs.replace(manifest, counts={**counts, "assets": len(assets)})

    def __exit__(self, *_: object) -> None:
        """Nothing is open."""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, HeldBundle) and (self.manifest, self._members, self._assets) == (
            other.manifest, other._members, other._assets
        )  # fmt: skip

    __hash__ = None  # type: ignore[assignment]

    def _lines(self, name: str, decode: Callable[[bytes], T], most: int = MAX_LINE_BYTES) -> Iterator[T]:
        return map(decode, self._members[name])

    def asset_names(self) -> list[str]:
        """The paths of its images and other files, in order."""
        return list(self._assets)

    def asset(self, name: str) -> bytes:
        """Raises KeyError for one that it has not."""
        return self._assets[name]
