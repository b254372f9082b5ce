"""A symbol without its place, so that moving it changes nothing; and back."""

from __future__ import annotations

import msgspec

from zarbek.core.model.doc_text import Doc, DocField
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol

_FIELD_GROUPS = ("parameters", "type_parameters", "returns", "yields", "raises", "attributes", "see")


def detach(symbol: Symbol) -> Symbol:
    """The symbol with lines counted from its own first line, and without its file and body."""
    if symbol.body:
        symbol = msgspec.structs.replace(symbol, body="")
    return _shifted(symbol, -symbol.line, file="", line=0)


def attach(symbol: Symbol, file: str, line: int) -> Symbol:
    """The inverse of detach for a symbol that begins on a line of a file."""
    return _shifted(symbol, line, file=file, line=line)


def _shifted(symbol: Symbol, by: int, *, file: str, line: int) -> Symbol:
    if symbol.example is not None:
        parts = [msgspec.structs.replace(part, line=part.line + by) for part in symbol.example.parts]
        symbol = msgspec.structs.replace(symbol, example=msgspec.structs.replace(symbol.example, parts=parts))
    if symbol.doc is None and not symbol.mentions:
        return msgspec.structs.replace(symbol, file=file, line=line, end_line=symbol.end_line + by)
    return msgspec.structs.replace(
        symbol, file=file, line=line, end_line=symbol.end_line + by,
        doc=_shifted_doc(symbol.doc, by) if symbol.doc else None,
        mentions=[_shifted_mention(m, by) for m in symbol.mentions],
    )  # fmt: skip


def _shifted_mention(mention: Mention, by: int) -> Mention:
    return Mention(
        mention.text, mention.name, mention.origin, mention.field, mention.line + by,
        mention.column, mention.role,
    )  # fmt: skip


def _shifted_doc(doc: Doc, by: int) -> Doc:
    groups = {name: [_shifted_field(f, by) for f in found] for name in _FIELD_GROUPS if (found := getattr(doc, name))}
    return msgspec.structs.replace(doc, line=doc.line + by, **groups)


def _shifted_field(field: DocField, by: int) -> DocField:
    return DocField(field.name, field.type, field.text, field.optional, field.line + by if field.line else 0)
