"""Processes are bound, and end with whoever started them."""

import os
import signal
import subprocess
import sys
import tempfile
import textwrap
import time
import unittest
from pathlib import Path

from zarbek.core.material.processes import Bounds, kill_group, start_bound


def is_alive(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


class Bound(unittest.TestCase):
    def run_bound(self, code: str, **bounds: int) -> subprocess.CompletedProcess[bytes]:
        told = f"from zarbek.core.material.processes import Bounds, hold_to; hold_to(Bounds(**{bounds!r}))\n"
        return subprocess.run([sys.executable, "-c", told + textwrap.dedent(code)], capture_output=True, check=False)

    def test_memory(self):
        done = self.run_bound("b = bytearray(2 ** 30)", memory_bytes=300 * 2**20)
        self.assertIn(b"MemoryError", done.stderr)

    def test_files(self):
        with tempfile.TemporaryDirectory() as folder:
            done = self.run_bound(f"open({folder!r} + '/a', 'wb').write(bytes(2 ** 20))", file_bytes=2**16)
            self.assertNotEqual(done.returncode, 0)
            self.assertLessEqual(Path(folder, "a").stat().st_size, 2**16)

    def test_bounds_have_sound_defaults(self):
        self.assertLessEqual(Bounds().time_s, 3600)

    def test_a_child_that_leads_a_session_ends_with_all_that_it_started(self):
        code = "import subprocess, sys, time; p = subprocess.Popen(['sleep', '60']); print(p.pid, flush=True); time.sleep(60)"
        child = start_bound([sys.executable, "-c", code])
        grandchild = int(child.stdout.readline())
        kill_group(child)
        child.stdout.close()
        child.stdin.close()
        time.sleep(0.2)
        self.assertFalse(is_alive(grandchild))

    def test_a_child_works_behind_whoever_answers(self):
        child = start_bound([sys.executable, "-c", "import os; print(os.nice(0))"])
        self.assertEqual(int(child.communicate()[0]), min(os.nice(0) + 10, 19))

    @unittest.skipUnless(Path("/proc/self/autogroup").exists(), "this kernel shares the processor among processes only")
    def test_its_session_does_so_too(self):
        child = start_bound([sys.executable, "-c", "print(open('/proc/self/autogroup').read().split()[-1])"])
        self.assertEqual(int(child.communicate()[0]), 10)

    def test_a_child_ends_with_its_parent_however_that_ends(self):
        code = """
            import sys, time
            from zarbek.core.material.processes import start_bound
            print(start_bound(["sleep", "60"]).pid, flush=True)
            time.sleep(60)
        """
        parent = subprocess.Popen([sys.executable, "-c", textwrap.dedent(code)], stdout=subprocess.PIPE)
        child = int(parent.stdout.readline())
        self.assertTrue(is_alive(child))
        os.kill(parent.pid, signal.SIGKILL)
        parent.wait()
        parent.stdout.close()
        until = time.monotonic() + 5
        while is_alive(child) and time.monotonic() < until:
            time.sleep(0.05)
        self.assertFalse(is_alive(child))


if __name__ == "__main__":
    unittest.main()
