"""Bundles on disk: a ZIP of JSON Lines (APPNOTE 6.3; RFC 8259). Written deterministically,
read within bounds: everything in a bundle is hostile until it has been read."""

from __future__ import annotations

import zipfile
import zlib
from collections.abc import Iterable, Iterator, Mapping
from hashlib import sha256
from pathlib import Path
from typing import IO, TypeVar

import msgspec

from zarbek.core.errors import BundleRefused
from zarbek.core.model.bundle import FORMAT_VERSION, Alias, Manifest, Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol

T = TypeVar("T")
MANIFEST = "manifest.json"
MEMBERS = ("symbols.jsonl", "aliases.jsonl", "scopes.jsonl", "pages.jsonl", "findings.jsonl")
MAX_BUNDLE_BYTES = 512 * 2**20
MAX_MEMBERS = 20_000
MAX_MEMBER_BYTES = 2**31
MAX_LINE_BYTES = 4 * 2**20
MAX_RATIO = 200
_DATE = (1980, 1, 1, 0, 0, 0)
_CHUNK = 1 << 20


def write_bundle(
    path: Path, manifest: Manifest, members: Mapping[str, Iterable[bytes]], assets: dict[str, bytes]
) -> Manifest:
    """Write a bundle; the manifest as written, with counts and digests filled in.

    members: lines of JSON without line ends by member name, each of MEMBERS at most once.
    The same input gives the same bytes.
    """
    counts: dict[str, int] = {}
    digests: dict[str, str] = {}
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name in MEMBERS:
            key, digest = name.removesuffix(".jsonl"), sha256()
            counts[key] = 0
            with archive.open(_info(name), "w") as out:
                for lines, counts[key] in _batches(members.get(name, ())):
                    digest.update(lines)
                    out.write(lines)
            digests[name] = digest.hexdigest()
        for name in sorted(assets):
            archive.writestr(_info(f"assets/{name}"), assets[name])
            digests[f"assets/{name}"] = sha256(assets[name]).hexdigest()
        counts["assets"] = len(assets)
        manifest = msgspec.structs.replace(manifest, counts=counts, digests=digests)
        text = msgspec.json.format(msgspec.json.encode(manifest), indent=2)
        archive.writestr(_info(MANIFEST), text)
    return manifest


def _info(name: str) -> zipfile.ZipInfo:
    info = zipfile.ZipInfo(name, _DATE)
    info.compress_type = zipfile.ZIP_DEFLATED
    info.external_attr = 0o644 << 16
    return info


def _batches(lines: Iterable[bytes]) -> Iterator[tuple[bytes, int]]:
    batch: list[bytes] = []
    size = count = 0
    for line in lines:
        batch.append(line)
        count += 1
        size += len(line)
        if size > _CHUNK:
            yield b"\n".join(batch) + b"\n", count
            batch, size = [], 0
    if batch:
        yield b"\n".join(batch) + b"\n", count


