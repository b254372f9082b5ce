"""What a grammar could not read of a file, told and kept."""

from __future__ import annotations

import msgspec

from zarbek.core.model.finding import Finding
from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import SourceTree, first_error, line_of, unread_words


def with_unread(reading: SourceReading, tree: SourceTree) -> SourceReading:
    """The reading with the words that stand in what could not be read."""
    words = unread_words(tree) if reading.parts else []
    if words:
        part = reading.parts[0]
        made = sorted({*part.scope.made, *words})
        reading.parts[0] = msgspec.structs.replace(part, scope=msgspec.structs.replace(part.scope, made=made))
    return reading


def unread_parts(tree: SourceTree, source: SourceFile) -> list[Finding]:
    """text/unreadable for the first place that the grammar could not read."""
    error = first_error(tree.root) if tree.root.has_error else None
    if error is None:
        return []
    line = line_of(error)
    shown = tree.lines[line - 1].strip()[:80] if line <= len(tree.lines) else ""
    return [
        Finding(
            "text/unreadable", "note", source.module or source.file,
            f"Part of {source.file} could not be read, from line {line} on; the rest was.",
            file=source.file, line=line, text=shown,
        )
    ]  # fmt: skip
