"""Groups of documentation over all files: what they hold, and those that no file describes."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable

import msgspec

from zarbek.core.gathering.file_reading import FileReading
from zarbek.core.model.naming import topic_path
from zarbek.core.model.symbol import Symbol


def held_by_group(readings: Iterable[FileReading], known: Collection[str]) -> dict[str, list[str]]:
    """Path of a group to those of its elements, in the order of files and lines. known: paths of the project."""
    held: dict[str, dict[str, None]] = defaultdict(dict)
    for reading in readings:
        for note in reading.groups:
            if note.member in known:
                held[topic_path(note.group)][note.member] = None
    return {path: [m for m in members if m != path] for path, members in held.items()}


def undescribed_groups(readings: Iterable[FileReading], known: Collection[str]) -> list[Symbol]:
    """Those to which elements say that they belong, while what describes them was not gathered.

    Each is called what most references call it, those first that begin like a title; else by its identifier.
    """
    labels: dict[str, Counter[str]] = defaultdict(Counter)
    found: dict[str, Symbol] = {}
    for reading in readings:
        for note in reading.groups:
            path = topic_path(note.group)
            if note.label:
                labels[path][note.label] += 1
            elif note.member in known and path not in known and path not in found:
                found[path] = Symbol(
                    path=path, name=note.group, kind="topic", language=reading.language, module=path,
                    file=reading.file, line=note.line, end_line=note.line,
                )  # fmt: skip
    return [_called(group, labels.get(path)) for path, group in found.items()]


def _called(group: Symbol, labels: Counter[str] | None) -> Symbol:
    if not labels:
        return group
    title = max(labels, key=lambda label: (label[0].isupper(), labels[label], len(label), label))
    return msgspec.structs.replace(group, name=title)
