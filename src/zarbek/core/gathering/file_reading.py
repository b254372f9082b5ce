"""Source files to encoded readings, over all cores, with a cache by content."""

from __future__ import annotations

import gc
import multiprocessing
import os
import signal
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import BrokenExecutor, ProcessPoolExecutor
from contextlib import contextmanager
from hashlib import sha256
from pathlib import Path

import msgspec

from zarbek.core.findings.text_rules import ConditionalFinding, check_symbols, doubted_keywords, doubted_options
from zarbek.core.findings.undocumented import asked_of
from zarbek.core.gathering.body_digests import with_bodies
from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.material.processes import start_clean
from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import GENERATED
from zarbek.core.sources.interfaces import registry as interfaces
from zarbek.core.sources.languages.reading import GroupNote, Keywords, ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.registry import read_source
from zarbek.core.sources.source_text import FALLS, UnreadableText, is_generated

#: Raise when a change of the readers makes cached readings wrong.
READER_VERSION = 81
MAX_FILE_BYTES = 8 * 2**20
MAX_LINE_BYTES = 100_000
MAX_READ_S = 60
#: Descriptions are one file each, however large what they describe is.
MAX_INTERFACE_BYTES = 96 * 2**20
MAX_INTERFACE_S = 300
_FEW = 24
#: A reading that has not come after so many limits will not: others of its batch stand before it.
_PATIENCE = 3
#: Of many files so many go to a process at a time.
_MANY, _BATCH = 400, 4
_COLLECT_EVERY = 400
_read_here = 0
#: The root folder and a file below it.
Task = tuple[str, SourceFile]


class FileReading(msgspec.Struct, frozen=True, omit_defaults=True):
    """One file as the bundle needs it: symbols encoded, with what the other files ask of it.

    paths, kinds, described: of the symbols, in order; described is whether they have text. asked: indexes
    of those on which readers expect one.
    unsettled, extends, templates, expansions, names, opened, keywords, groups: as in SourceReading. doubted:
    findings that only the whole project can decide on. is_generated: whether a tool has written it.
    """

    file: str
    language: str
    symbols: list[bytes]
    paths: list[str]
    kinds: list[str]
    described: list[bool]
    parts: list[ModulePart]
    findings: list[Finding] = []
    asked: list[int] = []
    unsettled: list[int] = []
    extends: list[tuple[str, str]] = []
    templates: dict[str, list[int]] = {}
    expansions: list[tuple[str, str]] = []
    names: list[tuple[str, str]] = []
    opened: list[tuple[str, str]] = []
    keywords: dict[str, Keywords] = {}
    groups: list[GroupNote] = []
    is_generated: bool = False
    doubted: list[ConditionalFinding] = []


def read_files(
    root: Path, sources: list[SourceFile], cache: dict[str, bytes], *, progress: Callable[[int, int], None],
    is_guarded: bool = False,
) -> tuple[list[FileReading], dict[str, bytes]]:  # fmt: skip
    """Readings in the order of sources, and the cache of exactly these files.

    cache: key of a file's content and name to its encoded reading. is_guarded: read even a few files in
    processes that can be ended, where nobody vouches for them.
    """
    decoder = msgspec.msgpack.Decoder(FileReading)
    keys = [_key(root, source) for source in sources]
    missing = [s for s, key in zip(sources, keys, strict=True) if key not in cache]
    fresh = dict(zip((s.file for s in missing), _read_missing(root, missing, progress, is_guarded), strict=True))
    kept = {k: fresh.get(s.file) or cache[k] for s, k in zip(sources, keys, strict=True)}
    return [decoder.decode(kept[key]) for key in keys], kept


def _key(root: Path, source: SourceFile) -> str:
    try:
        content = (root / source.file).read_bytes()
    except OSError as error:
        content = str(error).encode()
    return sha256(content + b"\0" + msgspec.json.encode(source) + str(READER_VERSION).encode()).hexdigest()


