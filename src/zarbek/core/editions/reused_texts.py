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
    if not part:
        return "\n\n".join(filter(None, (doc.summary, doc.body))) or None
    if part in ("summary", "text"):
        return (doc.summary if part == "summary" else doc.body) or None
    if part == "returns":
        return "\n\n".join(f.text for f in doc.returns if f.text) or None
    sections = [s.text for s in doc.sections if part.lower() in (s.kind, s.kind.rstrip("s"), s.title.lower())]
    named = [f.text for f in doc.parameters if f.name.lstrip("*") == part and f.text]
    return "\n\n".join(sections or named) or None
