"""Bundles on disk: a ZIP of JSON Lines (APPNOTE 6.3; RFC 8259). Written deterministically,
read within bounds: everything in a bundle is hostile until it has been read."""

from __future__ import annotations

import os
import struct
import zipfile
import zlib
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from contextlib import nullcontext
from hashlib import sha256
from io import BufferedReader
from pathlib import Path
from typing import IO, TypeVar

import msgspec

from zarbek.core.errors import BundleRefused
from zarbek.core.model.bundle import FORMAT_VERSION, Alias, Manifest, Scope
from zarbek.core.model.example import Verdict
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.model.source_text import SourceText
from zarbek.core.model.symbol import Symbol

T = TypeVar("T")
MANIFEST = "manifest.json"
MEMBERS = ("symbols.jsonl", "aliases.jsonl", "scopes.jsonl", "pages.jsonl", "sources.jsonl", "verdicts.jsonl",
           "findings.jsonl")  # fmt: skip
MAX_BUNDLE_BYTES = 512 * 2**20
MAX_MEMBERS = 20_000
MAX_MEMBER_BYTES = 2**31
MAX_LINE_BYTES = 4 * 2**20
#: Of a page: one of a tree is a whole document.
MAX_PAGE_LINE_BYTES = 40 * 2**20
MAX_ASSET_BYTES = 20 * 2**20
MAX_RATIO = 200
_OTHER_CONTENT = "its content differs from the manifest's digest"
_METHODS = frozenset({zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED})
#: Of the list of members; each takes 46 bytes and its name.
MAX_DIRECTORY_BYTES = 8 * 2**20
#: What unpacking raises for a member that is damaged or cut off.
_BROKEN = (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, KeyError)
_ENDS = "it ends too early"
_DATE = (1980, 1, 1, 0, 0, 0)
_CHUNK = 1 << 20
#: A third of the time for a quarter more bytes: a bundle is sent once.
_LEVEL = 1
#: Where the end of a ZIP lies: a comment of 64 KiB at most, the end itself, and its wide form.
_TAIL_BYTES = 2**16 + 22 + 20 + 56


def write_bundle(
    path: Path, manifest: Manifest, members: Mapping[str, Iterable[bytes]], assets: Collection[str],
    read: Callable[[str], bytes],
) -> Manifest:  # fmt: skip
    """Write a bundle; the manifest as written, with counts and digests filled in.

    members: lines of JSON without line ends by member name, each of MEMBERS at most once. assets: names of files, which
    read gives one after the other.
    The same input gives the same bytes.
    """
    counts: dict[str, int] = {}
    digests: dict[str, str] = {}
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=_LEVEL) as archive:
        for name in MEMBERS:
            key, digest = name.removesuffix(".jsonl"), sha256()
            counts[key] = 0
            with archive.open(name, "w") as out:  # By its name: a ZipInfo brings a level of its own.
                for lines, counts[key] in _batches(members.get(name, ())):
                    digest.update(lines)
                    out.write(lines)
            digests[name] = digest.hexdigest()
        for name in sorted(assets):
            data = read(name)
            archive.writestr(_info(f"assets/{name}"), data, compresslevel=_LEVEL)
            digests[f"assets/{name}"] = sha256(data).hexdigest()
        counts["assets"] = len(assets)
        manifest = msgspec.structs.replace(manifest, counts=counts, digests=digests)
        text = msgspec.json.format(msgspec.json.encode(manifest), indent=2)
        archive.writestr(_info(MANIFEST), text, compresslevel=_LEVEL)
    return manifest


