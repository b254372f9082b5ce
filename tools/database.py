"""A private MariaDB on loopback, with its own data folder. Never the system's service."""

from __future__ import annotations

import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

from zarbek.core.material.processes import die_with_parent

CONFIGURATION = """[mariadbd]
datadir={data}
socket={socket}
pid-file={folder}/mariadb.pid
log-error={folder}/mariadb.log
bind-address=127.0.0.1
port={port}
skip-name-resolve
character-set-server=utf8mb4
collation-server=utf8mb4_nopad_bin
transaction-isolation=READ-COMMITTED
sql-mode=STRICT_TRANS_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO
default-time-zone=+00:00
max-allowed-packet=256M
max-connections=400
innodb-log-file-size={log_size}
innodb-buffer-pool-size=512M
innodb-flush-log-at-trx-commit=1
"""


class PrivateDatabase:
    """A MariaDB on loopback with a data folder of its own."""

    def __init__(self, folder: Path, port: str = "", *, log_size: str = "256M") -> None:
        self.folder = folder.resolve()
        self.data = self.folder / "data"
        known = self.folder / "port"
        self.port = port or (known.read_text() if known.is_file() and _is_free(known.read_text()) else _free_port())
        # A socket's path may have 107 characters at most, and a state folder may be deep.
        self.socket = f"/tmp/zarbek-{os.getuid()}-{self.port}.sock"
        self.log_size = log_size
        self.process: subprocess.Popen[bytes] | None = None
        #: MariaDB refuses to be root; it is started as its own user, so that it can end with us.
        self._user = "mysql" if os.getuid() == 0 else None
        self._due_at = 0.0

    def start(self) -> None:
        """Make the data folder if need be, and start the server."""
        self.folder.mkdir(parents=True, exist_ok=True)
        configuration = self.folder / "mariadb.cnf"
        configuration.write_text(
            CONFIGURATION.format(
                data=self.data, folder=self.folder, socket=self.socket, port=self.port, log_size=self.log_size
            )
        )
        is_first = not (self.data / "mysql").is_dir()
        if is_first:
            self._install(configuration)
        (self.folder / "port").write_text(self.port)
        if self._user:
            shutil.chown(self.folder, self._user)
            for file in self.folder.glob("mariadb.*"):
                shutil.chown(file, self._user)
        end_orphan(self.folder / "mariadb.pid", configuration)
        self._spawn()
        self._wait()
        password = self.password()
        self._run(
            "CREATE DATABASE IF NOT EXISTS zarbek;"
            f"CREATE USER IF NOT EXISTS zarbek@'127.0.0.1'; ALTER USER zarbek@'127.0.0.1' IDENTIFIED BY '{password}';"
            "GRANT ALL ON zarbek.* TO zarbek@'127.0.0.1'; GRANT ALL ON `test_zarbek%`.* TO zarbek@'127.0.0.1';"
            "DELETE FROM mysql.global_priv WHERE User='root' AND Host<>'localhost'; FLUSH PRIVILEGES;"
        )

    def _spawn(self) -> None:
        server = shutil.which("mariadbd") or "/usr/sbin/mariadbd"
        self.process = subprocess.Popen(
            [server, f"--defaults-file={self.folder / 'mariadb.cnf'}"], user=self._user, group=self._user,
            extra_groups=[] if self._user else None, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
            start_new_session=True, preexec_fn=lambda: die_with_parent(signal.SIGTERM),
        )  # fmt: skip

    def keep(self) -> None:
        """Start it again where it has ended."""
        if self.process is None or self.process.poll() is None or time.monotonic() < self._due_at:
            return
        print(f"The database ended with {self.process.returncode}; it is started again.", file=sys.stderr, flush=True)
        self._due_at = time.monotonic() + 5
        self._spawn()

    def password(self) -> str:
        """Of the portal's own user: made once, in a file beside the state that only its owner reads."""
        path = self.folder.parent / "db-password"
        if not path.is_file():
            descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(descriptor, "w") as handle:
                handle.write(secrets.token_urlsafe(24))
        return path.read_text().strip()

    def _install(self, configuration: Path) -> None:
        self.data.mkdir(parents=True, exist_ok=True)
        if self._user:
            for folder in (self.folder, self.data):
                shutil.chown(folder, self._user)
            for parent in self.folder.parents:
                if parent.stat().st_uid == 0 and not parent.stat().st_mode & 0o001:
                    raise SystemExit(
                        f"{parent} keeps the database's user out; chmod o+x it, or set ZARBEK_HOME elsewhere."
                    )
        as_user = [f"--user={self._user}"] if self._user else []
        subprocess.run(
            ["mariadb-install-db", f"--defaults-file={configuration}", *as_user,
             "--skip-test-db",
             "--auth-root-authentication-method=socket"],
            check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip

    def _wait(self, within_s: float = 40.0) -> None:
        until = time.monotonic() + within_s
        while time.monotonic() < until:
            if self.process is not None and self.process.poll() is not None:
                break
            if self._ping():
                return
            time.sleep(0.1)
        log = self.folder / "mariadb.log"
        tail = log.read_text(errors="replace").splitlines()[-5:] if log.is_file() else []
        raise SystemExit("MariaDB did not start:\n" + "\n".join(tail))

    def _ping(self) -> bool:
        done = subprocess.run(["mariadb-admin", "-S", self.socket, "ping"], capture_output=True)
        return done.returncode == 0

    def _run(self, sql: str) -> None:
        subprocess.run(["mariadb", "-S", self.socket, "-e", sql], check=True)

    def stop(self) -> None:
        """Stop the server; does nothing where it is not running."""
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(30)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def end_orphan(pid_file: Path, configuration: Path) -> None:
    """End a server that an earlier start has left behind and that still holds the folder; nothing else."""
    try:
        pid = int(pid_file.read_text())
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
    except (OSError, ValueError):
        return
    if f"--defaults-file={configuration}".encode() not in command.split(b"\0"):
        return
    print(f"Ending the database that an earlier start has left behind, process {pid}.", file=sys.stderr, flush=True)
    os.kill(pid, signal.SIGTERM)
    until = time.monotonic() + 40
    while Path(f"/proc/{pid}").exists() and time.monotonic() < until:
        time.sleep(0.1)


def _free_port() -> str:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return str(probe.getsockname()[1])


def _is_free(port: str) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", int(port)))
        except OSError:
            return False
    return True
