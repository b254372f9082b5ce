"""A portal under its supervisor, as ``./run serve`` starts it, for measures that end its processes."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TypeVar

import httpx
from tests.security.test_supervision import children_of

from zarbek.client import Portal, PortalError

ROOT = Path(__file__).resolve().parent.parent
T = TypeVar("T")


class Supervised:
    """A portal of its own, in a folder that goes with it."""

    def __enter__(self) -> Supervised:
        self.folder = tempfile.TemporaryDirectory(prefix="zarbek-bench-")
        os.chmod(self.folder.name, 0o755)
        self.home = Path(self.folder.name, "state")
        ports = [_free_port(), _free_port()]
        self.environment = {
            **os.environ, "ZARBEK_HOME": str(self.home), "ZARBEK_PORT": str(ports[0]), "ZARBEK_DB_PORT": str(ports[1]),
            "DJANGO_SETTINGS_MODULE": "zarbek.service.settings", "TMPDIR": str(self.scratch),
        }  # fmt: skip
        self.url = f"http://127.0.0.1:{ports[0]}"
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "tools" / "supervise.py"), "serve"], env=self.environment, stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL, text=True, start_new_session=True,
        )  # fmt: skip
        assert self.process.stdout is not None
        self.process.stdout.readline()
        self.token = (self.home / "admin-token").read_text().strip()
        self.client = Portal(self.url, self.token)
        return self

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait(60)
        self.folder.cleanup()

    @property
    def scratch(self) -> Path:
        """Where its processes put what is only for a while."""
        folder = Path(self.folder.name, "scratch")
        folder.mkdir(mode=0o777, exist_ok=True)
        folder.chmod(0o777)
        return folder

    def processes(self) -> dict[int, str]:
        """Process to its command, of all that the portal is made of."""
        return children_of(self.process.pid)

    def peak_mib(self) -> int:
        """The largest memory that any process of the portal but the database has had."""
        peaks = [0]
        for pid, command in self.processes().items():
            with suppress(OSError, StopIteration):
                if "mariadbd" not in command:
                    status = Path(f"/proc/{pid}/status").read_text().splitlines()
                    peaks.append(int(next(line for line in status if line.startswith("VmHWM")).split()[1]) // 1024)
        return max(peaks)

    def readings(self, count: int = 300) -> list[float]:
        """Seconds of so many readings of a list, one after the other on one connection."""
        times = []
        with httpx.Client(base_url=self.url, timeout=60) as http:
            for _ in range(count):
                started = time.perf_counter()
                http.get("/api/v1/projects").raise_for_status()
                times.append(time.perf_counter() - started)
        return times

    def in_service(self, code: str) -> str:
        """What code prints that runs as a process of the service. Raises CalledProcessError where it fails."""
        lines = f"import sys; sys.path.insert(0, {str(ROOT)!r})\nimport django; django.setup()\n{code}"
        command = [sys.executable, "-c", lines]
        return subprocess.run(command, env=self.environment, stdout=subprocess.PIPE, text=True, check=True).stdout

    def check(self) -> list[str]:
        """What ``zarbek-manage check`` says that differs."""
        command = [sys.executable, "-m", "zarbek.service.manage", "check"]
        done = subprocess.run(command, env=self.environment, capture_output=True, text=True, check=False)
        return [] if done.returncode == 0 else (done.stdout + done.stderr).splitlines()

    def left_behind(self) -> list[Path]:
        """Files of uploads that were refused or are over, and scratch."""
        kept = [p for p in (self.home / "files").rglob("*") if "upload-" in p.name or "incoming" in p.parts]
        return [p for p in (*kept, *self.scratch.rglob("*")) if p.is_file()]


def insist(work: Callable[[], T], within_s: float = 90.0) -> T:
    """As a build that tries again would."""
    end = time.monotonic() + within_s
    while True:
        try:
            return work()
        except PortalError:
            if time.monotonic() > end:
                raise
            time.sleep(0.5)


def last_state(portal: Supervised, run: int, within_s: float = 180.0) -> str:
    """The state in which a run ends, or ``unfinished``."""
    end = time.monotonic() + within_s
    while time.monotonic() < end:
        state = str(insist(lambda: portal.client.run(run).state))
        if state in ("done", "failed", "cancelled"):
            return state
        time.sleep(0.3)
    return "unfinished"


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
