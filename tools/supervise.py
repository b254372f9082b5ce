"""Start what a portal is made of, keep it going, say when it is ready, and stop all of it on a signal.

usage: supervise.py demo | serve | worker
"""

from __future__ import annotations

import fcntl
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from database import PrivateDatabase

from zarbek.core.material.processes import die_with_parent

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
HOME = Path(os.environ["ZARBEK_HOME"])
PORT = os.environ["ZARBEK_PORT"]
READY_WITHIN_S = 60
WEB_PROCESSES = 2
#: Before one that died is started again: a little at first, longer each time.
FIRST_PAUSE_S, LONGEST_PAUSE_S = 0.5, 30.0
#: One that lived so long did not die of its start.
LIVED_S = 60.0
STOP_WITHIN_S = 20.0
#: Of the demo's stand-ins, unless they are taken: site and webhooks, mail.
STANDIN_PORTS = (8099, 8098)


@dataclass(slots=True)
class Kept:
    """One process that is started again when it dies. It ends by itself when we do."""

    name: str
    command: list[str]
    environment: Mapping[str, str]
    pass_fds: tuple[int, ...] = ()
    log: IO[bytes] | None = None
    process: subprocess.Popen[bytes] | None = None
    started_at: float = 0.0
    deaths: int = 0
    due_at: float = 0.0

    def start(self) -> None:
        """Start the process; it ends with this one."""
        self.started_at = time.monotonic()
        self.process = subprocess.Popen(
            self.command, env=self.environment, stdout=self.log, start_new_session=True, pass_fds=self.pass_fds,
            preexec_fn=lambda: die_with_parent(signal.SIGTERM),
        )  # fmt: skip

    @property
    def pid(self) -> int:
        """Its process id, 0 before it is started."""
        return self.process.pid if self.process is not None else 0

    def has_ended(self) -> bool:
        """Whether it is not running."""
        return self.process is None or self.process.poll() is not None

    def keep(self) -> None:
        """Start it again where it has ended and its pause is over."""
        if self.process is not None and self.process.poll() is not None:
            self.deaths = 0 if time.monotonic() - self.started_at > LIVED_S else self.deaths + 1
            pause = min(FIRST_PAUSE_S * 2 ** max(self.deaths - 1, 0), LONGEST_PAUSE_S)
            self.due_at = time.monotonic() + pause
            told = f"{self.name} ended with {self.process.returncode}; it is started again in {pause:g} s."
            print(told, file=sys.stderr, flush=True)
            self.process = None
        if self.process is None and time.monotonic() >= self.due_at:
            self.start()

    def terminate(self) -> None:
        """Ask it to end."""
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()

    def wait(self, timeout_s: float = STOP_WITHIN_S) -> None:
        """Wait until it has ended; it is killed after timeout_s."""
        if self.process is None:
            return
        try:
            self.process.wait(timeout_s)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


class Portal:
    """The processes of one portal. Every one that is started here is ended here, by its id."""

    def __init__(self, home: Path = HOME, port: str = PORT) -> None:
        self.home, self.port = home, port
        self.processes: list[Kept] = []
        self.database: PrivateDatabase | None = None
        self._socket: socket.socket | None = None
        self._lock: IO[str] | None = None
        self.environment = {
            **os.environ, "ZARBEK_HOME": str(home), "ZARBEK_PORT": port,
            "DJANGO_SETTINGS_MODULE": "zarbek.service.settings",
        }  # fmt: skip

    @property
    def address(self) -> str:
        """Where the portal answers."""
        return f"http://127.0.0.1:{self.port}"

    def take_folder(self) -> None:
        """The folder is ours alone. A lock of a process that is gone holds nobody up: the system let it
        go with its owner. Raises SystemExit where another portal runs in it."""
        self.home.mkdir(parents=True, exist_ok=True)
        self._lock = (self.home / "running").open("a+")
        try:
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            self._lock.seek(0)
            raise SystemExit(
                f"A portal runs in {self.home} already, as process {self._lock.read().strip() or 'unknown'}. "
                "Stop it, or set ZARBEK_HOME and ZARBEK_PORT to run another beside it."
            ) from None
        self._lock.truncate(0)
        self._lock.write(str(os.getpid()))
        self._lock.flush()

    def start(self) -> None:
        """Start all its processes and wait until it is ready."""
        if self._lock is None:
            self.take_folder()
        # Figures of processes that are gone would be counted for good.
        shutil.rmtree(self.home / "metrics", ignore_errors=True)
        self.start_database()
        self.manage("migrate", "--verbosity", "0")
        self.manage("first_run")
        self.start_web()
        self.start_worker()
        self.wait_until_ready()

    def start_database(self) -> None:
        """Start a database of its own, unless ZARBEK_DB_HOST names one."""
        if os.environ.get("ZARBEK_DB_HOST"):
            return
        self.database = PrivateDatabase(self.home / "mariadb", os.environ.get("ZARBEK_DB_PORT", ""))
        self.database.start()
        (self.home / "db-port").write_text(self.database.port)
        self.environment["ZARBEK_DB_PORT"] = self.database.port

    def start_web(self) -> None:
        """Several processes at one socket: while one of them is started again, the others answer."""
        self._socket = socket.socket()
        self._socket.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            self._socket.bind(("127.0.0.1", int(self.port)))
        except OSError as error:
            raise SystemExit(f"Port {self.port} cannot be taken: {error.strerror}. Set ZARBEK_PORT.") from error
        self._socket.listen(1024)
        for number in range(WEB_PROCESSES):
            self.keep(
                f"web server {number + 1}", sys.executable, "-m", "zarbek.service.web.server",
                str(self._socket.fileno()), fds=(self._socket.fileno(),),
            )  # fmt: skip

    def start_worker(self) -> None:
        """Start the process that watches over those that take jobs."""
        self.keep("the worker", sys.executable, "-m", "zarbek.service.manage", "work")

    def manage(self, *arguments: str) -> None:
        """Run a command of Django's."""
        subprocess.run([sys.executable, "-m", "zarbek.service.manage", *arguments], env=self.environment, check=True)

    def keep(self, name: str, *command: str, fds: tuple[int, ...] = (), log: IO[bytes] | None = None) -> Kept:
        """Start a process, and end it with the portal."""
        kept = Kept(name, list(command), self.environment, fds, log)
        kept.start()
        self.processes.append(kept)
        return kept

    def find(self, name: str) -> Kept:
        """A process by its name."""
        return next(kept for kept in self.processes if kept.name == name)

    def wait_until_ready(self) -> None:
        """Raises RuntimeError where a process ends, or where it takes too long."""
        until = time.monotonic() + READY_WITHIN_S
        while time.monotonic() < until:
            ended = next((kept for kept in self.processes if kept.has_ended()), None)
            if ended is not None:
                raise SystemExit(f"{ended.name} ended at its start; see above.")
            try:
                with urllib.request.urlopen(f"{self.address}/health/ready", timeout=5):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.2)
        raise SystemExit(f"The service did not become ready within {READY_WITHIN_S} s.")

    def wait(self) -> None:
        """Until a signal comes: what dies is started again, the database first."""
        while True:
            if self.database is not None:
                self.database.keep()
            for kept in self.processes:
                kept.keep()
            time.sleep(0.2)

    def stop(self) -> None:
        """End all processes, the last one first."""
        for kept in reversed(self.processes):
            kept.terminate()
        for kept in reversed(self.processes):
            kept.wait()
        if self._socket is not None:
            self._socket.close()
        if self.database is not None:
            self.database.stop()
        if self._lock is not None:
            self._lock.close()


