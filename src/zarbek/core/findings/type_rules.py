"""Types in texts that were true when they were written."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator

from zarbek.core.changes.compatibility_rules import callers_of
from zarbek.core.changes.types import direction_of
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doc_text import DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Symbol

_WORD = re.compile(r"[A-Za-z_]\w*")


def check_types(now: Symbol, then: Symbol, version: str, aliases: Collection[str] = ()) -> list[Finding]:
    """stale/type: a type that the text gives, that the signature had in the version for which the
    text was written, and that it has no more. A text that was wrong from the start is another rule's.

    aliases: names of the project for other types: what they stand for may be what the text gives.
    """
    if now.doc is None or not now.signatures or not then.signatures:
        return []
    return [
        Finding(
            "stale/type", "warning", now.path,
            f"The text gives {name} as {field.type}; so did the signature until {version}. It says {declared} now.",
            file=now.file, line=field.line, text=field.type, target=now.path, suggestion=declared,
            why="the signature's own type", certain=True,
            fingerprint=fingerprint("stale/type", now.path, field.name or "returns"),
        )
        for name, field, before, declared in _pairs(now, then)
        if field.type and declared and _plain(field.type) == _plain(before)
        and _is_another(before, declared, now.language) and not any(w in aliases for w in _WORD.findall(declared))
    ]  # fmt: skip


def _pairs(now: Symbol, then: Symbol) -> Iterator[tuple[str, DocField, str, str]]:
    """(what it is, the text's field, the type declared then, the type declared now)."""
    doc = now.doc
    if doc is None:
        return
    declared = {p.name: p.type for s in now.signatures for p in s.parameters}
    before = {p.name: p.type for s in then.signatures for p in s.parameters}
    for field in doc.parameters:
        name = field.name.lstrip("*")
        if name in declared and name in before:
            yield name, field, before[name], declared[name]
    if len(doc.returns) == 1:
        yield "the result", doc.returns[0], then.signatures[0].returns, now.signatures[0].returns


def _is_another(before: str, now: str, language: str) -> bool:
    """Whether two spellings are of two types (``Optional[int]`` is ``int | None``), and not one that may be absent
    now."""
    callers = callers_of(language)
    return all(direction_of(old, now, callers) != "same" for old in (before, f"{before} | None"))


def _plain(text: str) -> str:
    return "".join(text.split()).strip("`")
