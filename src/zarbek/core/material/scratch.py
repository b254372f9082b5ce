"""Folders for what other programs want to read from a disk, gone when it is read."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import IO


@contextmanager
def scratch_folder(purpose: str, files: Mapping[str, str | bytes] | None = None) -> Iterator[Path]:
    """A folder that holds these files, by relative path, until its block ends. purpose: part of its name."""
    with tempfile.TemporaryDirectory(prefix=f"zarbek-{purpose}-") as name:
        folder = Path(name)
        for file, content in (files or {}).items():
            write_below(folder, file, content.encode() if isinstance(content, str) else content)
        yield folder


def open_spool() -> IO[bytes]:
    """A file for what is written once and read back; gone when it is closed."""
    return tempfile.TemporaryFile(prefix="zarbek-")


def write_below(folder: Path, file: str, content: bytes) -> Path:
    """Write a file, by relative path, and the folders that it stands in; where it lies."""
    path = folder / file
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(content)
    return path
