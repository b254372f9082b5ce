"""Which module a file of JavaScript or TypeScript is. Source: Node.js documentation, "Packages"."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Collection
from pathlib import PurePosixPath
from typing import Any

import msgspec

from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.source_text import FALLS

Package = dict[str, Any]
_STEM = re.compile(r"(?:\.d)?\.[cm]?[jt]sx?$")
_DECLARATIONS = re.compile(r"\.d\.[cm]?ts$")
#: Folders of builds, inside of those of sources.
_BUILDS = frozenset({"cjs", "esm5", "esm2015", "es2015", "umd", "mjs", "node", "browser"})
_INNER_KEY = re.compile(r"(?:^|/)(?:_|internal\b|private\b|unsafe\b)")
_SOURCE_FOLDERS = ("src", "lib", "dist", "types", "source", "esm", "build")
_LINE_COMMENT = re.compile(r"(\"(?:[^\"\\]|\\.)*\")|//[^\n]*|/\*.*?\*/", re.DOTALL)
_LAST_COMMA = re.compile(r",(?=\s*[}\]])")


def locate_ecmascript(
    typescript: list[str], javascript: list[str], files: list[str], read: Callable[[str], str]
) -> list[SourceFile]:
    """One file a module: TypeScript sources before declarations before JavaScript; of several builds of one
    script that for modules."""
    if not typescript and not javascript:
        return []
    packages = _packages(files, read)
    chosen: dict[str, str] = {}
    ordered = sorted(typescript, key=lambda f: (".d." in PurePosixPath(f).name, not f.endswith(".ts"), f))
    ordered += sorted(javascript)
    for file in ordered:
        chosen.setdefault(_STEM.sub("", file), file)
    paths = {folder: _path_aliases(folder, files, read) for folder in packages}
    entries = {folder: _entries_here(folder, package, chosen) for folder, package in packages.items()}
    located = _once([_located(file, packages, paths, entries) for file in chosen.values()], packages)
    return _sealed(located, packages)


def declared_entry(package_json: str) -> str:
    """The declarations that a package names as its own (TypeScript Handbook, "Publishing"), or empty."""
    package = _read_json(package_json)
    pending = [package.get("types"), package.get("typings"), package.get("exports")]
    while pending:
        value = pending.pop(0)
        if isinstance(value, str) and _DECLARATIONS.search(value):
            return value.removeprefix("./")
        if isinstance(value, dict):
            pending += value.values()
    return ""


def is_entry(file: str, package_json: str) -> bool:
    """Whether a file, by its place in a package, is one that importing the package reads, or the source of it."""
    return _STEM.sub("", file) in _entries(_read_json(package_json))


def _packages(files: list[str], read: Callable[[str], str]) -> dict[str, Package]:
    """Package by its folder. A description without a name inside of a package with one is no package of its
    own: it says how a folder of that package is loaded."""
    described = (f for f in files if f.rpartition("/")[2] == "package.json")
    found = {str(PurePosixPath(f).parent): _read_json(read(f)) for f in described}
    named = {folder for folder, package in found.items() if package.get("name")}
    return {
        folder: package for folder, package in found.items()
        if package.get("name") or not any(str(above) in named for above in PurePosixPath(folder).parents)
    }  # fmt: skip


def _once(located: list[SourceFile], packages: dict[str, Package]) -> list[SourceFile]:
    """A module of which a package has several forms is read once: its source, else its declarations, else the
    script, of several builds in the form for modules."""
    forms = [(source, _form(source)) for source in located]
    sources = {form for source, form in forms if _is_source(source)}
    stubs: dict[tuple[str, str], SourceFile] = {}
    for source, form in forms:
        if source.is_stub and form not in sources:
            stubs.setdefault(form, source)
    told = sources | stubs.keys()
    located = [
        source for source, form in forms
        if stubs.get(form) is source or _is_source(source) or (not source.is_stub and form not in told)
    ]  # fmt: skip
    best = _best_builds(located, packages)
    return [s for s in located if s.language != "javascript" or best[s.module] is s]


def _best_builds(located: list[SourceFile], packages: dict[str, Package]) -> dict[str, SourceFile]:
    """Module to the script that is read of it: the first of those in the best form."""
    best: dict[str, SourceFile] = {}
    for source in (s for s in located if s.language == "javascript"):
        known = best.get(source.module)
        if known is None or _build_rank(source, packages) < _build_rank(known, packages):
            best[source.module] = source
    return best


def _sealed(located: list[SourceFile], packages: dict[str, Package]) -> list[SourceFile]:
    """With the modules marked that their package hands out to nobody (Node.js, "Package entry points": what
    ``exports`` does not name cannot be imported)."""
    reached = {folder: _handed_out(package) for folder, package in packages.items()}
    shown = {s.options["folder"][0] for s in located if s.is_package}
    found = []
    for source in located:
        folder = source.options["folder"][0]
        places = reached.get(folder)
        if places is not None and not source.is_package and folder in shown and not _matches(source, places):
            source = msgspec.structs.replace(source, options={**source.options, "sealed": ["yes"]})
        found.append(source)
    return found


def _handed_out(package: Package) -> list[re.Pattern[str]] | None:
    """Places of modules without their folders of sources and builds; None where the package does not say."""
    if package.get("exports") is None:
        return None
    found: set[str] = set()
    pending = [package["exports"]]
    while pending:
        value = pending.pop()
        if isinstance(value, dict):
            pending += [inner for key, inner in value.items() if not _INNER_KEY.search(key)]
        elif isinstance(value, list):
            pending += value
        elif isinstance(value, str):
            found.add(_plain_place(_STEM.sub("", str(PurePosixPath(value)))))
    return [re.compile(re.escape(place).replace(r"\*", ".*") + r"\Z") for place in sorted(found)]


def _matches(source: SourceFile, places: list[re.Pattern[str]]) -> bool:
    place = _plain_place(_STEM.sub("", _inside(source)))
    return any(pattern.match(place) for pattern in places)


def _plain_place(inside: str) -> str:
    parts = inside.split("/")
    while len(parts) > 1 and (parts[0] in _SOURCE_FOLDERS or parts[0] in _BUILDS):
        parts = parts[1:]
    return "/".join(parts[:-1] if len(parts) > 1 and parts[-1] == "index" else parts)


def _is_source(source: SourceFile) -> bool:
    return source.language == "typescript" and not source.is_stub


def _form(source: SourceFile) -> tuple[str, str]:
    """The same for a source and for what a build makes of it: their package, and their place in it."""
    return source.options["folder"][0], _shortened(_STEM.sub("", _inside(source)))


def _inside(source: SourceFile) -> str:
    folder = source.options["folder"][0]
    return source.file[len(folder) + 1 :] if folder not in ("", ".") else source.file


def _build_rank(source: SourceFile, packages: dict[str, Package]) -> tuple[bool, bool, int, str]:
    inside = _inside(source)
    folder = source.options["folder"][0]
    form = PurePosixPath(str(packages.get(folder, {}).get("module") or "")).parts
    is_form = len(form) > 1 and inside.startswith(form[0] + "/")
    return not is_form, "cjs" in inside, len(source.file), source.file


def _entries_here(folder: str, package: Package, chosen: Collection[str]) -> set[str]:
    """The entries that the repository holds; where the build makes the one that is named, the usual ones."""
    base = "" if folder == "." else folder + "/"
    named = _entries(package)
    return named if any(base + stem in chosen for stem in named) else _stems({"index", "main"})


def _located(
    file: str, packages: dict[str, Package], paths: dict[str, list[str]], entries: dict[str, set[str]]
) -> SourceFile:
    path = PurePosixPath(file)
    language = "javascript" if re.search(r"\.[cm]?jsx?$", file) else "typescript"
    root = next((str(p) for p in path.parents if str(p) in packages), "")
    package = packages.get(root, {})
    name = str(package.get("name", "")) if package else ""
    inside = _STEM.sub("", str(path.relative_to(root) if root else path))
    is_entry = bool(name) and inside in entries[root]
    short = _shortened(inside)
    module = name if is_entry else f"{name}/{short}" if name else short
    options = {"root": [name or module], "folder": [root], "paths": paths.get(root, [])}
    return SourceFile(file, language, module, is_entry, ".d." in path.name, options)


def _shortened(inside: str) -> str:
    parts = inside.split("/")
    if len(parts) > 1 and parts[0] in _SOURCE_FOLDERS:
        parts = parts[1:]
    if len(parts) > 1 and parts[-1] == "index":
        parts.pop()
    return "/".join(parts)


def _entries(package: Package) -> set[str]:
    """The files (without ending) that importing the package by its name reads, sources included."""
    named = [package.get(key) for key in ("types", "typings", "module", "main")]
    exports = package.get("exports")
    if isinstance(exports, dict):
        exports = exports.get(".", exports)
    pending = [exports]
    while pending:
        value = pending.pop()
        if isinstance(value, dict):
            pending += [v for k, v in value.items() if not k.startswith("./")]
        else:
            named.append(value)
    return _stems({_STEM.sub("", str(PurePosixPath(n))) for n in named if isinstance(n, str)} or {"index"})


def _stems(stems: set[str]) -> set[str]:
    """With what a source folder in their place holds."""
    tails = {stem.partition("/")[2] if stem.partition("/")[0] in _SOURCE_FOLDERS else stem for stem in stems}
    return stems | tails | {f"{folder}/{tail}" for folder in _SOURCE_FOLDERS for tail in tails}


def _path_aliases(folder: str, files: list[str], read: Callable[[str], str]) -> list[str]:
    """``pattern=target`` of the compiler's ``paths`` option, relative to the package's folder."""
    base = "" if folder == "." else folder + "/"
    for name in ("tsconfig.json", "jsconfig.json"):
        if base + name in files:
            options = _read_json(read(base + name)).get("compilerOptions", {})
            root = str(options.get("baseUrl", ".")).strip("./")
            found = []
            for pattern, targets in (options.get("paths") or {}).items():
                if isinstance(targets, list) and targets:
                    target = str(targets[0]).removeprefix("./")
                    found.append(f"{pattern}={root + '/' if root else ''}{target}")
            return found
    return []


def _read_json(text: str) -> Package:
    """JSON with comments and trailing commas, as compilers' configuration files have them."""
    try:
        data = json.loads(text)
    except FALLS:
        try:
            data = json.loads(_LAST_COMMA.sub("", _LINE_COMMENT.sub(lambda m: m[1] or "", text)))
        except FALLS:
            return {}
    return data if isinstance(data, dict) else {}
