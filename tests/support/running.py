"""A real portal for tests: MariaDB, web server and worker on loopback, with a state folder of
its own. Started once a test run and stopped at its end."""

from __future__ import annotations

import atexit
import io
import os
import shutil
import subprocess
import sys
import tempfile
from contextlib import redirect_stderr
from functools import cache
from pathlib import Path
from textwrap import dedent
from unittest import mock

import httpx

from tests.support.identityprovider import CLIENT, SECRET, IdentityProvider
from tests.support.sources import write_files
from zarbek.cli.main import main
from zarbek.client import Portal, Run
from zarbek.core.gathering.gather import GatherOptions, gather

ROOT = Path(__file__).resolve().parent.parent.parent
sys.path[:0] = [str(ROOT / "tools"), str(ROOT / "demo")]
from build import PROJECTS, build_repository  # noqa: E402, F401
from standins import Standins  # noqa: E402

CATALOG_PASSWORD = "open sesame"


class Running:
    """The portal with its address, administrator's token and processes."""

    def __init__(self) -> None:
        self.home = Path(tempfile.mkdtemp(prefix="zarbek-test-"))
        self.home.chmod(0o755)
        os.environ |= {"ZARBEK_HOME": str(self.home / "home"), "ZARBEK_LOCAL_SOURCES": str(self.home / "repositories")}
        os.environ.setdefault("ZARBEK_PORT", "0")
        self.world = Standins()
        self.identities = IdentityProvider()
        os.environ |= {
            "ZARBEK_OIDC_ISSUER": self.identities.url, "ZARBEK_OIDC_CLIENT_ID": CLIENT,
            "ZARBEK_OIDC_CLIENT_SECRET": SECRET, "ZARBEK_OIDC_ADMINISTRATORS": "halmere-administrators",
        }  # fmt: skip
        os.environ |= {
            "ZARBEK_HOSTS": "127.0.0.1,localhost,10.1.2.3", "ZARBEK_ALLOW_PRIVATE": "127.0.0.1", "ZARBEK_URL_PAUSE_S": "0", "ZARBEK_URL_TIMEOUT_S": "1",
            "ZARBEK_SMTP_HOST": "127.0.0.1", "ZARBEK_SMTP_PORT": str(self.world.mailbox.port), "ZARBEK_DIGEST_S": "86400",
            "ZARBEK_CATALOG_TEST": CATALOG_PASSWORD,
        }  # fmt: skip
        from database import _free_port
        from supervise import Portal as Processes

        os.environ.pop("ZARBEK_DB_PORT", None)
        self.processes = Processes(self.home / "home", _free_port())
        atexit.register(self.stop)
        self.processes.start()
        self.url = self.processes.address
        self.token = (self.home / "home" / "admin-token").read_text().strip()
        self.client = Portal(self.url, self.token)
        self.http = httpx.Client(base_url=self.url, timeout=30)

    def stop(self) -> None:
        if self.home.exists():
            self.processes.stop()
            self.world.stop()
            self.identities.stop()
        shutil.rmtree(self.home, ignore_errors=True)

    def bundle(self, files: dict[str, str], slug: str, version: str) -> Path:
        folder = Path(tempfile.mkdtemp(dir=self.home))
        source = write_files(folder / "source", files)
        return gather(source, folder / "b.bundle", GatherOptions(slug=slug, version=version, use_cache=False)).path

    def publish(self, files: dict[str, str], slug: str, version: str, **options: bool) -> Run:
        """Publish sources and wait for the end of the run."""
        run = self.client.publish(self.bundle(files, slug, version), **options)
        return self.wait(run)

    def api(self, method: str, path: str, *, token: str | None = None, **options: object) -> httpx.Response:
        """Call the API as the administrator, or with another token."""
        headers = {"Authorization": f"Bearer {self.token if token is None else token}", **options.pop("headers", {})}
        return self.http.request(method, f"/api/v1{path}", headers=headers, **options)

    def wait(self, run: Run) -> Run:
        for _ in self.client.watch(run.id):
            pass
        return self.client.run(run.id)

    def rows(self) -> int:
        """Rows of the reference in the database, over all its tables."""
        tables = (
            "content_symbolcontent",
            "content_block",
            "content_pagecontent",
            "links_linkdocument",
            "links_referrer",
            "catalog_release",
        )
        query = "SELECT " + " + ".join(f"(SELECT COUNT(*) FROM zarbek.{table})" for table in tables)
        socket = self.processes.database.socket  # type: ignore[union-attr]
        done = subprocess.run(["mariadb", "-S", socket, "-N", "-e", query], capture_output=True, check=True)
        return int(done.stdout)

    def in_service(self, code: str) -> subprocess.CompletedProcess[str]:
        """Run code as a process of the service, with its models ready."""
        lines = f"import django; django.setup()\n{dedent(code)}"
        return subprocess.run(
            [sys.executable, "-c", lines], env=self.processes.environment, capture_output=True, text=True, check=False
        )

    def forget_attempts(self) -> None:
        """What was tried too often, such as signing in, may be tried again."""
        done = self.in_service("from zarbek.service.accounts.models import Tally; Tally.objects.all().delete()")
        assert done.returncode == 0, done.stderr

    def command(self, *arguments: str, token: str | None = None) -> tuple[int, str, str]:
        """Run ``zarbek`` with arguments; (exit code, standard output, standard error)."""
        out, err = io.StringIO(), io.StringIO()
        environment = {"ZARBEK_URL": self.url, "ZARBEK_TOKEN": self.token if token is None else token}
        with mock.patch.dict(os.environ, environment), redirect_stderr(err):
            code = main(arguments, out, err)
        return code, out.getvalue(), err.getvalue()


@cache
def running() -> Running:
    return Running()
