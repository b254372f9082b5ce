"""Archives of source files, unpacked within bounds. Sources: APPNOTE 6.3.10 (PKWARE); pax, IEEE Std 1003.1-2017."""

from __future__ import annotations

import lzma
import re
import tarfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO, NamedTuple

from zarbek.core.errors import SourceRefused
from zarbek.core.material.scratch import scratch_folder

MAX_FILES, MAX_FILE_BYTES, MAX_BYTES = 200_000, 512 * 2**20, 2**31
_CHUNK = 2**20
#: What unpackers raise for what is broken, encrypted, or packed in a way that they have not got.
_BROKEN = (
    zipfile.BadZipFile, tarfile.TarError, zlib.error, lzma.LZMAError, EOFError, OSError, RuntimeError, ValueError,
)  # fmt: skip
_ENDING = re.compile(r"\.(?:zip|tgz|tar(?:\.\w+)?)$", re.IGNORECASE)
#: What a bundle has, which is a ZIP archive too.
_OF_BUNDLES = frozenset({"manifest.json", "symbols.jsonl"})


class _Member(NamedTuple):
    name: str
    content: IO[bytes]


def is_archive(path: Path) -> bool:
    """Whether a file is an archive of source files: ZIP or tar, whatever it is called, and no bundle."""
    try:
        if zipfile.is_zipfile(path):
            with zipfile.ZipFile(path) as archive:
                return not set(archive.namelist()) >= _OF_BUNDLES
        return tarfile.is_tarfile(path)
    except _BROKEN:
        return False  # It begins as one.


@contextmanager
def unpacked(archive: Path) -> Iterator[Path]:
    """The folder that an archive holds, until its block ends; where all is in one folder, that one.

    Links and devices are left out. Raises SourceRefused for what is no archive or broken, for names that lead out of it
    or stand twice, and beyond 200,000 files, 512 MiB a file, or 2 GiB.
    """
    if not is_archive(archive):
        told = "is a bundle already: publish it as it is" if zipfile.is_zipfile(archive) else "is no ZIP or tar archive"
        raise SourceRefused(f"{archive.name} {told}.")
    with scratch_folder("archive") as beside:
        folder = beside / (_ENDING.sub("", archive.name) or "archive")
        folder.mkdir()
        try:
            _unpack(archive, folder)
        except _BROKEN as error:
            raise SourceRefused(f"{archive.name} cannot be unpacked: {str(error) or type(error).__name__}.") from error
        inside = list(folder.iterdir())
        yield inside[0] if len(inside) == 1 and inside[0].is_dir() else folder


def _unpack(archive: Path, folder: Path) -> None:
    left, seen = MAX_BYTES, set[str]()
    for name, content in _members(archive):
        path = PurePosixPath(name.replace("\\", "/"))
        if path.is_absolute() or ".." in path.parts or not path.parts or "\0" in name:
            raise SourceRefused(f"{archive.name} has a file {name!r}, which would lie outside of it.")
        if str(path) in seen:
            raise SourceRefused(f"{archive.name} has two files {name!r}.")
        seen.add(str(path))
        if len(seen) > MAX_FILES:
            raise SourceRefused(f"{archive.name} has more than {MAX_FILES:,} files.")
        target = folder / path
        target.parent.mkdir(parents=True, exist_ok=True)
        left -= _write(content, target, min(MAX_FILE_BYTES, left), f"{name!r} in {archive.name}")


def _write(content: IO[bytes], target: Path, most: int, called: str) -> int:
    """How many bytes were written, whatever the archive says of them."""
    size = 0
    with target.open("xb") as out:
        while chunk := content.read(_CHUNK):
            size += len(chunk)
            if size > most:
                raise SourceRefused(f"{called} is larger than is taken: {most:,} bytes.")
            out.write(chunk)
    return size


def _members(path: Path) -> Iterator[_Member]:
    """Regular files, one at a time, in the order of the archive."""
    if zipfile.is_zipfile(path):
        with zipfile.ZipFile(path) as archive:
            for info in archive.infolist():
                is_link = (info.external_attr >> 16) & 0o170000 == 0o120000
                if not info.is_dir() and not is_link:
                    with archive.open(info) as content:
                        yield _Member(info.filename, content)
        return
    with tarfile.open(path, "r:*") as tar:
        for member in tar:
            held = tar.extractfile(member) if member.isreg() else None
            if held is not None:
                yield _Member(member.name, held)
