"""The file in which a mention stands."""

from __future__ import annotations

from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol


def file_of(owner: Symbol | Page, mention: Mention) -> str:
    """The file of what a symbol or page mentions: that of its text or query, which may stand beside the declaration."""
    if not isinstance(owner, Symbol):
        return owner.file
    if mention.field == "doc":
        return (owner.doc.file if owner.doc is not None else "") or owner.file
    table = owner.data.table if owner.data is not None and mention.field == "query" else None
    return (table.query.file if table is not None and table.query is not None else "") or owner.file