class BundleReader:
    """A bundle opened for reading. Use as a context manager.

    Raises BundleRefused, from the constructor and while iterating, for anything that breaks
    the format or a bound; memory stays within one line and one asset.
    """

    def __init__(self, source: Path | IO[bytes]) -> None:
        try:
            self._archive = zipfile.ZipFile(source)
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
            raise BundleRefused(f"it is no readable ZIP file: {error}") from error
        try:
            self._check_members()
            self.manifest = self._read_manifest()
        except BundleRefused:
            self._archive.close()
            raise

    def __enter__(self) -> BundleReader:
        return self

    def __exit__(self, *_: object) -> None:
        self._archive.close()

    def _check_members(self) -> None:
        infos = self._archive.infolist()
        if len(infos) > MAX_MEMBERS:
            raise BundleRefused(f"it has {len(infos)} members; at most {MAX_MEMBERS} are allowed")
        seen: set[str] = set()
        total = 0
        for info in infos:
            name = info.filename
            if name in seen:
                raise BundleRefused("a member appears twice", member=name)
            seen.add(name)
            if not (name == MANIFEST or name in MEMBERS or name.startswith("assets/")):
                raise BundleRefused("an unknown member", member=name)
            if "\\" in name or name.startswith("/") or ".." in name.split("/"):
                raise BundleRefused("an absolute or parent path", member=name)
            if (info.external_attr >> 16) & 0o170000 not in (0, 0o100000):
                raise BundleRefused("a link or special file", member=name)
            if info.flag_bits & 1:
                raise BundleRefused("an encrypted member", member=name)
            total += info.file_size
            if info.file_size > MAX_MEMBER_BYTES or total > MAX_MEMBER_BYTES:
                raise BundleRefused("it unpacks to more than 2 GiB", member=name)
            if info.file_size > _CHUNK and info.file_size > MAX_RATIO * max(info.compress_size, 1):
                raise BundleRefused(f"it is compressed more than {MAX_RATIO} times", member=name)
        if MANIFEST not in seen:
            raise BundleRefused("manifest.json is missing")

    def _read_manifest(self) -> Manifest:
        raw = self._read_whole(MANIFEST, MAX_LINE_BYTES)
        try:
            manifest = msgspec.json.decode(raw, type=Manifest)
        except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
            raise BundleRefused(str(error), member=MANIFEST) from error
        if manifest.format != FORMAT_VERSION:
            raise BundleRefused(
                f"format {manifest.format} is not known; this is format {FORMAT_VERSION}", member=MANIFEST
            )
        return manifest

    def _read_whole(self, name: str, limit: int) -> bytes:
        try:
            with self._archive.open(name) as member:
                data = member.read(limit + 1)
        except (zipfile.BadZipFile, zlib.error, OSError, NotImplementedError, KeyError) as error:
            raise BundleRefused(f"it cannot be unpacked: {error}", member=name) from error
        if len(data) > limit:
            raise BundleRefused(f"it is larger than {limit:,} bytes", member=name)
        return data

    def _iter(self, name: str, kind: type[T]) -> Iterator[T]:
        if name not in self._archive.NameToInfo:
            return
        decoder = msgspec.json.Decoder(kind)
        digest, number = sha256(), 0
        try:
            with self._archive.open(name) as member:
                while line := member.readline(MAX_LINE_BYTES + 1):
                    number += 1
                    if len(line) > MAX_LINE_BYTES:
                        raise BundleRefused("a line longer than 4 MiB", member=name, line=number)
                    digest.update(line)
                    yield decoder.decode(line)
        except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
            raise BundleRefused(str(error), member=name, line=number) from error
        except (zipfile.BadZipFile, zlib.error, EOFError, OSError) as error:
            raise BundleRefused(f"it cannot be unpacked: {error}", member=name, line=number) from error
        expected = self.manifest.digests.get(name)
        if expected and expected != digest.hexdigest():
            raise BundleRefused("its content differs from the manifest's digest", member=name)

    def symbols(self) -> Iterator[Symbol]:
        return self._iter("symbols.jsonl", Symbol)

    def aliases(self) -> Iterator[Alias]:
        return self._iter("aliases.jsonl", Alias)

    def scopes(self) -> Iterator[Scope]:
        return self._iter("scopes.jsonl", Scope)

    def pages(self) -> Iterator[Page]:
        return self._iter("pages.jsonl", Page)

    def findings(self) -> Iterator[Finding]:
        return self._iter("findings.jsonl", Finding)

    def asset_names(self) -> list[str]:
        return sorted(n[7:] for n in self._archive.NameToInfo if n.startswith("assets/") and n != "assets/")

    def asset(self, name: str) -> bytes:
        return self._read_whole(f"assets/{name}", 20 * 2**20)


def digest_file(path: Path) -> str:
    """SHA-256 of a file's bytes, in hexadecimal."""
    digest = sha256()
    with path.open("rb") as handle:
        while chunk := handle.read(_CHUNK):
            digest.update(chunk)
    return digest.hexdigest()
