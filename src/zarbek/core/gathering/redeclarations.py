"""Declarations of one function in several files, which may give its parameters different names (C, C++)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import msgspec

from zarbek.core.gathering.file_reading import FileReading
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Signature

_LANGUAGES = frozenset({"c", "cpp"})


class _Declared(msgspec.Struct):
    signatures: list[Signature] = []


_DECODE = msgspec.json.Decoder(_Declared).decode


def without_known_elsewhere(findings: Iterable[Finding], readings: list[FileReading]) -> Iterator[Finding]:
    """The findings but those of parameters that another declaration of the same function has.

    Cost: one look at the declarations of each function that has such a finding.
    """
    found = list(findings)
    wanted = {f.target for f in found if f.rule == "stale/parameter"}
    names: dict[str, set[str]] = {}
    for reading in readings if wanted else ():
        if reading.language in _LANGUAGES:
            for at, path in enumerate(reading.paths):
                if path in wanted:
                    signatures = _DECODE(reading.symbols[at]).signatures
                    names.setdefault(path, set()).update(p.name for s in signatures for p in s.parameters)
    for finding in found:
        if finding.rule != "stale/parameter" or finding.text not in names.get(finding.target, ()):
            yield finding
