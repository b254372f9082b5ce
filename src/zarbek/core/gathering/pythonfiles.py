"""Python files to encoded readings, over all cores, with a cache by content."""

from __future__ import annotations

import gc
import multiprocessing
import os
from collections.abc import Callable, Iterator
from hashlib import sha256
from pathlib import Path

import msgspec

from zarbek.core.findings.textrules import check_symbols
from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.sources.languages.python.modules import ModuleFile
from zarbek.core.sources.languages.python.reader import ModuleReading, read_module
from zarbek.core.sources.source_text import UnreadableText, decode_python

#: Raise when a change of the readers makes cached readings wrong.
READER_VERSION = 6
MAX_FILE_BYTES = 8 * 2**20
MAX_LINE_CHARS = 100_000
_FEW = 24


class FileReading(msgspec.Struct, frozen=True, omit_defaults=True):
    """One file as the bundle needs it: symbols encoded, with what the other files ask of it.

    paths, kinds: of the symbols, in order. defined: names of the module's top level.
    """

    module: str
    is_package: bool
    symbols: list[bytes]
    paths: list[str]
    kinds: list[str]
    defined: list[str]
    scope: Scope
    aliases: list[tuple[str, str]] = []
    exported: list[str] | None = None
    findings: list[Finding] = []


def read_files(
    root: Path, modules: list[ModuleFile], cache: dict[str, bytes], *, progress: Callable[[int, int], None]
) -> tuple[list[FileReading], dict[str, bytes]]:
    """Readings in the order of modules, and the cache of exactly these files.

    cache: key of a file's content and name to its encoded reading.
    """
    decoder = msgspec.msgpack.Decoder(FileReading)
    keys = [_key(root, module) for module in modules]
    missing = [m for m, key in zip(modules, keys, strict=True) if key not in cache]
    fresh = dict(zip((m.file for m in missing), _read_missing(root, missing, progress), strict=True))
    kept = {k: fresh.get(m.file) or cache[k] for m, k in zip(modules, keys, strict=True)}
    return [decoder.decode(kept[key]) for key in keys], kept


def _key(root: Path, module: ModuleFile) -> str:
    try:
        content = (root / module.file).read_bytes()
    except OSError as error:
        content = str(error).encode()
    return sha256(content + f"\0{module.file}\0{module.module}\0{READER_VERSION}".encode()).hexdigest()


def _read_missing(root: Path, modules: list[ModuleFile], progress: Callable[[int, int], None]) -> Iterator[bytes]:
    tasks = [(str(root), module) for module in modules]
    workers = min(os.cpu_count() or 1, 8)
    if len(tasks) < _FEW or workers == 1 or multiprocessing.current_process().daemon:
        for done, task in enumerate(tasks, start=1):
            yield read_one(task)
            progress(done, len(tasks))
        return
    context = multiprocessing.get_context("fork" if os.name == "posix" else "spawn")
    with context.Pool(workers, initializer=gc.disable, maxtasksperchild=400) as pool:
        for done, reading in enumerate(pool.imap(read_one, tasks, chunksize=4), start=1):
            yield reading
            progress(done, len(tasks))


def read_one(task: tuple[str, ModuleFile]) -> bytes:
    """One encoded FileReading; a file that cannot be read gives a finding, never an error."""
    root, module = task
    try:
        source = _load(Path(root, module.file))
        reading = read_module(source, file=module.file, module=module.module, is_package=module.is_package)
    except UnreadableText as error:
        reading = _unreadable(module, str(error), error.line)
    except SyntaxError as error:
        reading = _unreadable(module, f"it is no valid Python: {error.msg}", error.lineno or 1)
    except (ValueError, RecursionError, MemoryError) as error:
        reading = _unreadable(module, f"it cannot be parsed: {type(error).__name__} {error}".strip(), 1)
    return msgspec.msgpack.encode(_encoded(module, reading))


def _load(path: Path) -> str:
    if path.stat().st_size > MAX_FILE_BYTES:
        raise UnreadableText(f"it is larger than {MAX_FILE_BYTES // 2**20} MiB", 1)
    source = decode_python(path.read_bytes())
    if len(source) > MAX_LINE_CHARS:
        for number, line in enumerate(source.split("\n"), start=1):
            if len(line) > MAX_LINE_CHARS:
                raise UnreadableText(f"a line is longer than {MAX_LINE_CHARS:,} characters", number)
    return source


def _unreadable(module: ModuleFile, reason: str, line: int) -> ModuleReading:
    finding = Finding(
        "text/unreadable", "warning", module.module, f"The file was left out: {reason}.",
        file=module.file, line=line,
    )  # fmt: skip
    return ModuleReading(scope=Scope(module.file, module.module), findings=[finding])


def _encoded(module: ModuleFile, reading: ModuleReading) -> FileReading:
    encode = msgspec.json.Encoder().encode
    findings = [*reading.findings, *check_symbols(reading.symbols)]
    prefix = module.module + "."
    start = len(prefix)
    paths = [s.path for s in reading.symbols]
    return FileReading(
        module=module.module, is_package=module.is_package,
        symbols=[encode(s) for s in reading.symbols], paths=paths,
        kinds=[s.kind for s in reading.symbols],
        defined=[p[start:] for p in paths if p.startswith(prefix) and "." not in p[start:]],
        scope=reading.scope, aliases=reading.aliases, exported=reading.exported, findings=findings,
    )  # fmt: skip
