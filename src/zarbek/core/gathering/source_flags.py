"""Flags that documentation comments give their elements, whatever the form: ``@flag NAME`` or ``:flag: NAME``."""

from __future__ import annotations

import re

from msgspec.structs import replace

from zarbek.core.model.limits import MAX_LABEL
from zarbek.core.model.symbol import Symbol

_NAMES = r"[\w-]+(?:[ \t]*,[ \t]*[\w-]+)*"
_MARK = re.compile(rf"(?:^|(?<=\s))(?:@flag|\*\*flag:\*\*)[ \t]+({_NAMES})[ \t]*\n?", re.MULTILINE)
_ALONE = re.compile(rf"{_NAMES}\Z")
MAX_FLAGS = 20


def with_flags(symbols: list[Symbol], data: bytes) -> list[Symbol]:
    """Symbols with the flags of their comments, whose texts no longer say so. data: of the file."""
    return [_with_flags(symbol) for symbol in symbols] if b"flag" in data else symbols


def _with_flags(symbol: Symbol) -> Symbol:
    doc = symbol.doc
    if doc is None:
        return symbol
    own = [s for s in doc.sections if s.title.lower() == "flag" and _ALONE.match(s.text.strip())]
    told = [*(m[1] for text in (doc.summary, doc.body) for m in _MARK.finditer(text)), *(s.text for s in own)]
    if not told:
        return symbol
    names = dict.fromkeys(name.strip() for text in told for name in text.split(",") if len(name) <= MAX_LABEL)
    summary, body = (_MARK.sub("", text).strip() for text in (doc.summary, doc.body))
    doc = replace(doc, summary=summary, body=body, sections=[s for s in doc.sections if s not in own])
    return replace(symbol, doc=doc, variants=list(names)[:MAX_FLAGS])
