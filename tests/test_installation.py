"""The wheel, installed alone: the light client against a portal, and the portal with its console."""

import re
import shutil
import subprocess
import sys
import sysconfig
import tempfile
import unittest
import uuid
import venv
from pathlib import Path

from tests.support.running import ROOT, running

_NOT_SOURCES = shutil.ignore_patterns(".git", ".venv", ".zarbek", "node_modules", "build", "*.egg-info", ".*_cache")


def run(*command, **options):
    return subprocess.run([str(part) for part in command], capture_output=True, text=True, check=False, **options)


class Wheel(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        shutil.copytree(ROOT, cls.folder / "sources", ignore=_NOT_SOURCES)
        pip = (sys.executable, "-m", "pip", "--disable-pip-version-check", "-q")
        options = ("--no-deps", "--no-build-isolation", "-w", cls.folder)
        built = run(*pip, "wheel", *options, cls.folder / "sources")
        if built.returncode:
            raise AssertionError(built.stderr)
        (cls.wheel,) = cls.folder.glob("zarbek-*.whl")

    def environment(self, *pip_options):
        """The interpreter of an empty environment with the wheel in it."""
        place = self.folder / f"env-{uuid.uuid4().hex[:6]}"
        venv.create(place, with_pip=True)
        python = place / "bin/python"
        done = run(python, "-m", "pip", "--disable-pip-version-check", "-q", "install", *pip_options, self.wheel)
        self.assertEqual(done.returncode, 0, done.stderr)
        return python

    def test_the_light_client_asks_a_portal_and_says_what_else_it_would_need(self):
        portal, slug = running(), f"light{uuid.uuid4().hex[:6]}"
        source = {f"{slug}/__init__.py": f'def tide():\n    """Like :func:`{slug}.gone`."""\n'}
        portal.publish(source, slug, "1.0")
        zarbek = self.environment().parent / "zarbek"
        listed = run(zarbek.parent / "pip", "list", "--format=freeze").stdout.lower()
        for heavy in ("tree-sitter", "lxml", "grpcio", "django", "pygments-"):
            self.assertNotIn(heavy, listed)
        for command, told in (
            (("find", f"{slug}.tide"), f"{slug}.tide  function"),
            (("show", f"{slug}.tide"), "tide()"),
            (("report", slug), "dangling/symbol"),
            (("links", slug), f"{slug}.gone -> dangling"),
        ):
            with self.subTest(command):
                done = run(zarbek, *command, "--url", portal.url)
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                self.assertIn(told, done.stdout)
        (self.folder / "empty").mkdir()
        for command in (("gather", "empty"), ("publish", "empty"), ("options",)):
            with self.subTest(command):
                done = run(zarbek, *command, cwd=self.folder)
                self.assertEqual((done.returncode, done.stdout), (3, ""))
                self.assertRegex(
                    done.stderr, r"^zarbek: This needs zarbek\[gather\].+pip install 'zarbek\[gather\]'\n$"
                )

    def test_the_portal_of_a_wheel_serves_its_console(self):
        python = self.environment("--no-deps")
        (packages,) = python.parent.parent.glob("lib/python*/site-packages")
        # What the locked environment has, without what its own .pth files would add: our sources.
        (packages / "locked.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")
        script = self.folder / "serve.py"
        script.write_text(
            "import django, sys; django.setup()\n"
            "from django.test import Client\n"
            "import zarbek; assert 'env-' in zarbek.__file__, zarbek.__file__\n"
            "for path in sys.argv[1:]:\n"
            "    answer = Client(headers={'host': '127.0.0.1'}).get(path)\n"
            "    print(answer.status_code, b''.join(answer) .decode() if answer.streaming else answer.content.decode())\n"
        )
        environment = {
            "DJANGO_SETTINGS_MODULE": "zarbek.service.settings", "ZARBEK_HOME": str(self.folder / "home"), "PATH": "",
        }  # fmt: skip
        page = run(python, script, "/", env=environment)
        self.assertEqual(page.stdout[:19], "200 <!doctype html>", page.stderr[-2000:])
        code = re.search(r'src="([^"]+\.js)"', page.stdout)[1]
        served = run(python, script, code, env=environment)
        self.assertEqual(served.stdout[:4], "200 ", served.stderr[-2000:])


if __name__ == "__main__":
    unittest.main()
