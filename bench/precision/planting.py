"""Known faults, put into real sources: what is renamed, removed, deprecated or documented wrongly."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from zarbek.core.linking.linker import Link, Linker
from zarbek.core.model.mention import Mention
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import Symbol

#: What makes an element deprecated, written on the line before it.
_MARKS = {
    "python": '@deprecated("Out of use.")', "java": "@Deprecated", "kotlin": '@Deprecated("Out of use.")',
    "csharp": "[Obsolete]", "rust": "#[deprecated]", "cpp": "[[deprecated]]", "c": "[[deprecated]]",
}  # fmt: skip
_KINDS = frozenset({"function", "method", "class", "constant", "interface", "struct", "enum", "type", "trait", "macro"})
_CALLED = frozenset({"function", "method", "constructor"})
KINDS = ("renamed", "removed", "deprecated", "parameter renamed")


@dataclass(frozen=True, slots=True)
class Fault:
    """kind: one of KINDS. target: path of what was changed. rules: any of which tells it. subject: the text that
    is wrong now, by its path; text: what it says, as written."""

    kind: str
    target: str
    rules: tuple[str, ...]
    subject: str
    text: str


@dataclass(frozen=True, slots=True)
class Named:
    """A symbol and a text of another that clearly names it."""

    symbol: Symbol
    subject: Symbol
    mention: Mention


def find_named(symbols: Sequence[Symbol], linker: Linker) -> list[Named]:
    """Symbols of a release that its own texts name, each with the first such text, in the order of their paths.

    Only names that nothing else bears: another of its name would answer in its place.
    """
    by_path = {s.path: s for s in symbols}
    bearers: dict[str, int] = {}
    for symbol in symbols:
        bearers[symbol.name] = bearers.get(symbol.name, 0) + 1
    found: dict[str, Named] = {}
    for text in linker.link_symbols(symbols):
        subject = by_path[text.path]
        for mention, link in zip(text.mentions, text.links, strict=True):
            target = by_path.get(link.path)
            if target is not None and _is_clear(mention, link, target, subject) and bearers[target.name] == 1:
                found.setdefault(target.path, Named(target, subject, mention))
    return [found[path] for path in sorted(found)]


def _is_clear(mention: Mention, link: Link, target: Symbol, subject: Symbol) -> bool:
    return (
        mention.origin in ("link", "see") and link.outcome == "linked" and not link.stale and target.kind in _KINDS
        and subject.visibility == "public" and target.visibility == "public" and len(target.name) > 3
        and target.path != subject.path and not subject.path.startswith(target.path) and bool(target.file)
        and key_of(target.name).isidentifier() and (subject.file, subject.line) != (target.file, target.line)
    )  # fmt: skip


def plant(root: Path, named: Sequence[Named], symbols: Sequence[Symbol], most: int) -> Iterator[Fault]:
    """Change sources below root and tell each change; at most so many, one a file and kind, kinds in turn."""
    taken: set[str] = set()
    wanted = 0
    for one in named:
        if wanted >= most:
            return
        fault = (
            _spoil(root, one, ("renamed", "removed", "deprecated")[wanted % 3])
            if one.symbol.file not in taken
            else None
        )
        if fault is not None:
            taken.add(one.symbol.file)
            wanted += 1
            yield fault
    for symbol in symbols:
        if wanted >= most * 4 // 3:
            return
        if symbol.file not in taken and (fault := _rename_parameter(root, symbol)) is not None:
            taken.add(symbol.file)
            wanted += 1
            yield fault


def _spoil(root: Path, one: Named, kind: str) -> Fault | None:
    symbol, place = one.symbol, root / one.symbol.file
    lines = place.read_text(errors="surrogateescape").split("\n")
    at = next((n for n in range(symbol.line - 1, min(symbol.end_line, symbol.line + 4))
               if re.search(rf"\b{re.escape(symbol.name)}\b", lines[n])), None)  # fmt: skip
    if at is None:
        return None
    rules: tuple[str, ...] = ("dangling/symbol",)
    if kind == "renamed":
        lines[at] = re.sub(rf"\b{re.escape(symbol.name)}\b", f"{symbol.name}Anew", lines[at], count=1)
    elif kind == "removed":
        start = min(symbol.line, symbol.doc.line if symbol.doc is not None and symbol.doc.line else symbol.line)
        del lines[start - 1 : symbol.end_line]
    elif symbol.language in _MARKS:
        indent = re.match(r"\s*", lines[symbol.line - 1])
        lines.insert(symbol.line - 1, (indent[0] if indent else "") + _MARKS[symbol.language])
        rules = ("stale/deprecated",)
    else:
        return None
    place.write_text("\n".join(lines), errors="surrogateescape")
    return Fault(kind, symbol.path, rules, one.subject.path, one.mention.text)


def _rename_parameter(root: Path, symbol: Symbol) -> Fault | None:
    if symbol.kind not in _CALLED or symbol.doc is None or symbol.visibility != "public" or len(symbol.signatures) != 1:
        return None
    declared = {p.name for p in symbol.signatures[0].parameters}
    told = next((d.name for d in symbol.doc.parameters if d.name in declared and len(d.name) > 2), "")
    if not told or symbol.decorators or not symbol.file:
        return None
    place = root / symbol.file
    lines = place.read_text(errors="surrogateescape").split("\n")
    for at in range(symbol.line - 1, min(symbol.line + 6, len(lines))):
        before, name, after = lines[at].partition(f"{symbol.name}(") if at == symbol.line - 1 else ("", "", lines[at])
        changed = re.sub(rf"(?<![\w.'\"]){re.escape(told)}\b(?=\s*[:,)=?])", f"{told}Anew", after, count=1)
        if changed != after:
            lines[at] = before + name + changed
            place.write_text("\n".join(lines), errors="surrogateescape")
            return Fault("parameter renamed", symbol.path, ("stale/parameter",), symbol.path, told)
    return None
