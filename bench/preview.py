"""How long after a save the preview of a working tree shows it: pages, links and findings, and the report."""

from __future__ import annotations

import json
import os
import signal
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from shutil import copytree, ignore_patterns

from bench.corpora import corpus
from bench.measures import Row

#: Saves of each kind.
_TIMES = 5


def measure_preview() -> Iterator[Row]:
    """A project of 10,000 symbols and more, of which one file is saved."""
    for name, left_out, told in (
        ("django", "", ""), ("sqlalchemy", "", ""), ("sqlalchemy", "dialects", ", without its dialects")
    ):  # fmt: skip
        with tempfile.TemporaryDirectory() as folder:
            root = Path(folder, "tree")
            copytree(corpus(name), root, symlinks=True, ignore=ignore_patterns(left_out) if left_out else None)
            preview = _Preview(root)
            try:
                yield from _saves(name + told, root, preview)
            finally:
                preview.end()


class _Preview:
    def __init__(self, root: Path) -> None:
        command = [str(Path(sys.executable).with_name("zarbek")), "preview", str(root)]
        environment = {k: v for k, v in os.environ.items() if not k.startswith(("ZARBEK", "DJANGO"))}
        self._process = subprocess.Popen(
            command,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
            env=environment,
            start_new_session=True,
        )
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        self._address, _, self.slug = line.split()[3].partition("/projects/")
        self.revision = self.wait()["revision"]
        time.sleep(20)  # Until search has it all, and nobody waits for anything.

    def get(self, path: str) -> dict:
        with urllib.request.urlopen(f"{self._address}/api/v1{path}", timeout=120) as answer:
            return json.load(answer)

    def wait(self) -> dict:
        """What is shown once it is something else."""
        while not (shown := self.get(f"/preview?after={getattr(self, 'revision', 0)}"))["revision"]:
            time.sleep(0.1)
        return shown

    def end(self) -> None:
        os.killpg(self._process.pid, signal.SIGTERM)
        self._process.wait(30)


def _saves(name: str, root: Path, preview: _Preview) -> Iterator[Row]:
    files = sorted(root.rglob("*.py"), key=lambda f: f.stat().st_size)
    file = files[len(files) * 9 // 10]
    original = file.read_text(encoding="utf-8")
    symbols = preview.get(f"/projects/{preview.slug}/releases/preview/manifest")["counts"]["symbols"]

    def timed(change: Callable[[int], str]) -> list[float]:
        walls = []
        for number in range(_TIMES):
            began = time.monotonic()
            file.write_text(change(number), encoding="utf-8")
            preview.revision = preview.wait()["revision"]
            walls.append(time.monotonic() - began)
            time.sleep(9)  # What is done when nobody saves is done.
            preview.revision = preview.get("/preview")["revision"]
        return walls

    told = f"{symbols:,} symbols; {file.stat().st_size / 1000:.0f} kB are saved"
    for kind, change in (
        ("a text", lambda n: original.replace('"""', f'"""Again ({n}): ', 1)),
        ("a new function", lambda n: f'{original}\n\ndef added_{n}():\n    """New."""\n'),
    ):
        walls = timed(change)
        yield (
            f"{name}, shown after a save of {kind}",
            f"{statistics.median(walls):.2f} s",
            f"most {max(walls):.2f} s; {told}",
        )
