"""What readers see of an element where supplements add to its source, fill in for it, or stand in its place."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.supplement import Part, Supplement

#: Parts in the order in which readers see them.
KINDS: tuple[Part, ...] = ("summary", "text", "parameter", "remarks", "examples", "see")
#: Whose words: the element's own source.
SOURCE = -1


@dataclass(slots=True)
class Told:
    """Something that is said of an element. by: the place of a supplement among all, SOURCE for the source. hidden_by:
    the one that stands in its place or has filled in before, None where readers see it."""

    kind: Part
    name: str
    text: str
    by: int
    hidden_by: int | None = None


def tell(doc: Doc | None, supplements: Sequence[Supplement], language: str = "") -> list[Told]:
    """All that is said of an element, by part and in the order in which readers see it.

    supplements: those for the element, in the order in which they count. language: of the reader, as BCP 47 has it:
    translations into others say nothing, and one into this stands in the place of the source where it does not say
    otherwise.
    """
    told = list(_of_source(doc)) if doc is not None else []
    for by, supplement in sorted(enumerate(supplements), key=lambda s: bool(s[1].language)):
        if supplement.language and not _speaks(language, supplement.language):
            continue
        for part in supplement.parts:
            how = "replace" if supplement.language and part.how == "add" else part.how
            same = [t for t in told if (t.kind, t.name) == (part.kind, part.name) and t.hidden_by is None]
            new = Told(part.kind, part.name, part.text, by)
            if how == "replace":
                for other in same:
                    other.hidden_by = by
            elif how == "fill" and same:
                new.hidden_by = same[0].by
            told.append(new)
    return sorted(told, key=lambda t: KINDS.index(t.kind))


def _of_source(doc: Doc) -> Iterable[Told]:
    if doc.summary:
        yield Told("summary", "", doc.summary, SOURCE)
    if doc.body:
        yield Told("text", "", doc.body, SOURCE)
    for field in doc.parameters:
        if field.text:
            yield Told("parameter", field.name.lstrip("*"), field.text, SOURCE)
    for section in doc.sections:
        if section.kind in ("remarks", "examples", "example"):
            yield Told("remarks" if section.kind == "remarks" else "examples", "", section.text, SOURCE)
    for see in doc.see:
        if see.text or see.name:
            yield Told("see", "", see.text or f"`{see.name}`", SOURCE)


def _speaks(reader: str, language: str) -> bool:
    """Whether a translation is for a reader: by its primary subtag where it has no more (RFC 4647, section 3.3.1)."""
    mine, theirs = reader.lower(), language.lower()
    return mine == theirs or mine.startswith(theirs + "-")
