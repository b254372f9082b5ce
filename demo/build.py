"""Turn the plain files of demo/projects into git repositories with tagged histories.

Each version's folder lies over the one before; ``.removed`` lists what goes. Dates and
authors are fixed, so that every build gives the same commits.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import pontoon
from packaging.version import Version

PROJECTS = Path(__file__).resolve().parent / "projects"

#: A folder of what is on the main branch and in no release yet.
NEXT = "next"


#: The host of the stand-ins for the world outside, as the files write it.
WRITTEN_HOST = "127.0.0.1:8099"


def build_repository(project: Path, target: Path, host: str = WRITTEN_HOST) -> list[str]:
    """Make one repository; its versions in order. host: of the stand-ins, in the place of the written one."""
    if target.exists():
        shutil.rmtree(target)
    target.mkdir(parents=True)
    _git(target, "init", "--quiet", "--initial-branch", "main")
    versions = sorted((p.name for p in project.iterdir() if p.is_dir() and p.name != NEXT), key=Version)
    for number, version in enumerate(versions):
        overlay = project / version
        removed = overlay / ".removed"
        for name in removed.read_text().split() if removed.is_file() else []:
            (target / name).unlink()
        # copy, not copy2: with the old times git would take a changed file of equal size for the same.
        shutil.copytree(
            overlay, target, dirs_exist_ok=True, ignore=shutil.ignore_patterns(".removed"), copy_function=shutil.copy
        )
        _point_to(target, host)
        _git(target, "add", "--all")
        _git(target, "commit", "--quiet", "-m", f"Release {version}", day=number)
        _git(target, "tag", f"v{version}")
    if (project / NEXT).is_dir():
        shutil.copytree(project / NEXT, target, dirs_exist_ok=True, copy_function=shutil.copy)
        _point_to(target, host)
        _git(target, "add", "--all")
        _git(target, "commit", "--quiet", "-m", "Work on what comes next", day=len(versions))
    return versions


def _point_to(target: Path, host: str) -> None:
    for file in target.rglob("*") if host != WRITTEN_HOST else ():
        if file.is_file() and ".git" not in file.parts and WRITTEN_HOST.encode() in (data := file.read_bytes()):
            file.write_bytes(data.replace(WRITTEN_HOST.encode(), host.encode()))


def _git(folder: Path, *arguments: str, day: int = 0) -> None:
    moment = f"2026-0{1 + day % 9}-12T09:00:00+00:00"
    environment = {
        **os.environ, "GIT_CONFIG_GLOBAL": os.devnull, "GIT_AUTHOR_DATE": moment, "GIT_COMMITTER_DATE": moment,
        "GIT_AUTHOR_NAME": "Halmere Ferries", "GIT_AUTHOR_EMAIL": "build@halmere.example",
        "GIT_COMMITTER_NAME": "Halmere Ferries", "GIT_COMMITTER_EMAIL": "build@halmere.example",
    }  # fmt: skip
    subprocess.run(["git", *arguments], cwd=folder, env=environment, check=True)


def build_pontoon(target: Path) -> list[str]:
    """The repository of pontoon, whose pages a program writes; its versions in order."""
    with tempfile.TemporaryDirectory() as name:
        for version in pontoon.VERSIONS:
            files = pontoon.files_of(version)
            before = pontoon.files_of(pontoon.VERSIONS[max(pontoon.VERSIONS.index(version) - 1, 0)])
            for file, text in {**files, ".removed": "\n".join(sorted(before.keys() - files.keys()))}.items():
                path = Path(name, version, file)
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_text(text)
        return build_repository(Path(name), target)


def build_all(target: Path, host: str = WRITTEN_HOST) -> dict[str, list[str]]:
    """Every repository below target; project to its versions in order."""
    return {"pontoon": build_pontoon(target / "pontoon")} | {
        p.name: build_repository(p, target / p.name, host) for p in sorted(PROJECTS.iterdir()) if p.is_dir()
    }


if __name__ == "__main__":
    for name, found in build_all(Path(sys.argv[1])).items():
        print(name, *found)
