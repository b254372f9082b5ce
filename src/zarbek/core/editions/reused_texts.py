"""Texts of elements and blocks as other texts use them."""

from __future__ import annotations

from zarbek.core.model.doc_text import Doc

#: How deep texts take one another, and how much one page takes.
MAX_DEPTH, MAX_USES = 4, 50


def text_of_element(doc: Doc | None, part: str) -> str | None:
    """What an element says, as CommonMark; None where it says nothing.

    part: ``summary``, ``text``, ``returns``, a kind or title of section, or the name of a parameter; empty for summary
    and text.
    """
    if doc is None:
        return None
    texts = {
        "": [doc.summary, doc.body], "summary": [doc.summary], "text": [doc.body],
        "returns": [field.text for field in doc.returns],
    }  # fmt: skip
    found = texts.get(part)
    if found is None:
        found = [s.text for s in doc.sections if part.lower() in (s.kind, s.kind.rstrip("s"), s.title.lower())]
        found = found or [field.text for field in doc.parameters if field.name.lstrip("*") == part]
    return "\n\n".join(text for text in found if text) or None
