"""The script at the root: starts what it says, and stops all of it."""

import os
import signal
import socket
import subprocess
import tempfile
import time
import unittest
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def is_open(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


class Serve(unittest.TestCase):
    def test_it_is_ready_where_it_says_and_leaves_nothing_running_after_sigint(self):
        with tempfile.TemporaryDirectory() as home:
            os.chmod(home, 0o755)
            port, db_port = free_port(), free_port()
            environment = {
                **os.environ, "ZARBEK_HOME": f"{home}/state", "ZARBEK_PORT": str(port), "ZARBEK_DB_PORT": str(db_port),
            }  # fmt: skip
            process = subprocess.Popen(
                [str(ROOT / "run"), "serve"], env=environment, stdout=subprocess.PIPE, text=True, start_new_session=True,
                preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_IGN),  # As for a shell's background job.
            )  # fmt: skip
            self.addCleanup(process.stdout.close)
            until = time.monotonic() + 90
            line = ""
            while not line.startswith("ready") and time.monotonic() < until:
                line = process.stdout.readline()
            self.assertEqual(line, f"ready http://127.0.0.1:{port}\n")
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/health/ready", timeout=10) as answer:
                self.assertEqual(answer.status, 200)
            self.assertTrue(is_open(db_port))
            token = Path(home, "state", "admin-token")
            self.assertEqual(token.stat().st_mode & 0o777, 0o600)
            process.send_signal(signal.SIGINT)
            self.assertEqual(process.wait(60), 0)
            self.assertFalse(is_open(port) or is_open(db_port))

    def test_alone_it_explains_itself(self):
        done = subprocess.run([str(ROOT / "run")], capture_output=True, text=True, check=True)
        for command in ("demo", "serve", "worker", "test", "bench", "lint", "console"):
            self.assertIn(f"  {command} ", done.stdout)
        self.assertEqual(subprocess.run([str(ROOT / "run"), "nothing"], capture_output=True, check=False).returncode, 2)


if __name__ == "__main__":
    unittest.main()
