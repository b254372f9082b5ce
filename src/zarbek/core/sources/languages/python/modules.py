"""Which module a file is. Sources: Python reference 5.2 (regular and namespace packages),
PEP 420, PEP 561 (stubs)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath


@dataclass(frozen=True, slots=True)
class ModuleFile:
    """A file by the name of its module. is_stub: a .pyi file (PEP 484)."""

    file: str
    module: str
    is_package: bool
    is_stub: bool


def locate_modules(
    files: list[str], beside: Sequence[str] = (), *, only_installed: bool = True
) -> list[ModuleFile]:  # fmt: skip
    """Modules of the Python files of a source, by path relative to it, sorted by file.

    beside: all of its files, among which the manifests of distributions are.

    Where a distribution keeps its packages in ``src``, what stands beside that is not installed with it,
    and left out, unless all are asked for. Import roots: ``src`` folders, and for regular packages the folder above
    the topmost one that has ``__init__``. Other folders are namespace packages below the source's root.
    """
    python = sorted(f for f in files if f.endswith((".py", ".pyi")))
    if only_installed:
        python = _installed(python, beside)
    by_folder: dict[str, list[str]] = {}
    for file in python:
        by_folder.setdefault(file.rpartition("/")[0] or ".", []).append(file)
    packages = {folder for folder, held in by_folder.items() if any(map(_is_package, held))}
    located = []
    for folder, held in by_folder.items():
        root = _root_of(folder, packages)
        above = [part for part in folder.removeprefix(root).split("/") if part not in ("", ".")]
        located += [module for file in held if (module := _located(file, above)) is not None]
    return sorted(located, key=lambda module: module.file)


def _located(file: str, above: list[str]) -> ModuleFile | None:
    """above: the folders between its root and it. None where they, or it, are no name."""
    stem, _, ending = file.rpartition("/")[2].rpartition(".")
    is_package = _is_package(file)
    name = ".".join(part.removesuffix("-stubs") for part in (*above, *([] if is_package else [stem])))
    is_named = bool(name) and all(part.isidentifier() for part in name.split("."))
    return ModuleFile(file, name, is_package, ending == "pyi") if is_named else None


def _is_package(file: str) -> bool:
    return file.rpartition("/")[2] in ("__init__.py", "__init__.pyi")


def _installed(python: list[str], files: Sequence[str]) -> list[str]:
    """Without what stands beside the ``src`` folder of its distribution: helpers of tests, of the build."""
    homes = sorted({f.rpartition("/")[0] for f in files if f.endswith("pyproject.toml")} | {""}, key=len, reverse=True)
    home_of = {f: next(h for h in homes if not h or f.startswith(h + "/")) for f in python}
    inner = {f: f[len(home_of[f]) :].lstrip("/") for f in python}
    kept_in_src = {home_of[f] for f in python if inner[f].startswith("src/") and f.endswith("/__init__.py")}
    return [f for f in python if home_of[f] not in kept_in_src or inner[f].startswith("src/")]


def _root_of(folder: str, packages: set[str]) -> str:
    path = PurePosixPath(folder)
    top = path
    if folder in packages:
        while str(top.parent) in packages and top.parent != top:
            top = top.parent
        top = top.parent if str(top) != "." else top
        above = top
    else:
        above = path
    for candidate in (above, *above.parents):
        if candidate.name in ("src", "lib", "python"):
            return str(candidate)
    return str(top) if folder in packages else "."
