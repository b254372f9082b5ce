"""Which module of which crate a Rust file is. Sources: The Cargo Book, "Package layout"; The Rust
Reference, "Modules"."""

from __future__ import annotations

import posixpath
import re
import tomllib
from collections.abc import Callable, Iterator
from pathlib import PurePosixPath

from zarbek.core.sources.languages.reading import SourceFile, nearest_folder
from zarbek.core.sources.source_text import FALLS

Read = Callable[[str], str]
_ROOTS = ("mod", "lib", "main")
_PATH = re.compile(
    r"#\[path\s*=\s*\"([^\"\n]+)\"\](?:\s*(?:#\[[^\]\n]*\]|//[^\n]*)){0,20}\s*(?:pub(?:\([^)\n]*\))?\s+)?mod\s+(\w+)\s*;"
)


def locate_rust(own: list[str], files: list[str], read: Read) -> list[SourceFile]:
    """Each file by the path of its module. own: files to locate, files: all there are; read: a file's text."""
    if not own:
        return []
    crates = _crates(files, read)
    located = {file: module for file in own if (module := _module_of(file, crates, own, files))}
    places = [(t, m, f) for f in located for t, m in _places_of(f, located[f], set(own), read)]
    # What another crate takes in is that one's; its own folder names it only where nobody else does.
    places.sort(key=lambda place: posixpath.dirname(place[0]) != posixpath.dirname(place[2]))
    placed = {target: module for target, module, _ in places}
    if placed:
        located = _with_placed(placed, crates, own, files)
    return [SourceFile(f, "rust", m, _is_root(f)) for f, m in located.items() if m]


def _crates(files: list[str], read: Read) -> dict[str, str]:
    """Folder of a crate's entry file to the crate's name."""
    found: dict[str, str] = {}
    for path in (PurePosixPath(file) for file in files if file.rpartition("/")[2] == "Cargo.toml"):
        name, entry = _crate_of(read(str(path)))
        if name:
            found[str((path.parent / entry).parent)] = name
    return found


def _with_placed(placed: dict[str, str], crates: dict[str, str], own: list[str], files: list[str]) -> dict[str, str]:
    """File to module, where some stand elsewhere; a folder that is a module elsewhere has one root."""
    folders = {str(PurePosixPath(f).parent): m for f, m in placed.items() if _is_root(f)}
    inside = {**crates, **folders}
    return {
        file: placed.get(file) or _module_of(file, inside, own, files) for file in own
        if file in placed or not _is_root(file) or str(PurePosixPath(file).parent) not in folders
    }  # fmt: skip


def _is_root(file: str) -> bool:
    return PurePosixPath(file).stem in _ROOTS


def _module_of(file: str, crates: dict[str, str], own: list[str], files: list[str]) -> str:
    """The module of a file; empty for what belongs to no crate, or to a program beside a library."""
    path = PurePosixPath(file)
    root, crate = nearest_folder(path.parent, crates)
    if not crate:
        if "Cargo.toml" in {PurePosixPath(f).name for f in files}:
            return ""
        root, crate = str(path.parent), path.parent.name or "crate"
    parts = list(path.relative_to(root).with_suffix("").parts)
    if parts[0] in ("main", "bin") and len(parts) < 3 and f"{root}/lib.rs".removeprefix("./") in own:
        return ""
    if parts[-1] in _ROOTS:
        parts.pop()
    return "::".join([crate, *parts])


def _places_of(file: str, module: str, own: set[str], read: Read) -> Iterator[tuple[str, str]]:
    """(file, module) of the modules that a file says stand elsewhere (The Rust Reference, "The path attribute")."""
    text = read(file)
    if "#[path" not in text:
        return
    for match in _PATH.finditer(text):
        target = posixpath.normpath(posixpath.join(posixpath.dirname(file), match[1]))
        if target in own:
            yield target, f"{module}::{match[2]}"


def _crate_of(text: str) -> tuple[str, str]:
    """(crate name, entry file) of a Cargo.toml; empty for a workspace alone or what is no TOML."""
    try:
        data = tomllib.loads(text)
        name = data.get("package", {}).get("name", "")
        library = data.get("lib", {})
        return str(library.get("name", name)).replace("-", "_"), str(library.get("path", "src/lib.rs"))
    except FALLS:
        return "", ""
