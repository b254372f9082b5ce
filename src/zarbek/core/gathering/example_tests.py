"""The examples among a project's tests, with how they went."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

import msgspec
from pathspec import GitIgnoreSpec

from zarbek.core.errors import UnreadableText
from zarbek.core.gathering.file_reading import MAX_FILE_BYTES, FileReading
from zarbek.core.material.folder import Folder, list_files, list_named
from zarbek.core.model.bundle import Scope
from zarbek.core.model.example import Verdict
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_FILE
from zarbek.core.sources.examples.discovery import CUSTOMARY, FOREIGN, holds_marks, holds_tests, locate_tests
from zarbek.core.sources.examples.reader import TESTS
from zarbek.core.sources.examples.settings import ExampleSettings
from zarbek.core.sources.examples.verdicts import Verdicts
from zarbek.core.sources.junit import Case, read_cases
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import language_of
from zarbek.core.sources.project_file import ProjectFile

MAX_RESULT_BYTES = 64 * 2**20


@dataclass(slots=True)
class Examples:
    """What tests add to a bundle. scopes: what names mean in their files."""

    symbols: list[bytes] = field(default_factory=list)
    verdicts: list[Verdict] = field(default_factory=list)
    scopes: list[Scope] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)


def find_test_sources(folder: Folder, project: ProjectFile, files: list[str]) -> list[SourceFile]:
    """The files whose tests may be examples. files: those of the sources."""
    settings = project.examples
    listed = (
        list_named(folder, CUSTOMARY, skip=FOREIGN) if settings.tests is None
        else list_files(folder, include=settings.tests)
    )  # fmt: skip
    left_out = GitIgnoreSpec.from_lines(project.exclude)
    tests = [f for f in listed if language_of(f) and len(f) <= MAX_FILE and not left_out.match_file(f)]
    tests = [f for f in tests if _may_show(_begin(folder, f), settings)]
    inline = list(_with_inline_tests(folder, files, settings))
    if not tests and not inline:
        return []
    found = locate_tests(sorted({*tests, *inline}), files, folder.read_text, project.languages)
    return [msgspec.structs.replace(s, options={**s.options, TESTS: settings.shown}) for s in found]


def _with_inline_tests(folder: Folder, files: list[str], settings: ExampleSettings) -> Iterator[str]:
    for file in files:
        if file.endswith(".rs"):
            begin = _begin(folder, file)
            if holds_tests(begin) and _may_show(begin, settings):
                yield file


def _may_show(begin: bytes, settings: ExampleSettings) -> bool:
    return bool(settings.shown) or holds_marks(begin)


def _begin(folder: Folder, file: str) -> bytes:
    return folder.read_begin(file, MAX_FILE_BYTES)


def join_examples(
    folder: Folder, settings: ExampleSettings, readings: list[FileReading], known: Iterable[str]
) -> Examples:  # fmt: skip
    """What was read of the tests, with their verdicts. known: files whose names are in scopes already."""
    found = Examples()
    held = set(known)
    found.scopes = [part.scope for r in readings for part in r.parts if part.scope.file not in held and r.symbols]
    found.findings = [f for r in readings for f in r.findings]
    cases = list(_cases(folder, settings, found.findings))
    found.symbols = [line for r in readings for line in r.symbols]
    symbols = list(map(_DECODER.decode, found.symbols))
    names = Counter(symbol.name for symbol in symbols)
    verdicts = Verdicts(cases)
    for symbol in symbols:
        verdict = verdicts.of(symbol.path, is_only=names[symbol.name] == 1)
        found.verdicts.append(verdict)
        if verdict.state == "failed":
            found.findings.append(_failed(symbol, verdict))
    return found


class _Titled(msgspec.Struct):
    title: str


class _Told(msgspec.Struct):
    """What verdicts ask of an example."""

    path: str
    name: str
    example: _Titled
    file: str = ""
    line: int = 0


_DECODER = msgspec.json.Decoder(_Told)


def _failed(symbol: _Told, verdict: Verdict) -> Finding:
    title = symbol.example.title
    said = f": {verdict.told}" if verdict.told else ""
    return Finding(
        "stale/verdict", "warning", symbol.path, f"The example “{title}” failed when it was run last{said}.",
        file=symbol.file, line=symbol.line, text=symbol.name, target=symbol.path,
    )  # fmt: skip


def _cases(folder: Folder, settings: ExampleSettings, findings: list[Finding]) -> Iterator[Case]:
    for file in list_files(folder, include=settings.results) if settings.results else ():
        try:
            if folder.size(file) > MAX_RESULT_BYTES:
                raise UnreadableText(f"it is larger than {MAX_RESULT_BYTES // 2**20} MiB", 1)
            yield from read_cases(folder.read(file).decode("utf-8", errors="replace"))
        except UnreadableText as error:
            findings.append(
                Finding("text/unreadable", "warning", file, f"The file was left out: {error}.", subject_kind="page",
                        file=file[:MAX_FILE], line=error.line)
            )  # fmt: skip