def check_directory(source: Path | IO[bytes]) -> None:
    """Raises BundleRefused for a list of members that is too long to be read at all.

    What the end of the file says of it (APPNOTE 6.3.10, sections 4.3.14 and 4.3.16) is looked at
    before anything is unpacked or kept.
    """
    with nullcontext(source) if not isinstance(source, Path) else source.open("rb") as file:
        size = file.seek(0, os.SEEK_END)
        file.seek(max(0, size - _TAIL_BYTES))
        tail = file.read(_TAIL_BYTES)
        file.seek(0)
    at = tail.rfind(b"PK\x05\x06")
    if at < 0 or len(tail) < at + 22:
        raise zipfile.BadZipFile("it has no list of members")
    count, length = struct.unpack_from("<HI", tail, at + 10)
    if at >= 76 and tail[at - 20 : at - 16] == b"PK\x06\x07" and tail[at - 76 : at - 72] == b"PK\x06\x06":
        count, length = struct.unpack_from("<QQ", tail, at - 76 + 32)
    if count > MAX_MEMBERS:
        raise BundleRefused(f"it has {count} members; at most {MAX_MEMBERS} are allowed")
    if length > MAX_DIRECTORY_BYTES:
        raise BundleRefused(f"its list of members is longer than {MAX_DIRECTORY_BYTES // 2**20} MiB")


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
            check_directory(source)
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
            _check_member(info)
            total += info.file_size
            if info.file_size > MAX_MEMBER_BYTES or total > MAX_MEMBER_BYTES:
                raise BundleRefused("it unpacks to more than 2 GiB", member=name)
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
        except _BROKEN as error:
            raise BundleRefused(f"it cannot be unpacked: {str(error) or _ENDS}", member=name) from error
        if len(data) > limit:
            raise BundleRefused(f"it is larger than {limit:,} bytes", member=name)
        return data

    def _iter(self, name: str, kind: type[T], most: int = MAX_LINE_BYTES) -> Iterator[T]:
        return self._lines(name, msgspec.json.Decoder(kind).decode, most)

    def _lines(self, name: str, decode: Callable[[bytes], T], most: int = MAX_LINE_BYTES) -> Iterator[T]:
        if name not in self._archive.NameToInfo:
            return
        digest, number, lines, size = sha256(), 0, [], 0
        try:
            # What unzips has no fast way to the end of a line.
            with BufferedReader(self._archive.open(name), _CHUNK) as member:  # type: ignore[type-var]
                while line := member.readline(most + 1):
                    number += 1
                    if len(line) > most:
                        raise BundleRefused(f"a line longer than {most // 2**20} MiB", member=name, line=number)
                    lines.append(line)
                    if (size := size + len(line)) > _CHUNK:
                        digest.update(b"".join(lines))
                        lines, size = [], 0
                    yield decode(line)
        except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
            raise BundleRefused(str(error), member=name, line=number) from error
        except _BROKEN as error:
            raise BundleRefused(f"it cannot be unpacked: {str(error) or _ENDS}", member=name, line=number) from error
        digest.update(b"".join(lines))
        expected = self.manifest.digests.get(name)
        if expected and expected != digest.hexdigest():
            raise BundleRefused(_OTHER_CONTENT, member=name)

    def symbols(self) -> Iterator[Symbol]:
        """Its symbols, one at a time."""
        return self._iter("symbols.jsonl", Symbol)

    def symbols_as(self, decode: Callable[[bytes], T]) -> Iterator[T]:
        """What decode makes of the line of each symbol, which raises what msgspec does for one that is none."""
        return self._lines("symbols.jsonl", decode)

    def aliases(self) -> Iterator[Alias]:
        """Its aliases, one at a time."""
        return self._iter("aliases.jsonl", Alias)

    def scopes(self) -> Iterator[Scope]:
        """Its scopes, one at a time."""
        return self._iter("scopes.jsonl", Scope)

    def pages(self) -> Iterator[Page]:
        """Its guides, one at a time."""
        return self._iter("pages.jsonl", Page, MAX_PAGE_LINE_BYTES)

    def sources(self) -> Iterator[SourceText]:
        """The texts of its files, one at a time."""
        return self._iter("sources.jsonl", SourceText)

    def verdicts(self) -> Iterator[Verdict]:
        """How its examples went, one at a time."""
        return self._iter("verdicts.jsonl", Verdict)

    def findings(self) -> Iterator[Finding]:
        """What gathering found, one at a time."""
        return self._iter("findings.jsonl", Finding)

    def asset_names(self) -> list[str]:
        """The paths of its images and other files, in order."""
        return sorted(n[7:] for n in self._archive.NameToInfo if n.startswith("assets/") and n != "assets/")

    def asset(self, name: str) -> bytes:
        """Raises BundleRefused where its content is not what the manifest says, or too large."""
        member = f"assets/{name}"
        data = self._read_whole(member, MAX_ASSET_BYTES)
        expected = self.manifest.digests.get(member)
        if expected and expected != sha256(data).hexdigest():
            raise BundleRefused(_OTHER_CONTENT, member=member)
        return data


def _check_member(info: zipfile.ZipInfo) -> None:
    """Raises BundleRefused for one that no bundle has."""
    name = info.filename
    if not (name == MANIFEST or name in MEMBERS or name.startswith("assets/")):
        raise BundleRefused("an unknown member", member=name)
    if "\\" in name or name.startswith("/") or ".." in name.split("/"):
        raise BundleRefused("an absolute or parent path", member=name)
    if (info.external_attr >> 16) & 0o170000 not in (0, 0o100000):
        raise BundleRefused("a link or special file", member=name)
    if info.flag_bits & 1:
        raise BundleRefused("an encrypted member", member=name)
    if info.compress_type not in _METHODS:
        # Others unpack what is left in one go, however much that is.
        raise BundleRefused("packed by a method other than stored and deflate", member=name)
    if info.file_size > _CHUNK and info.file_size > MAX_RATIO * max(info.compress_size, 1):
        raise BundleRefused(f"it is compressed more than {MAX_RATIO} times", member=name)


def digest_file(path: Path) -> str:
    """SHA-256 of a file's bytes, in hexadecimal."""
    digest = sha256()
    with path.open("rb") as handle:
        while chunk := handle.read(_CHUNK):
            digest.update(chunk)
    return digest.hexdigest()
