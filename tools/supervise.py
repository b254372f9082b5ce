"""Start what a portal is made of, say when it is ready, and stop all of it on a signal.

usage: supervise.py demo | serve | worker
"""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from database import PrivateDatabase

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
HOME = Path(os.environ["ZARBEK_HOME"])
PORT = os.environ["ZARBEK_PORT"]
READY_WITHIN_S = 60
#: Of the demo's stand-ins: site and webhooks, mail.
STANDIN_PORTS = (8099, 8098)


class Portal:
    """The processes of one portal. Every one that is started here is ended here, by its id."""

    def __init__(self, home: Path = HOME, port: str = PORT) -> None:
        self.home, self.port = home, port
        self.processes: list[subprocess.Popen[bytes]] = []
        self.database: PrivateDatabase | None = None
        self.environment = {
            **os.environ, "ZARBEK_HOME": str(home), "ZARBEK_PORT": port,
            "DJANGO_SETTINGS_MODULE": "zarbek.service.settings",
        }  # fmt: skip

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.home.mkdir(parents=True, exist_ok=True)
        self.start_database()
        self.manage("migrate", "--verbosity", "0")
        self.manage("first_run")
        self.spawn(
            str(BIN / "gunicorn"), "zarbek.service.entry.wsgi", "--bind", f"127.0.0.1:{self.port}", "--workers", "2",
            "--threads", "16", "--worker-class", "gthread", "--timeout", "60", "--graceful-timeout", "2",
            "--log-level", "warning", "--worker-tmp-dir", "/dev/shm",
        )  # fmt: skip
        self.spawn(sys.executable, "-m", "zarbek.service.manage", "work", "--queue", "chores")
        self.start_worker()
        self.wait_until_ready()

    def start_database(self) -> None:
        if os.environ.get("ZARBEK_DB_HOST"):
            return
        self.database = PrivateDatabase(self.home / "mariadb", os.environ.get("ZARBEK_DB_PORT", ""))
        self.database.start()
        (self.home / "db-port").write_text(self.database.port)
        self.environment["ZARBEK_DB_PORT"] = self.database.port

    def start_worker(self) -> None:
        self.spawn(sys.executable, "-m", "zarbek.service.manage", "work")

    def manage(self, *arguments: str) -> None:
        subprocess.run([sys.executable, "-m", "zarbek.service.manage", *arguments], env=self.environment, check=True)

    def spawn(self, *command: str) -> None:
        self.processes.append(subprocess.Popen(command, env=self.environment, start_new_session=True))

    def wait_until_ready(self) -> None:
        until = time.monotonic() + READY_WITHIN_S
        while time.monotonic() < until:
            for process in self.processes:
                if process.poll() is not None:
                    raise SystemExit(f"{process.args[0]} ended with {process.returncode}; see above.")  # type: ignore[index]
            try:
                with urllib.request.urlopen(f"{self.address}/health/ready", timeout=5):
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.2)
        raise SystemExit(f"The service did not become ready within {READY_WITHIN_S} s.")

    def wait(self) -> None:
        """Until a process ends by itself, which is an error, or a signal comes."""
        while True:
            for process in self.processes:
                if process.poll() is not None:
                    raise SystemExit(f"{process.args[0]} ended with {process.returncode}.")  # type: ignore[index]
            time.sleep(0.5)

    def stop(self) -> None:
        for process in reversed(self.processes):
            if process.poll() is None:
                process.terminate()
        for process in reversed(self.processes):
            try:
                process.wait(10)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
        if self.database is not None:
            self.database.stop()


def _on_signal(_number: int, _frame: object) -> None:
    raise KeyboardInterrupt


def main(command: str) -> int:
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
        if command == "demo":
            portal.environment.setdefault("ZARBEK_NAME", "Halmere reference")
            portal.environment.setdefault("ZARBEK_LOCAL_SOURCES", str(HOME / "demo"))
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
    for port in STANDIN_PORTS:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                print(f"Port {port} is taken: the demo has no stand-ins for the world outside.", file=sys.stderr)
                return
    portal.home.mkdir(parents=True, exist_ok=True)
    log = (portal.home / "standins.log").open("ab")
    command = [sys.executable, str(ROOT / "demo" / "standins.py"), *map(str, STANDIN_PORTS)]
    portal.processes.append(subprocess.Popen(command, stdout=log, start_new_session=True))
    portal.environment |= {
        "ZARBEK_ALLOW_PRIVATE": "127.0.0.1", "ZARBEK_URL_PAUSE_S": "0",
        "ZARBEK_SMTP_HOST": "127.0.0.1", "ZARBEK_SMTP_PORT": str(STANDIN_PORTS[1]),
    }  # fmt: skip


def publish_demo(portal: Portal) -> None:
    token = (portal.home / "admin-token").read_text().strip()
    environment = {**portal.environment, "ZARBEK_URL": portal.address, "ZARBEK_TOKEN": token}
    subprocess.run([sys.executable, str(ROOT / "demo" / "publish.py"), str(portal.home)], env=environment, check=True)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
