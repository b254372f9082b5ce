"""Exact versions from lock files. Sources: PEP 751 (pylock.toml), uv, Poetry, Pipenv, pip
(requirements files), npm, Cargo, Gradle, NuGet and Conan documentation of their lock files."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Callable, Iterator
from typing import Any

from zarbek.core.sources.manifests.cargo import cargo_purl
from zarbek.core.sources.manifests.cmake import generic_purl
from zarbek.core.sources.manifests.dotnet import nuget_purl
from zarbek.core.sources.manifests.maven import maven_purl
from zarbek.core.sources.manifests.npm import npm_purl
from zarbek.core.sources.manifests.pyproject import pypi_purl

#: Package URL without version, and a version.
Locked = tuple[str, str]
_PINNED = re.compile(r"^[ \t]*([A-Za-z0-9][\w.\-]*)(?:\[[^\]]*\])?\s*===?\s*([^\s;#\\]+)", re.MULTILINE)
_GRADLE = re.compile(r"^([\w.\-]+):([\w.\-]+):([^=\s:]+)=", re.MULTILINE)


def _toml_packages(text: str, table: str) -> Iterator[tuple[str, str]]:
    for package in tomllib.loads(text).get(table, []):
        if isinstance(package, dict) and package.get("name") and package.get("version"):
            yield str(package["name"]), str(package["version"])


def _python(table: str) -> Callable[[str], Iterator[Locked]]:
    return lambda text: ((pypi_purl(name), version) for name, version in _toml_packages(text, table))


def _cargo(text: str) -> Iterator[Locked]:
    return ((cargo_purl(name), version) for name, version in _toml_packages(text, "package"))


def _requirements(text: str) -> Iterator[Locked]:
    return ((pypi_purl(m[1]), m[2]) for m in _PINNED.finditer(text))


def _pipenv(text: str) -> Iterator[Locked]:
    for name, facts in _table(json.loads(text), "default").items():
        version = str(facts.get("version", "")) if isinstance(facts, dict) else ""
        if version.startswith("=="):
            yield pypi_purl(name), version[2:]


def _npm(text: str) -> Iterator[Locked]:
    data = json.loads(text)
    for path, facts in _table(data, "packages").items():
        # What lies below another package is that one's alone.
        is_direct = path.startswith("node_modules/") and "/node_modules/" not in path
        version = facts.get("version") if is_direct and isinstance(facts, dict) else None
        if version:
            yield npm_purl(path.removeprefix("node_modules/")), str(version)
    for name, facts in _table(data, "dependencies").items():
        if isinstance(facts, dict) and facts.get("version"):
            yield npm_purl(name), str(facts["version"])


def _gradle(text: str) -> Iterator[Locked]:
    return ((maven_purl(m[1], m[2]), m[3]) for m in _GRADLE.finditer(text))


def _nuget(text: str) -> Iterator[Locked]:
    for framework in _table(json.loads(text), "dependencies").values():
        for name, facts in framework.items() if isinstance(framework, dict) else ():
            if isinstance(facts, dict) and facts.get("resolved"):
                yield nuget_purl(name), str(facts["resolved"])


def _conan(text: str) -> Iterator[Locked]:
    for line in json.loads(text).get("requires", []):
        name, _, rest = str(line).partition("/")
        if rest:
            yield generic_purl(name), re.split(r"[#@%]", rest)[0]


def _table(data: Any, name: str) -> dict[str, Any]:
    found = data.get(name) if isinstance(data, dict) else None
    return found if isinstance(found, dict) else {}


_READERS: dict[str, Callable[[str], Iterator[Locked]]] = {
    "pylock.toml": _python("packages"), "uv.lock": _python("package"), "poetry.lock": _python("package"),
    "pdm.lock": _python("package"), "Pipfile.lock": _pipenv, "requirements.txt": _requirements,
    "package-lock.json": _npm, "npm-shrinkwrap.json": _npm, "Cargo.lock": _cargo, "gradle.lockfile": _gradle,
    "packages.lock.json": _nuget, "conan.lock": _conan,
}  # fmt: skip
LOCK_FILES = frozenset(_READERS)


def read_lock(name: str, text: str) -> list[Locked]:
    """Every package that a lock file names with its version, in its order.

    Raises ValueError for a file that is not of its kind.
    """
    try:
        return list(_READERS[name](text))
    except (AttributeError, TypeError, KeyError, RecursionError) as error:
        raise ValueError(f"it is no {name}") from error