def _read_missing(
    root: Path, sources: list[SourceFile], progress: Callable[[int, int], None], is_guarded: bool
) -> Iterator[bytes]:
    tasks = [(str(root), source) for source in sources]
    is_apart = is_guarded or (len(tasks) >= _FEW and (os.cpu_count() or 1) > 1)
    if not is_apart or os.name != "posix" or multiprocessing.current_process().daemon:
        for done, task in enumerate(tasks, start=1):
            yield read_one(task)
            progress(done, len(tasks))
        return
    done = 0
    while done < len(tasks):
        size = _BATCH if len(tasks) - done > _MANY else 1
        for reading in _read_apart(tasks[done:], size):
            done += 1
            yield reading
            progress(done, len(tasks))


def _read_apart(tasks: list[Task], size: int) -> Iterator[bytes]:
    """Readings in the order of tasks, by processes beside one another that take so many files at a time.

    A file that keeps its reader beyond every limit, deaf to it, or that ends its process is left out. The
    readings end there, or before the batch in which such a file stands.
    """
    workers = 1 if len(tasks) < _FEW else min(os.cpu_count() or 1, 8)
    pool = ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("fork"), initializer=_begin)
    batches = [tasks[at : at + size] for at in range(0, len(tasks), size)]
    try:
        for batch, found in zip(batches, [pool.submit(_read_batch, b) for b in batches], strict=True):
            try:
                yield from found.result(timeout=sum(_PATIENCE * _limit_of(source) for _, source in batch))
            except (TimeoutError, BrokenExecutor) as error:
                if size > 1:
                    yield from _read_apart(batch, 1)
                else:
                    yield _left_out(batch[0][1], _why(error, batch[0][1]), 1)
                return
    finally:
        _end(pool)


def _end(pool: ProcessPoolExecutor) -> None:
    """Its processes end at once, whatever they are at: their results are here, or nobody wants them."""
    processes = list((pool._processes or {}).values())
    pool.shutdown(wait=False, cancel_futures=True)
    for process in processes:
        process.kill()
    for process in processes:
        process.join()


def _why(error: BaseException, source: SourceFile) -> str:
    if isinstance(error, BrokenExecutor):
        return "reading it ended the process that read it"
    return f"reading it takes longer than {_limit_of(source):g} s"


def _limit_of(source: SourceFile) -> float:
    return MAX_INTERFACE_S if source.language in interfaces.READ else MAX_READ_S


def _read_batch(tasks: list[Task]) -> list[bytes]:
    readings = [read_one(task) for task in tasks]
    global _read_here
    _read_here += len(tasks)
    if _read_here >= _COLLECT_EVERY:
        _read_here = 0
        gc.collect()
    return readings


def _begin() -> None:
    start_clean()
    gc.disable()  # Trees and readings die by themselves; what does not is collected now and then.


def read_one(task: Task) -> bytes:
    """One encoded FileReading; a file that cannot be read gives a finding, never an error."""
    root, source = task
    is_interface = source.language in interfaces.READ
    try:
        data = _load(Path(root, source.file), is_interface=is_interface)
        with _time_limit(MAX_INTERFACE_S if is_interface else MAX_READ_S):
            if is_interface:
                reading = interfaces.read_interface(data, source, _reader_of(Path(root), source))
            else:
                reading = read_source(data, source)
                if is_generated(data, source.file):
                    is_left_out = source.options.get("generated") == ["no"]
                    reading = _only_names(reading) if is_left_out else _marked(reading)
    except UnreadableText as error:
        return _left_out(source, str(error), error.line)
    except SyntaxError as error:
        return _left_out(source, f"it is no valid Python: {error.msg}", error.lineno or 1)
    except FALLS as error:
        return _left_out(source, f"it cannot be parsed: {type(error).__name__} {error}".strip(), 1)
    reading.symbols[:] = with_bodies(data, reading.symbols)
    return msgspec.msgpack.encode(_encoded(source, reading))


def _marked(reading: SourceReading) -> SourceReading:
    """What a tool has written: an API like any other, with texts that nobody mends where they stand."""
    reading.symbols[:] = [
        msgspec.structs.replace(s, flags=[*s.flags, GENERATED]) if s.kind not in MODULE_KINDS
        else msgspec.structs.replace(s, doc=None, mentions=[])  # The mark of the tool is no text of a package.
        for s in reading.symbols
    ]  # fmt: skip
    reading.findings.clear()
    return reading


