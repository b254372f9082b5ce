"""Source files to encoded readings, over all cores, with a cache by content."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, field
from functools import partial
from hashlib import sha256
from pathlib import Path

import msgspec

from zarbek.core.errors import TakesTooLong, UnreadableText
from zarbek.core.findings.text_rules import ConditionalFinding, check_symbols, doubted_keywords, doubted_options
from zarbek.core.findings.undocumented import asked_of
from zarbek.core.gathering.body_digests import with_bodies
from zarbek.core.gathering.source_flags import with_flags
from zarbek.core.gathering.text_uses import with_uses
from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.material.folder import Folder
from zarbek.core.material.unchanged import Unchanged
from zarbek.core.material.worker_pool import WorkerPool, time_limit
from zarbek.core.model.bundle import Scope
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_PATH
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import GENERATED, Symbol
from zarbek.core.sources.datamodels import registry as datamodels
from zarbek.core.sources.examples.reader import TESTS, read_examples
from zarbek.core.sources.interfaces import registry as interfaces
from zarbek.core.sources.languages.reading import (
    GroupNote,
    Keywords,
    ModulePart,
    SourceFile,
    SourceReading,
    drop_nameless,
)
from zarbek.core.sources.languages.registry import read_source
from zarbek.core.sources.source_text import FALLS, is_generated

#: Raise when a change of the readers makes cached readings wrong.
READER_VERSION = 105
MAX_FILE_BYTES = 8 * 2**20
MAX_LINE_BYTES = 100_000
MAX_READ_S = 60
#: Descriptions are one file each, however large what they describe is.
MAX_INTERFACE_BYTES = 96 * 2**20
MAX_INTERFACE_S = 300
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


_DECODER = msgspec.msgpack.Decoder(FileReading)


@dataclass(slots=True)
class KnownReadings:
    """What was read before, by a key of each file's content and name. encoded: as it is kept between processes.
    decoded: of those that one process has had, which it reads but never changes. digests: of contents, by file."""

    encoded: dict[str, bytes] = field(default_factory=dict)
    decoded: dict[str, FileReading] = field(default_factory=dict)
    digests: Unchanged[str] = field(default_factory=Unchanged)

    def get(self, key: str) -> FileReading:
        """Raises KeyError for what nobody has read."""
        if key not in self.decoded:
            self.decoded[key] = _DECODER.decode(self.encoded[key])
        return self.decoded[key]

    def keep(self, keys: Collection[str]) -> None:
        """Forget all others."""
        self.encoded = {key: self.encoded[key] for key in keys}
        self.decoded = {key: self.decoded[key] for key in keys}


def read_files(
    root: Path, sources: list[SourceFile], known: KnownReadings, *, progress: Callable[[int, int], None],
    is_guarded: bool = False,
) -> tuple[list[FileReading], list[str]]:  # fmt: skip
    """Readings in the order of sources, and their keys.

    known: what is read is added to it. is_guarded: read even a few files in processes that can be ended, where nobody
    vouches for them.
    """
    folder = Folder(root)
    digests = [known.digests.of(folder, s.file, partial(_digest, folder, s.file)) for s in sources]
    keys = [_key(digest, source) for digest, source in zip(digests, sources, strict=True)]
    missing = {key: s for s, key in zip(sources, keys, strict=True) if key not in known.encoded}
    read = _read_missing(root, list(missing.values()), progress, is_guarded)
    known.encoded.update(zip(missing, read, strict=True))
    return [known.get(key) for key in keys], keys


def _digest(folder: Folder, file: str) -> str:
    try:
        content = folder.read(file)
    except OSError as error:
        content = str(error).encode()
    return sha256(content).hexdigest()


def _key(digest: str, source: SourceFile) -> str:
    return sha256(f"{digest} {READER_VERSION} ".encode() + msgspec.json.encode(source)).hexdigest()


def _read_missing(
    root: Path, sources: list[SourceFile], progress: Callable[[int, int], None], is_guarded: bool
) -> Iterator[bytes]:
    pool = WorkerPool(_read_task, _limit_of, _lost)
    tasks = [(str(root), source) for source in sources]
    for done, reading in enumerate(pool.run(tasks, is_guarded=is_guarded), start=1):
        yield reading
        progress(done, len(tasks))


def _read_task(task: Task) -> bytes:
    return read_one(task)


def _limit_of(task: Task) -> float:
    return MAX_INTERFACE_S if task[1].language in interfaces.READ | datamodels.READ else MAX_READ_S


def _lost(task: Task, limit_s: float | None) -> bytes:
    dead = "reading it ended the process that read it"
    return _left_out(task[1], dead if limit_s is None else _too_slow(limit_s), 1)


def _too_slow(limit_s: float) -> str:
    return f"reading it takes longer than {limit_s:g} s"


def read_one(task: Task) -> bytes:
    """One encoded FileReading; a file that cannot be read gives a finding, never an error."""
    root, source = task
    is_interface = source.language in interfaces.READ | datamodels.READ
    try:
        folder = Folder(Path(root))
        data = _load(folder, source.file, is_interface=is_interface)
        limit_s = _limit_of(task)
        with time_limit(limit_s, TakesTooLong(_too_slow(limit_s))):
            if source.language in datamodels.READ:
                reading = datamodels.read_data(source, _reader_of(folder, source))
            elif is_interface:
                reading = interfaces.read_interface(data, source, _reader_of(folder, source))
            elif TESTS in source.options:
                reading = read_examples(data, source)
            else:
                reading = read_source(data, source)
                if source.language != "python":  # Its own parser goes on with nothing.
                    drop_nameless(reading)
                if is_generated(data, source.file):
                    is_left_out = source.options.get("generated") == ["no"]
                    reading = _only_names(reading) if is_left_out else _marked(reading)
    except TakesTooLong as error:
        return _left_out(source, str(error), 1)
    except UnreadableText as error:
        return _left_out(source, str(error), error.line)
    except SyntaxError as error:
        return _left_out(source, f"it is no valid Python: {error.msg}", error.lineno or 1)
    except FALLS as error:
        return _left_out(source, f"it cannot be parsed: {type(error).__name__} {error}".strip(), 1)
    if any(len(part.scope.module) > MAX_PATH for part in reading.parts):
        return _left_out(source, f"what it declares has a name longer than {MAX_PATH} characters", 1)
    if TESTS not in source.options:
        reading.symbols[:] = with_bodies(data, with_uses(with_flags(reading.symbols, data), data))
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


def _reader_of(folder: Folder, source: SourceFile) -> Callable[[str], bytes | None]:
    """Reads other files below a folder, whatever way is written to them, and what was fetched for it."""
    fetched = {entry.rpartition("=")[2] for entry in source.options.get("remote", [])}

    def read(file: str) -> bytes | None:
        return _load(folder, file, is_interface=True) if file in fetched or folder.holds(file) else None

    return read


def _load(folder: Folder, file: str, *, is_interface: bool = False) -> bytes:
    limit = MAX_INTERFACE_BYTES if is_interface else MAX_FILE_BYTES
    if folder.size(file) > limit:
        raise UnreadableText(f"it is larger than {limit // 2**20} MiB", 1)
    data = folder.read(file)
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
        parts=_with_defined(reading),
        findings=list(filter(is_kept, [*reading.findings, *check_symbols(mended, reading.left_out)])),
        asked=[index for index in asked_of(reading.symbols) if index not in written],
        unsettled=reading.unsettled, extends=reading.extends,
        templates=reading.templates,
        expansions=reading.expansions, names=reading.names, opened=reading.opened,
        keywords=reading.keywords, groups=reading.groups, is_generated=len(mended) < len(reading.symbols),
        doubted=_doubted(reading, mended),
    )  # fmt: skip


def _doubted(reading: SourceReading, mended: list[Symbol]) -> list[ConditionalFinding]:
    found = [*doubted_keywords(mended, reading.keywords), *doubted_options(mended)]
    return [doubted for doubted in found if is_kept(doubted.finding)]


def is_kept(finding: Finding) -> bool:
    """Whether it is about an element whose name can be kept: others are left out."""
    return len(finding.subject) <= MAX_PATH


def _with_defined(reading: SourceReading) -> list[ModulePart]:
    """The parts with the names that their modules' top levels define here."""
    defined: dict[str, list[str]] = {}
    for symbol in reading.symbols:
        defined.setdefault(key_of(symbol.parent), []).append(symbol.name)
    # With the first part of a module: a data model has one of each of its files, and all tables are in each.
    return [msgspec.structs.replace(p, defined=defined.pop(key_of(p.scope.module), [])) for p in reading.parts]
