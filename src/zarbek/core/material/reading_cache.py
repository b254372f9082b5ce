"""Readings kept between gathers, by content. A broken or foreign cache is as good as none."""

from __future__ import annotations

import os
from hashlib import sha256
from pathlib import Path

import msgspec
import platformdirs

MAGIC = b"zarbek-readings-1\n"


def cache_path(root: Path) -> Path:
    """Where the readings of one source folder are kept: apart from the sources."""
    base = os.environ.get("ZARBEK_CACHE") or platformdirs.user_cache_dir("zarbek")
    return Path(base, "readings", sha256(str(root).encode()).hexdigest()[:24])


def load_cache(path: Path) -> dict[str, bytes]:
    """What was read before, by its key; nothing where the file is missing, of another version or damaged."""
    if not path.is_file():
        return {}
    data = path.read_bytes()
    if not data.startswith(MAGIC):
        return {}
    try:
        return msgspec.msgpack.decode(memoryview(data)[len(MAGIC) :], type=dict[str, bytes])
    except msgspec.MsgspecError:
        return {}


def save_cache(path: Path, readings: dict[str, bytes]) -> None:
    """Keep what was read; the file is there whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(f".{os.getpid()}")
    part.write_bytes(MAGIC + msgspec.msgpack.encode(readings))
    part.replace(path)