def _only_names(reading: SourceReading) -> SourceReading:
    """Nothing of a file but which names it declares: who names them means something that is there."""
    names = sorted({s.name for s in reading.symbols})
    parts = [ModulePart(Scope(p.scope.file, p.scope.module, language=p.scope.language, made=names))
             for p in reading.parts[:1]]  # fmt: skip
    return SourceReading(parts=parts)


@contextmanager
def _time_limit(limit_s: float) -> Iterator[None]:
    """Give a file up that takes too much of the processor's time: on a busy machine, waiting is no fault of the
    file. Signals reach the main thread only; elsewhere the grammar's own bound holds."""
    if threading.current_thread() is not threading.main_thread() or not hasattr(signal, "setitimer"):
        yield
        return

    def stop(_number: int, _frame: object) -> None:
        raise UnreadableText(f"reading it takes longer than {limit_s:g} s", 1)

    before = signal.signal(signal.SIGPROF, stop)
    signal.setitimer(signal.ITIMER_PROF, limit_s)
    try:
        yield
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)
        signal.signal(signal.SIGPROF, before)


def _reader_of(root: Path, source: SourceFile) -> Callable[[str], bytes | None]:
    """Reads other files below a folder, whatever way is written to them, and what was fetched for it."""
    base = root.resolve()
    brought = {entry.rpartition("=")[2] for entry in source.options.get("remote", [])}

    def read(file: str) -> bytes | None:
        if file in brought:
            return _load(Path(file), is_interface=True)
        path = Path(base, file)
        if path.is_symlink() or not path.is_file() or not path.resolve().is_relative_to(base):
            return None
        return _load(path, is_interface=True)

    return read


def _load(path: Path, *, is_interface: bool = False) -> bytes:
    limit = MAX_INTERFACE_BYTES if is_interface else MAX_FILE_BYTES
    if path.stat().st_size > limit:
        raise UnreadableText(f"it is larger than {limit // 2**20} MiB", 1)
    data = path.read_bytes()
    if len(data) > MAX_LINE_BYTES and not is_interface:
        for number, line in enumerate(data.split(b"\n"), start=1):
            if len(line) > MAX_LINE_BYTES:
                raise UnreadableText(f"a line is longer than {MAX_LINE_BYTES:,} characters", number)
    return data


def _left_out(source: SourceFile, reason: str, line: int) -> bytes:
    finding = Finding(
        "text/unreadable", "warning", source.module or source.file, f"The file was left out: {reason}.",
        file=source.file, line=line,
    )  # fmt: skip
    part = ModulePart(Scope(source.file, source.module, language=source.language))
    return msgspec.msgpack.encode(_encoded(source, SourceReading(parts=[part], findings=[finding])))


def _encoded(source: SourceFile, reading: SourceReading) -> FileReading:
    encode = msgspec.json.Encoder().encode
    mended = [s for s in reading.symbols if GENERATED not in s.flags]
    written = {index for indexes in reading.templates.values() for index in indexes}
    return FileReading(
        file=source.file, language=source.language,
        symbols=[encode(s) for s in reading.symbols],
        paths=[s.path for s in reading.symbols], kinds=[s.kind for s in reading.symbols],
        described=[s.doc is not None and bool(s.doc.summary or s.doc.body) for s in reading.symbols],
        parts=_with_defined(reading), findings=[*reading.findings, *check_symbols(mended, reading.left_out)],
        asked=[index for index in asked_of(reading.symbols) if index not in written],
        unsettled=reading.unsettled, extends=reading.extends,
        templates=reading.templates,
        expansions=reading.expansions, names=reading.names, opened=reading.opened,
        keywords=reading.keywords, groups=reading.groups, is_generated=len(mended) < len(reading.symbols),
        doubted=[*doubted_keywords(mended, reading.keywords), *doubted_options(mended)],
    )  # fmt: skip


def _with_defined(reading: SourceReading) -> list[ModulePart]:
    """The parts with the names that their modules' top levels define here."""
    defined: dict[str, list[str]] = {}
    for symbol in reading.symbols:
        defined.setdefault(key_of(symbol.parent), []).append(symbol.name)
    return [msgspec.structs.replace(p, defined=defined.get(key_of(p.scope.module), [])) for p in reading.parts]
