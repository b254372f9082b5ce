"""What a whole project leaves without documentation, module by module."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Collection, Iterator, Mapping

import msgspec

from zarbek.core.findings.undocumented import UndocumentedSymbol, undocumented
from zarbek.core.gathering.file_reading import FileReading
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import key_of


class _Line(msgspec.Struct):
    module: str
    line: int = 0


_DECODE = msgspec.json.Decoder(_Line).decode


def list_undocumented(
    readings: list[FileReading], names: Mapping[str, str], hidden: Collection[str], is_told: Callable[[str], bool]
) -> Iterator[Finding]:
    """names: of those that are known by another path. hidden: paths that nobody can reach. What one file describes of
    another's symbol counts as described, and so does that of which is_told says so."""
    described = {key_of(p) for r in readings for p, told in zip(r.paths, r.described, strict=True) if told}
    bare: dict[str, list[UndocumentedSymbol]] = defaultdict(list)
    asked: Counter[str] = Counter()
    for reading in readings:
        for at in reading.asked:
            path = reading.paths[at]
            if path in hidden:
                continue
            known = _DECODE(reading.symbols[at])
            asked[known.module] += 1
            if key_of(path) not in described and not is_told(path):
                bare[known.module].append(UndocumentedSymbol(names.get(path, path), reading.file, known.line))
    for module in sorted(bare):
        yield undocumented(module, bare[module], asked[module])
