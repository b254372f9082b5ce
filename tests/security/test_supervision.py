"""A portal whose processes die is a portal again a moment later; secrets of its first day stay revoked."""

import json
import os
import signal
import subprocess
import sys
import tempfile
import unittest
import urllib.error
import urllib.request
from pathlib import Path

import httpx

from tests.support.hostile import write_members
from tests.support.running import ROOT
from tests.support.waiting import until
from tests.test_run import free_port
from zarbek.client import Portal


def children_of(pid: int) -> dict[int, str]:
    """Process to its command, of all that a process has started, however deep."""
    parents, commands = {}, {}
    for folder in Path("/proc").iterdir():
        if folder.name.isdecimal():
            try:
                stat = (folder / "stat").read_text().rpartition(")")[2].split()
                commands[int(folder.name)] = (
                    (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
                )
            except OSError:
                continue
            if stat[0] != "Z":
                parents[int(folder.name)] = int(stat[1])
    found, pending = {}, [pid]
    while pending:
        above = pending.pop()
        for child, parent in parents.items():
            if parent == above:
                found[child] = commands[child]
                pending.append(child)
    return found


class Supervision(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory(prefix="zarbek-kept-")
        cls.addClassCleanup(folder.cleanup)
        os.chmod(folder.name, 0o755)
        cls.home = Path(folder.name, "state")
        cls.repositories = Path(folder.name, "repositories")
        cls.environment = {
            **os.environ, "ZARBEK_HOME": str(cls.home), "ZARBEK_PORT": str(free_port()), "ZARBEK_DB_PORT": str(free_port()),
            "ZARBEK_GATHER_LIMIT_S": "0.2", "ZARBEK_STAGE_LIMIT_S": "1.5", "ZARBEK_LOCAL_SOURCES": str(cls.repositories),
        }  # fmt: skip
        cls.url = f"http://127.0.0.1:{cls.environment['ZARBEK_PORT']}"
        cls.process = None
        cls.addClassCleanup(cls.end)
        cls.begin()

    @classmethod
    def begin(cls):
        cls.process = subprocess.Popen(
            [sys.executable, str(ROOT / "tools" / "supervise.py"), "serve"], env=cls.environment, stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL, text=True, start_new_session=True,
        )  # fmt: skip
        line = cls.process.stdout.readline()
        assert line.startswith("ready"), line

    @classmethod
    def end(cls):
        if cls.process is not None and cls.process.poll() is None:
            cls.process.terminate()
            cls.process.wait(60)
        if cls.process is not None:
            cls.process.stdout.close()

    def find(self, part):
        return [pid for pid, command in children_of(self.process.pid).items() if part in command]

    def answers(self):
        try:
            with urllib.request.urlopen(f"{self.url}/health/ready", timeout=5) as answer:
                return answer.status == 200
        except (urllib.error.URLError, OSError):
            return False

    @property
    def client(self):
        return Portal(self.url, (self.home / "admin-token").read_text().strip())

    def test_a_web_process_that_dies_is_not_missed(self):
        before = self.find("web.server")
        os.kill(before[0], signal.SIGKILL)
        for _ in range(20):
            self.assertEqual(httpx.get(f"{self.url}/health/live", timeout=10).status_code, 200)
        until(lambda: len(self.find("web.server")) == len(before) and before[0] not in self.find("web.server"))

    def test_a_worker_that_dies_and_a_hand_of_it_that_dies_are_started_again(self):
        for part in ("manage work", "take_jobs --queue default"):
            with self.subTest(part):
                until(lambda part=part: self.find(part))
                pid, *_ = self.find(part)
                os.kill(pid, signal.SIGKILL)
                until(lambda part=part, pid=pid: [p for p in self.find(part) if p != pid])
        until(lambda: len(self.find("take_jobs")) == 4)

    def test_a_database_that_dies_is_started_again(self):
        (pid,) = self.find("mariadbd")
        os.kill(pid, signal.SIGKILL)
        until(lambda: [p for p in self.find("mariadbd") if p != pid] and self.answers())

    def test_nobody_else_starts_in_the_folder_and_no_orphan_holds_up_the_next_start(self):
        second = subprocess.run([sys.executable, str(ROOT / "tools" / "supervise.py"), "serve"], env={**self.environment, "ZARBEK_PORT": str(free_port())},
                                capture_output=True, text=True, check=False)  # fmt: skip
        self.assertEqual(second.returncode, 1)
        self.assertIn(f"as process {self.process.pid}", second.stderr)
        mine = children_of(self.process.pid)
        os.kill(self.process.pid, signal.SIGKILL)
        self.process.wait()
        self.process.stdout.close()
        self.begin()
        until(lambda: not [pid for pid in mine if Path(f"/proc/{pid}").exists()], 30)
        self.assertTrue(self.answers())

    def test_what_was_revoked_stays_revoked(self):
        first, revoked = self.client, (self.home / "admin-token").read_text().strip()
        token = first.create_token("another").text
        (old,) = [t.id for t in first.tokens() if t.name == "first administrator"]
        another = Portal(self.url, token)
        another.revoke_token(old)
        password = (self.home / "admin-password").read_text().strip()
        changed = subprocess.run(
            [sys.executable, "-m", "zarbek.service.manage", "shell", "-c",
             "from django.contrib.auth.models import User; u = User.objects.get(username='admin'); u.set_password('another one'); u.save()"],
            env={**self.environment, "DJANGO_SETTINGS_MODULE": "zarbek.service.settings"}, capture_output=True, text=True, check=False,
        )  # fmt: skip
        self.assertEqual(changed.returncode, 0, changed.stderr)
        self.end()
        self.begin()
        self.assertEqual(
            httpx.get(f"{self.url}/api/v1/tokens", headers={"Authorization": f"Bearer {revoked}"}).status_code,
            401,
        )
        for word, status in ((password, 401), ("another one", 200)):
            answer = httpx.post(f"{self.url}/api/v1/session", json={"user": "admin", "password": word})
            self.assertEqual(answer.status_code, status)
        (self.home / "admin-token").write_text(token)

    def test_the_database_has_a_password_of_its_own(self):
        secret = self.home / "db-password"
        self.assertEqual(secret.stat().st_mode & 0o777, 0o600)
        done = subprocess.run(["mariadb", "-h", "127.0.0.1", "-P", self.environment["ZARBEK_DB_PORT"], "-u", "zarbek", "-pzarbek", "-e", "SELECT 1"],
                              capture_output=True, check=False)  # fmt: skip
        self.assertNotEqual(done.returncode, 0)

    def test_gathering_that_takes_too_long_is_ended_with_a_reason(self):
        folder = self.repositories / "slow"
        folder.mkdir(parents=True)
        for command in (
            ["init", "-q"],
            ["-c", "user.name=a", "-c", "user.email=a@halmere.example", "commit", "-q", "--allow-empty", "-m", "x"],
            ["tag", "v1"],
        ):
            subprocess.run(["git", "-C", str(folder), *command], check=True, capture_output=True)
        client = self.client
        client.add_source("slow", str(folder))
        (run,) = client.fetch("slow", tag="v1")
        until(lambda: client.run(run.id).state == "failed")
        self.assertIn("longer than 0.2 s", client.run(run.id).problem)
        self.assertEqual(until(lambda: not list((self.home / "work").glob("gather-*")), 10), True)

    def test_a_stage_that_takes_too_long_is_ended_and_the_next_run_goes_on(self):
        lines = [
            json.dumps({"path": f"m.f{n}", "name": f"f{n}", "kind": "function", "language": "python", "module": "m", "parent": "m", "doc": {"summary": f"Number {n}."}})
            for n in range(120_000)
        ]  # fmt: skip
        bundle = write_members({"symbols.jsonl": "\n".join(lines).encode() + b"\n"}, project="large", version="1")
        small = write_members({"symbols.jsonl": lines[0].encode() + b"\n"}, project="small", version="1")
        try:
            client = self.client
            run = client.publish(bundle)
            until(lambda: client.run(run.id).state == "failed", 90)
            self.assertIn("took longer than 1.5 s", client.run(run.id).problem)
            self.assertEqual(client.project("large").releases, [])
            after = client.publish(small)
            until(lambda: client.run(after.id).state == "done")
        finally:
            bundle.unlink()
            small.unlink()


if __name__ == "__main__":
    unittest.main()
