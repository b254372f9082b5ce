"""Whether a text says something else than before."""

from __future__ import annotations

import re

from rapidfuzz import fuzz

from zarbek.core.model.doc_text import Doc
from zarbek.core.writing.plain_text import plain_text

_ENDS = re.compile(r"(?<=[.!?])\s+")
_WORDS = re.compile(r"[^\W_]+(?:[.\-'][^\W_]+)*")
#: Per cent of the letters that must be equal for a text to mean the same: a mended spelling.
_SAME = 92.0


def words_of(text: str) -> list[str]:
    """The words of a text in small letters, numbers with their points among them."""
    return _WORDS.findall(text.lower())


def meaning_of(doc: Doc | None) -> str:
    """The words by which a text promises something: what it is, takes, gives and raises."""
    if doc is None:
        return ""
    fields = [f"{f.name} {f.type} {f.text}" for g in (doc.parameters, doc.returns, doc.yields, doc.raises) for f in g]
    return " ".join(words_of(plain_text(" ".join([doc.summary, doc.body, *fields]))))


def means_the_same(old: Doc | None, new: Doc | None) -> bool:
    """Marks, case, punctuation, order of blanks and a mended spelling change no meaning; a number does."""
    before, after = meaning_of(old), meaning_of(new)
    if before == after or not before:
        return True
    if _figures(before) != _figures(after):
        return False
    return fuzz.ratio(before, after) >= _SAME


def differing_words(old: Doc | None, new: Doc | None) -> tuple[str, str]:
    """The first sentence that only the old text has, and the first that only the new one has."""
    before, after = _sentences(old), _sentences(new)
    gone = next((s for s in before if s not in set(after)), "")
    come = next((s for s in after if s not in set(before)), "")
    return gone, come


def lost_words(old: Doc | None, new: Doc | None) -> set[str]:
    """Words in small letters that only the old text has."""
    return set(meaning_of(old).split()) - set(meaning_of(new).split())


def _sentences(doc: Doc | None) -> list[str]:
    if doc is None:
        return []
    fields = [f"{f.name}: {f.text}" for g in (doc.parameters, doc.returns, doc.yields, doc.raises) for f in g]
    texts = [doc.summary, *doc.body.split("\n\n"), *fields]
    return [s for t in texts for s in _ENDS.split(plain_text(t).strip()) if s]


def _figures(text: str) -> list[str]:
    return [word for word in text.split() if any(c.isdigit() for c in word)]
