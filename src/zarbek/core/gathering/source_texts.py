"""The files of a source as readers see them beside its reference."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

import msgspec

from zarbek.core.material.folder import Folder
from zarbek.core.material.unchanged import Unchanged
from zarbek.core.model.source_text import MAX_SOURCE_BYTES, Shown, SourceText
from zarbek.core.model.visibility import KEPT_LEVELS
from zarbek.core.sources.languages.reading import SourceFile

_ENCODE = msgspec.json.Encoder().encode


class _Seen(msgspec.Struct):
    """Of a symbol, whether readers see it, and where."""

    file: str = ""
    visibility: str = "public"


def source_lines(
    folder: Folder, sources: Iterable[SourceFile], symbols: Iterable[bytes], shown: Shown, known: Unchanged[bytes]
) -> Iterator[bytes]:
    """A line of JSON for each file that readers see, by its name; none for what is no text, or too long to be read.
    symbols: of the project, as lines of JSON. known: of the time before, which is brought up to date."""
    if shown == "none":
        return
    languages = {source.file: source.language for source in sources}
    files = set(languages) if shown == "all" else _public_files(symbols) & languages.keys()
    for file in sorted(files):
        language = languages[file]
        read = partial(_line_of, folder, file, language)
        line = known.of(folder, file, read, besides=language)
        if line:
            yield line


def _public_files(symbols: Iterable[bytes]) -> set[str]:
    decode = msgspec.json.Decoder(_Seen).decode
    return {seen.file for seen in map(decode, symbols) if seen.visibility not in KEPT_LEVELS}


def _line_of(folder: Folder, file: str, language: str) -> bytes:
    text = _text_of(folder, file)
    return _ENCODE(SourceText(file, language, text)) if text is not None else b""


def _text_of(folder: Folder, file: str) -> str | None:
    if not folder.exists(file) or not 0 < folder.size(file) <= MAX_SOURCE_BYTES:
        return None
    data = folder.read(file)
    return None if b"\0" in data else data.decode("utf-8", errors="replace").replace("\r\n", "\n")
