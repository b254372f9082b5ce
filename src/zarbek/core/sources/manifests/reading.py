"""All manifests of a source folder together."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import PurePosixPath

from zarbek.core.sources.manifests.cargo import read_cargo
from zarbek.core.sources.manifests.cmake import read_cmake, read_conan, read_vcpkg
from zarbek.core.sources.manifests.dotnet import read_csproj
from zarbek.core.sources.manifests.facts import PackageFacts, merge_facts, with_exact
from zarbek.core.sources.manifests.gomod import read_go_mod
from zarbek.core.sources.manifests.gradle import read_gradle
from zarbek.core.sources.manifests.locks import LOCK_FILES, read_lock
from zarbek.core.sources.manifests.maven import read_pom
from zarbek.core.sources.manifests.npm import read_package_json
from zarbek.core.sources.manifests.pyproject import read_pyproject
from zarbek.core.sources.manifests.sboms import is_sbom, read_sbom
from zarbek.core.sources.source_text import FALLS

_READERS: dict[str, Callable[[str], PackageFacts]] = {
    "pyproject.toml": read_pyproject, "pom.xml": read_pom, "package.json": read_package_json, "Cargo.toml": read_cargo,
    "go.mod": read_go_mod, "CMakeLists.txt": read_cmake, "conanfile.txt": read_conan, "vcpkg.json": read_vcpkg,
}  # fmt: skip


#: Files that say what a folder's sources belong to, wherever the sources themselves are.
BUILD_FILES = frozenset({"package.json", "tsconfig.json", "jsconfig.json", "go.mod", "Cargo.toml"})
ROOT_MANIFESTS = BUILD_FILES | {
    "pyproject.toml", "pom.xml", "build.gradle", "build.gradle.kts", "settings.gradle", "settings.gradle.kts",
    "CMakeLists.txt", "conanfile.txt", "vcpkg.json",
}  # fmt: skip


def read_manifests(files: list[str], read: Callable[[str], str]) -> PackageFacts:
    """files: of the source, relative. Manifests at the root tell of the project; those of parts
    of it (a workspace) add their dependencies."""
    found: list[PackageFacts] = []
    known = set(files)
    for name, reader in _READERS.items():
        if name in known:
            found.append(_safely(name, reader, read, name))
    for name in ("build.gradle.kts", "build.gradle"):
        if name in known:
            settings = next((n for n in (name.replace("build", "settings"), "settings.gradle") if n in known), "")
            found.append(_safely(name, read_gradle, read, name, settings))
            break
    for file in sorted(files, key=lambda f: (f.count("/"), f)):
        if not file.endswith((".csproj", "Cargo.toml")):
            continue
        path = PurePosixPath(file)
        if path.suffix == ".csproj" and "test" not in path.stem.lower():
            found.append(_safely(file, partial(_read_csproj, path.stem), read, file))
        elif path.name == "Cargo.toml" and len(path.parts) > 1 and len(path.parts) < 4:
            found.append(_safely(file, read_cargo, read, file))
    facts = merge_facts(found) if found else PackageFacts()
    return _with_locks(facts, files, read)


def _safely(file: str, reader: Callable[..., PackageFacts], read: Callable[[str], str], *files: str) -> PackageFacts:
    """What a manifest tells; one that makes its reader fall tells that it does, and nothing else is lost.

    files: those whose texts the reader takes; an empty name is an empty text.
    """
    try:
        return reader(*(read(name) if name else "" for name in files))
    except FALLS as error:
        return PackageFacts(unreadable=[_words(error)], file=file)


def _read_csproj(name: str, text: str) -> PackageFacts:
    return read_csproj(text, name)


def _words(error: BaseException) -> str:
    return "it nests too deeply" if isinstance(error, RecursionError) else str(error)[:300] or type(error).__name__


def _with_locks(facts: PackageFacts, files: list[str], read: Callable[[str], str]) -> PackageFacts:
    """Lock files at the root first, then bills of materials there."""
    locked: dict[str, list[str]] = {}
    unreadable, at_fault = list(facts.unreadable), facts.file
    root = [f for f in files if "/" not in f]
    for file in (*(f for f in root if f in LOCK_FILES), *(f for f in root if is_sbom(f))):
        try:
            found = read_lock(file, read(file)) if file in LOCK_FILES else read_sbom(read(file))
        except FALLS as error:
            unreadable.append(_words(error))
            at_fault = file
            continue
        fresh: dict[str, list[str]] = {}
        for purl, version in found:
            fresh.setdefault(purl, []).append(version)
        locked = {**fresh, **locked}
    pairs = [(purl, version) for purl, versions in locked.items() for version in versions]
    return with_exact(replace(facts, unreadable=unreadable, file=at_fault), pairs)
