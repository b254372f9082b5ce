"""Which files of a source are read, in which language, and what module each of them is."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable, Iterable
from functools import cache
from pathlib import PurePosixPath

import msgspec

from zarbek.core.sources.languages.cpp.macros import collect_macros
from zarbek.core.sources.languages.ecmascript.packages import locate_ecmascript
from zarbek.core.sources.languages.python.modules import ModuleFile, locate_modules
from zarbek.core.sources.languages.reading import SourceFile, nearest_folder
from zarbek.core.sources.languages.registry import language_of
from zarbek.core.sources.languages.rust.crates import locate_rust

Read = Callable[[str], str]
_TEST_FILES = re.compile(r"(?:_test\.go|[._](?:test|spec)\.[cm]?[jt]sx?|\.min\.[cm]?js)$", re.I)
#: What a class of this name imports if it is a test, and no test of statistics.
_TEST_CLASS = re.compile(r"Tests?\.java$")
_TEST_IMPORT = re.compile(r"^import\s+(?:static\s+)?(?:org\.)?(?:junit|testng|hamcrest|mockito)\b", re.MULTILINE)
_TEST_FOLDERS = re.compile(r"(?:^|/)(?:testdata|__tests__|benches|obj|target)/")


def _is_test(file: str, read: Read) -> bool:
    if _TEST_FILES.search(file) or _TEST_FOLDERS.search(file):
        return True
    return _TEST_CLASS.search(file) is not None and _TEST_IMPORT.search(read(file)) is not None


def locate_sources(
    files: list[str], read: Read, languages: Iterable[str], options: dict[str, list[str]], *, with_tests: bool = False
) -> list[SourceFile]:
    """The source files, sorted.

    files: all of the source, relative. read: text of one of them. languages: those wanted,
    empty for all. options: given to every reader.
    """
    by_language = _by_language(files, read, languages, with_tests=with_tests)
    modules = locate_modules(by_language.get("python", []), files, only_installed=not with_tests)
    found = [_python(m) for m in _prefer_sources(modules)]
    found += _locate_go(by_language.get("go", []), files, read)
    found += locate_rust(by_language.get("rust", []), files, read)
    found += _locate_cpp(by_language.get("c", []), by_language.get("cpp", []), read, options)
    found += locate_ecmascript(by_language.get("typescript", []), by_language.get("javascript", []), files, read)
    found += [SourceFile(file, language) for language in _PLAIN for file in by_language.get(language, [])]
    if options:
        found = [msgspec.structs.replace(s, options={**options, **s.options}) for s in found]
    return sorted(found, key=lambda s: s.file)


#: Languages of which each file says itself where it belongs.
_PLAIN = ("java", "kotlin", "csharp")


def _by_language(
    files: list[str], read: Read, languages: Iterable[str], *, with_tests: bool = False
) -> dict[str, list[str]]:
    """The files of each language that is wanted; whoever wants C wants what turns out to be C++, and the other way."""
    wanted = set(languages)
    if wanted & {"c", "cpp"}:
        wanted |= {"c", "cpp"}
    found: dict[str, list[str]] = {}
    for file in files:
        language = language_of(file)
        if language and (not wanted or language in wanted) and (with_tests or not _is_test(file, read)):
            found.setdefault(language, []).append(file)
    return found


def _python(module: ModuleFile) -> SourceFile:
    return SourceFile(module.file, "python", module.module, module.is_package, module.is_stub)


def _prefer_sources(modules: list[ModuleFile]) -> list[ModuleFile]:
    """One file a module: a source before its stub, for the source has the documentation."""
    chosen: dict[str, ModuleFile] = {}
    for module in sorted(modules, key=lambda m: (m.is_stub, not m.is_package, m.file)):
        chosen.setdefault(module.module, module)
    return sorted(chosen.values(), key=lambda m: m.file)


def _name_of(macro: str) -> str:
    return macro.partition("=")[0].partition("(")[0]


def _locate_cpp(c: list[str], cpp: list[str], read: Read, options: dict[str, list[str]]) -> list[SourceFile]:
    """Headers and bodies; what the project's macros hide is told to each of them. Where some lie in a folder
    ``include``, by custom the others are for the project itself."""
    declared = options.get("macros", [])
    named = {_name_of(entry) for entry in declared}
    collected = [m for m in collect_macros([*c, *cpp], read) if _name_of(m) not in named] if c or cpp else []
    macros = [*declared, *collected]
    given = {"macros": macros} if macros else {}
    inner = {**given, "inner": ["yes"]}
    is_mixed = bool(cpp)
    offered = {f for f in (*c, *cpp) if "include" in PurePosixPath(f).parts[:-1]}
    return [
        SourceFile(
            f, "cpp" if is_mixed and not f.endswith((".h", ".c")) else "c",
            options=given if f in offered or not offered else inner,
        )
        for f in [*c, *cpp]
    ]  # fmt: skip


# Go: modules and packages (Go Modules Reference; Go specification, "Packages") ------------


def _locate_go(own: list[str], files: list[str], read: Read) -> list[SourceFile]:
    if not own:
        return []
    roots = {}
    for file in files:
        if file.rpartition("/")[2] == "go.mod":
            match = re.search(r"^[ \t]*module\s+\"?([^\s\"]+)", read(file), re.MULTILINE)
            if match:
                roots[str(PurePosixPath(file).parent)] = match[1]
    package_of = cache(lambda folder: _go_package(PurePosixPath(folder), roots))
    found = []
    for file in own:
        name, root = package_of(posixpath.dirname(file))
        found.append(SourceFile(file, "go", name, options={"root": [root]}))
    return found


def _go_package(folder: PurePosixPath, roots: dict[str, str]) -> tuple[str, str]:
    """The path of the package in a folder, and that of its module. roots: folder of a module to its path."""
    root, module = nearest_folder(folder, roots)
    rest = str(folder.relative_to(root)) if root else str(folder)
    module = "" if module == "std" else module  # The standard library's packages have no prefix.
    name = "/".join(part for part in (module, rest) if part and part != ".")
    return name or "main", module or name.partition("/")[0]
