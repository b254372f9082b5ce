"""The light client as people get it: a wheel alone in an empty environment, timed as whole processes."""

from __future__ import annotations

import shutil
import statistics
import subprocess
import sys
import tempfile
import time
import venv
from pathlib import Path

from bench.measures import Row
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather

ROOT = Path(__file__).resolve().parent.parent
_TIMES = 15
_NOT_SOURCES = shutil.ignore_patterns(".git", ".venv", ".zarbek", "node_modules", "build", "*.egg-info", ".*_cache")


def measure_startup() -> list[Row]:
    """How long commands of the light client take as whole processes, and what its install weighs."""
    with Service() as service, tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        python = _install(folder)
        bundle = folder / "client.bundle"
        gather(ROOT / "src/zarbek/client", bundle, GatherOptions(slug="client", version="1", use_cache=False))
        service.publish(bundle)
        packages = python.parent.parent / "lib" / f"python3.{sys.version_info.minor}" / "site-packages"
        own = [p for p in packages.iterdir() if p.name.split("-")[0] not in ("pip", "setuptools", "pkg_resources")]
        count = sum(p.suffix == ".dist-info" for p in own)
        size = sum(f.stat().st_size for p in own for f in ([p] if p.is_file() else p.rglob("*")) if f.is_file())
        zarbek = str(python.parent / "zarbek")
        commands = {
            "an empty program": [str(python), "-c", "pass"],
            "zarbek --help": [zarbek, "--help"],
            "zarbek find": [zarbek, "find", "Portal", "--url", service.processes.address],
        }
        rows = [("packages of a client's installation", f"{count}", f"{size / 2**20:.0f} MiB")]
        for label, times in _times(commands).items():
            rows.append((label, f"{statistics.median(times) * 1000:.0f} ms", f"at best {min(times) * 1000:.0f} ms"))
        return rows


def _install(folder: Path) -> Path:
    """The interpreter of an environment that has nothing but the wheel and what that asks for."""
    shutil.copytree(ROOT, folder / "sources", ignore=_NOT_SOURCES)
    pip = ["-m", "pip", "--disable-pip-version-check", "-q"]
    options = ["--no-deps", "--no-build-isolation", "-w", str(folder)]
    subprocess.run([sys.executable, *pip, "wheel", *options, str(folder / "sources")], check=True)
    venv.create(folder / "env", with_pip=True)
    python = folder / "env/bin/python"
    (wheel,) = folder.glob("*.whl")
    subprocess.run([str(python), *pip, "install", str(wheel)], check=True)
    return python


def _times(commands: dict[str, list[str]]) -> dict[str, list[float]]:
    """Seconds of each command as a whole process, in turns: the machine may be slow for a while."""
    times: dict[str, list[float]] = {label: [] for label in commands}
    for _ in range(_TIMES):
        for label, command in commands.items():
            started = time.perf_counter()
            subprocess.run(command, stdout=subprocess.DEVNULL, check=True)
            times[label].append(time.perf_counter() - started)
    return times
