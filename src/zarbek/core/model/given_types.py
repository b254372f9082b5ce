"""What type a function gives, as far as members of what it gives can be named by that."""

from __future__ import annotations

import re

from zarbek.core.model.symbol import Symbol

#: Stands in a name for what the function before it gives: members of that follow.
GIVEN = "__given__"
#: Types around the one whose members are meant: what is awaited, pointed to, or may not be there.
_AROUND = re.compile(
    r"(?:\w+(?:\.|::))*(?:Optional|Option|Result|Promise|Task|ValueTask|Awaitable|unique_ptr|shared_ptr|Box|Rc|Arc)"
    r"\s*[<\[](.+)[>\]]"
)
_NOTHING = re.compile(r"\s*\|\s*(?:None|null|undefined)|(?:None|null|undefined)\s*\|\s*")
_MARKS = re.compile(r"^(?:&(?:'\w+\s+)?|\*|mut\s+|const\s+)+|[\s?&*!]+$")
_PLAIN = re.compile(r"[\w$]+(?:(?:\.|::)[\w$]+)*")
_GENERIC = re.compile(r"[<\[(].*")
_GIVING = frozenset({"function", "method", "macro"})
_ITSELF = frozenset({"Self", "typing.Self", "this"})


def given_type(symbol: Symbol) -> str:
    """The name of a type as it is written where a function stands; empty for none, and for what is no class by the
    customs of its language."""
    if symbol.kind not in _GIVING or not symbol.signatures:
        return ""
    text = _NOTHING.sub("", symbol.signatures[0].returns.strip("'\" "))
    if text.startswith("("):  # The first of several (Go).
        text = text[1:].partition(",")[0].rstrip(")")
    text = _MARKS.sub("", text)
    while (inner := _AROUND.fullmatch(text)) is not None:
        text = _MARKS.sub("", inner[1].partition(",")[0].strip("'\" "))
    if text in _ITSELF:
        return symbol.parent
    name = _GENERIC.sub("", text).strip()
    is_class = any(part[:1].isupper() for part in re.split(r"[.:]+", name))
    return name if is_class and _PLAIN.fullmatch(name) else ""