def _on_signal(_number: int, _frame: object) -> None:
    raise KeyboardInterrupt


def main(command: str) -> int:
    """Run the portal, the demo or a worker alone until told to stop; the process's exit code."""
    # SIGINT too: a shell that starts this in the background has it ignored.
    signal.signal(signal.SIGINT, _on_signal)
    signal.signal(signal.SIGTERM, _on_signal)
    portal = Portal()
    try:
        if command == "worker":
            if not os.environ.get("ZARBEK_DB_PORT"):
                portal.environment["ZARBEK_DB_PORT"] = (HOME / "db-port").read_text()
            portal.start_worker()
            print("ready " + portal.address, flush=True)
            portal.wait()
        portal.take_folder()
        if command == "demo":
            portal.environment.setdefault("ZARBEK_NAME", "Halmere reference")
            portal.environment.setdefault("ZARBEK_LOCAL_SOURCES", str(HOME / "demo"))
            portal.environment["ZARBEK_CATALOG_LOGBOOK"] = secrets.token_urlsafe(24)
            start_standins(portal)
        portal.start()
        if command == "demo":
            publish_demo(portal)
        print("ready " + portal.address, flush=True)
        portal.wait()
    except KeyboardInterrupt:
        return 0
    finally:
        portal.stop()
    return 0


def start_standins(portal: Portal) -> None:
    """A site, a receiver of webhooks and one of mail, which write what arrives into standins.log."""
    site, mail = standin_ports(portal.home)
    log = (portal.home / "standins.log").open("ab")
    portal.keep("the stand-ins", sys.executable, str(ROOT / "demo" / "standins.py"), str(site), str(mail), log=log)
    portal.environment |= {
        "ZARBEK_ALLOW_PRIVATE": "127.0.0.1", "ZARBEK_URL_PAUSE_S": "0", "ZARBEK_STANDINS": f"http://127.0.0.1:{site}",
        "ZARBEK_SMTP_HOST": "127.0.0.1", "ZARBEK_SMTP_PORT": str(mail),
    }  # fmt: skip


def standin_ports(home: Path) -> tuple[int, int]:
    """Those that this demo has had from its first start on: its texts name them."""
    known = home / "standin-ports"
    if not known.is_file():
        ports = [port if _is_free(port) else _free_port() for port in STANDIN_PORTS]
        known.write_text(" ".join(map(str, ports)))
    site, mail = map(int, known.read_text().split())
    return site, mail


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) != 0


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def publish_demo(portal: Portal) -> None:
    """Publish the demo's projects and print the first report."""
    environment = {**portal.environment, "ZARBEK_URL": portal.address, "ZARBEK_TOKEN": portal_token(portal.home)}
    if portal.database is not None:
        sys.path.insert(0, str(ROOT / "demo"))
        from sea_database import make_sea_database

        make_sea_database(portal.database.socket, portal.environment["ZARBEK_CATALOG_LOGBOOK"])
        environment["ZARBEK_LOGBOOK_PORT"] = portal.database.port
    subprocess.run([sys.executable, str(ROOT / "demo" / "publish.py"), str(portal.home)], env=environment, check=True)


def portal_token(home: Path) -> str:
    """The administrator's token."""
    return (home / "admin-token").read_text().strip()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
