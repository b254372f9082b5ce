"""A working tree with its preview, as ``zarbek preview`` shows it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from tests.support.sources import write_files

ROOT = Path(__file__).resolve().parents[2]
ZARBEK = str(Path(sys.executable).with_name("zarbek"))


class Previewed:
    """slug: of the tree's project. environment: of the preview, besides the usual."""

    def __init__(self, files: dict[str, str], slug: str, **environment: str) -> None:
        self.slug = slug
        self.folder = write_files(Path(tempfile.mkdtemp(prefix=f"{slug}-")), files)
        usual = {k: v for k, v in os.environ.items() if not k.startswith(("ZARBEK", "DJANGO"))}
        self.process = subprocess.Popen(
            [ZARBEK, "preview", str(self.folder)], cwd=ROOT, env={**usual, **environment},
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, start_new_session=True,
        )  # fmt: skip
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        assert line.startswith(f"{slug} stands at http://127.0.0.1:"), line
        self.address = line.split()[3].removesuffix(f"/projects/{slug}")
        deadline = time.monotonic() + 30
        while True:
            try:
                self.ask("/preview")
                break
            except urllib.error.URLError:
                if time.monotonic() > deadline:
                    raise
                time.sleep(0.1)

    def stop(self) -> None:
        os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(20)
        assert self.process.stdout is not None
        self.process.stdout.close()
        shutil.rmtree(self.folder)

    def ask(self, path: str) -> Any:
        with urllib.request.urlopen(f"{self.address}/api/v1{path}", timeout=40) as answer:
            return json.load(answer)

    def symbol(self, path: str) -> Any:
        return self.ask(f"/projects/{self.slug}/releases/preview/symbols/{path}")

    def save(self, file: str, text: str) -> Any:
        """Save, and wait for what is shown then."""
        before = self.ask("/preview")["revision"]
        (self.folder / file).write_text(text)
        return self.ask(f"/preview?after={before}")
