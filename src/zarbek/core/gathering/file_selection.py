"""Which files of a source folder count."""

from __future__ import annotations

import re
from pathlib import PurePosixPath

from zarbek.core.material.folder import Folder, list_files
from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_FILE
from zarbek.core.sources.languages.ecmascript.packages import declared_entry, is_entry
from zarbek.core.sources.project_file import ProjectFile

#: Modules of Python in another language, and their sources.
_COMPILED = re.compile(r"([A-Za-z]\w*)(?:\.[\w-]+)?\.(?:so|pyd|pyx)$")
_SCRIPT = re.compile(r"\.[cm]?[jt]sx?$")


def list_source_files(folder: Folder, project: ProjectFile) -> tuple[list[str], list[Finding]]:
    """The files that count, sorted, and what is said of those whose paths are too long to be kept."""
    files = _list_files(folder, project)
    told = f"The file was left out: its path is longer than {MAX_FILE} characters."
    unfit = [Finding("text/unreadable", "warning", "", told, subject_kind="page", file=f[:MAX_FILE], line=1)
             for f in files if len(f) > MAX_FILE]  # fmt: skip
    return [f for f in files if len(f) <= MAX_FILE], unfit


def compiled_modules(files: list[str]) -> list[Scope]:
    """Of what is compiled into a Python package, the names: who names such a module means something."""
    found = ((f, _COMPILED.search(f)) for f in files)
    return [Scope(file, file, made=[match[1]]) for file, match in found if match]


def _list_files(folder: Folder, project: ProjectFile) -> list[str]:
    """Of a package of scripts of whose entry only what a build made is here, the declarations of that count."""
    files = list_files(folder, include=project.include, exclude=project.exclude)
    if project.include or "package.json" not in files:
        return files
    package = folder.read("package.json").decode("utf-8", errors="replace")
    if any(_SCRIPT.search(f) and is_entry(f, package) for f in files):
        return files
    entry = PurePosixPath(declared_entry(package))
    if entry.is_absolute() or ".." in entry.parts or not folder.exists(str(entry)):
        return files
    place = "" if str(entry.parent) == "." else f"/{entry.parent}"
    declared = [f"{place}/**/*.d.{ending}" for ending in ("ts", "mts", "cts")]
    return sorted({*files, *list_files(folder, include=declared, exclude=project.exclude)})
