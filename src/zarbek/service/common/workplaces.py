"""Folders in which hostile material is unpacked and read, gone with the process that made them."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings


@contextmanager
def workplace(purpose: str) -> Iterator[Path]:
    """An empty folder that is removed at the end; where its process is killed, by the next sweep."""
    base = Path(settings.WORK_ROOT)
    base.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp(prefix=f"{purpose}-{os.getpid()}-", dir=base))
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def sweep_workplaces() -> int:
    """Remove what processes of this machine left that are no more; how many."""
    base = Path(settings.WORK_ROOT)
    if not base.is_dir():
        return 0
    left = [folder for folder in base.iterdir() if not _is_alive(folder.name)]
    for folder in left:
        shutil.rmtree(folder, ignore_errors=True)
    return len(left)


def _is_alive(name: str) -> bool:
    parts = name.split("-")
    pid = parts[1] if len(parts) > 2 else ""
    return pid.isdecimal() and Path("/proc", pid).exists()
