"""Files of a source folder, within bounds. Links are not followed, but in trees of HTML to files of the folder."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

from zarbek.core.errors import SourceNotFound
from zarbek.core.material.safe_patterns import spec_of

#: Left out unless a project includes them: what tools generate or bring in, tests and what helps
#: them, examples, scripts of the build and of the documentation.
DEFAULT_EXCLUDES = (
    ".*", "__pycache__/", "build/", "dist/", "node_modules/", "venv/", "env/", "site-packages/",
    "*.egg-info/", "_vendor/", "vendor/", "vend/", "third_party/", "thirdparty/", "3rdparty/",
    "tests/", "test/", "testing/_private/",
    "conftest.py", "setup.py", "examples/", "example/", "demo/", "demos/", "benchmarks/",
    "*.Tests/", "*.Test/", "*.UnitTests/", "*.Benchmarks/",
    "*-testlib/", "testlib/", "noxfile.py", "gulpfile.js", "Gruntfile.js", "*.config.js", "*.config.cjs",
    "*.config.mjs", "*.config.ts", "/scripts/",
    *(f"/{folder}/**/*.{ending}" for folder in ("doc", "docs") for ending in (
        "py", "js", "mjs", "cjs", "jsx", "ts", "tsx", "java", "kt", "cs", "go", "rs", "c", "h", "cc", "cpp", "hpp")),
)  # fmt: skip
_WILD = re.compile(r"[*?\[]")
MAX_FILES = 200_000


class Stamp(NamedTuple):
    """Of a file as it is: another once it has been written, by whatever name. changed_ns: since when, of the epoch."""

    size: int
    written_ns: int
    changed_ns: int
    node: int


@dataclass(frozen=True, slots=True)
class Folder:
    """A folder on disk as a source of files; paths are relative with forward slashes."""

    root: Path

    def read(self, file: str) -> bytes:
        """A file's bytes; file: relative to the root. Raises OSError."""
        with open(os.path.join(self.root, file), "rb") as opened:
            return opened.read()

    def read_text(self, file: str) -> str:
        """A file's text, with marks where it is no UTF-8; empty where there is none. Raises OSError."""
        return self.read(file).decode("utf-8", errors="replace") if self.exists(file) else ""

    def read_begin(self, file: str, most: int) -> bytes:
        """The first bytes of a file, at most so many. Raises OSError."""
        with open(os.path.join(self.root, file), "rb") as opened:
            return opened.read(most)

    def read_within(self, file: str, most: int) -> bytes | None:
        """A file of at most so many bytes that some text names; None where no such file can be read below the
        folder, whatever the name is: a circle of links, or no name at all."""
        try:
            path = Path(os.path.realpath(self.root / file))
            if not path.is_relative_to(self.root) or not path.is_file() or path.stat().st_size > most:
                return None
            return path.read_bytes()
        except (OSError, ValueError):
            return None

    def size(self, file: str) -> int:
        """A file's size in bytes. Raises OSError."""
        return os.stat(os.path.join(self.root, file)).st_size

    def stamp(self, file: str) -> Stamp | None:
        """What tells a file apart from what it is after it has been written; None where nothing can be told of it."""
        try:
            seen = os.stat(f"{self.root}/{file}")
        except (OSError, ValueError):
            return None
        return Stamp(seen.st_size, seen.st_mtime_ns, seen.st_ctime_ns, seen.st_ino)

    def exists(self, file: str) -> bool:
        """Whether a file is there, whatever its name is; a folder is none."""
        return os.path.isfile(os.path.join(self.root, file))

    def holds(self, file: str) -> bool:
        """Whether a name, whatever it is, is that of a regular file below the folder, and no link."""
        path = self.root / file  # What is no name at all, or too long for one, is no file to these functions.
        if os.path.islink(path) or not os.path.isfile(path):
            return False
        return path.resolve().is_relative_to(self.root.resolve())

    def has(self, path: str) -> bool:
        """Whether something of that name stands below the folder, whatever its name is; of what is elsewhere nothing is
        told. A link is there, wherever it leads; nothing is behind it."""
        inside = os.path.normpath(path)
        if inside.startswith((os.pardir, os.sep)):
            return False
        try:
            outer = os.path.realpath(self.root / os.path.dirname(inside))
        except (OSError, ValueError):
            return False
        return Path(outer).is_relative_to(os.path.realpath(self.root)) and os.path.lexists(self.root / inside)


def open_folder(path: Path) -> Folder:
    """Raises SourceNotFound if the path is no folder."""
    if not path.is_dir():
        raise SourceNotFound(str(path))
    return Folder(path.resolve())


def list_root(folder: Folder) -> list[str]:
    """Names of the regular files that stand right in the folder, sorted."""
    with os.scandir(folder.root) as entries:
        return sorted(entry.name for entry in entries if entry.is_file(follow_symlinks=False))


def list_files(
    folder: Folder, *, include: Iterable[str] = (), exclude: Iterable[str] = (), has_links: bool = False
) -> list[str]:
    """Regular files below the folder, sorted; patterns are those of gitignore.

    include wins over the default excludes, never over exclude. has_links: symbolic links to files that are listed
    themselves are listed, too, as a server would show them.
    """
    includes = spec_of(include)
    has_includes = bool(includes.patterns)
    left_out = spec_of(DEFAULT_EXCLUDES)
    excludes = spec_of(exclude)
    found: list[str] = []
    links: list[str] = []
    root = str(folder.root)
    for directory, folders, files in os.walk(root):
        relative = os.path.relpath(directory, root).replace(os.sep, "/")
        base = "" if relative == "." else relative + "/"
        folders[:] = sorted(
            name
            for name in folders
            if not excludes.match_file(f"{base}{name}/")
            and (not left_out.match_file(f"{base}{name}/") or (has_includes and _may_hold(include, base + name)))
        )
        for name in files:
            path = base + name
            wanted = includes.match_file(path) if has_includes else not left_out.match_file(path)
            if wanted and not excludes.match_file(path):
                (links if os.path.islink(os.path.join(directory, name)) else found).append(path)
        if len(found) > MAX_FILES:
            break
    return sorted([*found, *_leading_to(links, set(found), root)] if has_links else found)


def list_named(folder: Folder, name: re.Pattern[str], *, skip: frozenset[str] = frozenset()) -> list[str]:
    """Regular files below the folder whose paths have something of a pattern, sorted; not in hidden folders, and in
    those of some names."""
    found: list[str] = []
    root = str(folder.root)
    for directory, folders, files in os.walk(root):
        relative = os.path.relpath(directory, root).replace(os.sep, "/")
        base = "" if relative == "." else relative + "/"
        folders[:] = sorted(f for f in folders if f not in skip and not f.startswith("."))
        paths = (base + file for file in files if name.search(base + file))
        found += [path for path in paths if not os.path.islink(os.path.join(root, path))]
        if len(found) > MAX_FILES:
            break
    return sorted(found)


def _leading_to(links: list[str], files: set[str], root: str) -> Iterator[str]:
    real = os.path.realpath(root)
    for link in links:
        target = os.path.relpath(os.path.realpath(os.path.join(root, link)), real)
        if target.replace(os.sep, "/") in files:
            yield link


def _may_hold(include: Iterable[str], folder: str) -> bool:
    heads = (_WILD.split(pattern.strip("/"), maxsplit=1)[0] for pattern in include)
    return any(head.startswith(folder) or f"{folder}/".startswith(head) for head in heads)
