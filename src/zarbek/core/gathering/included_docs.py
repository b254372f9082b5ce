"""Documentation that stands in files of its own, which sources name."""

from __future__ import annotations

import re
from posixpath import dirname, join, normpath

import msgspec

from zarbek.core.material.folder import Folder
from zarbek.core.sources.languages.reading import SourceFile

#: The value of an attribute ``doc`` that is the text of a file (The Rust Reference, "The include macros").
_NAMED = re.compile(rb'\bdoc\s*=\s*include_str!\s*[(\[{]\s*r?#*"([^"\n]+)"')
_MOST_SOURCE_BYTES, _MOST_BYTES = 8 * 2**20, 2**20


def with_included(folder: Folder, source: SourceFile) -> SourceFile:
    """The source with the texts that it names, as far as they are files below the folder."""
    data = folder.read_within(source.file, _MOST_SOURCE_BYTES) or b""  # Its reader tells what cannot be read.
    names = {match.decode(errors="replace") for match in _NAMED.findall(data)}
    texts = {name: _text(folder, normpath(join(dirname(source.file), name))) for name in sorted(names)}
    found = {name: text for name, text in texts.items() if text}
    return msgspec.structs.replace(source, included=found) if found else source


def _text(folder: Folder, file: str) -> str:
    data = folder.read_within(file, _MOST_BYTES)
    return data.decode("utf-8", errors="replace") if data is not None else ""
