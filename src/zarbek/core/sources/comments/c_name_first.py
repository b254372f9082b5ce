"""Comments of C whose first line is the name of the element and a colon, as headers of the GObject family have
them (GObject Introspection: "Annotations", "Documenting code")."""

from __future__ import annotations

import re

_HEAD = re.compile(r"\s*([A-Za-z_]\w*)(::?[\w-]+)?:((?:\s*\([^()]*\))*):?\s*")
_PARAMETER = re.compile(r"\s*@(\w+|\.\.\.):\s*")
_TAG = re.compile(r"\s*(Returns?|Return value|Since|Deprecated|Stability):\s*", re.IGNORECASE)
_ANNOTATIONS = re.compile(r"(?:\([^()]*\)\s*)+:?\s*")
_MARKED = re.compile(r"(?<![\w@])@(\w+)|(?<![\w%])%(\w+)")
_WORDS = {
    "return": "@return", "returns": "@return", "return value": "@return", "since": "@since",
    "deprecated": "@deprecated",
}  # fmt: skip


def from_named(lines: list[str]) -> list[str]:
    """The lines with the commands of other comments in the place of this form's, as many; those of any other
    comment as they are."""
    first, head = _head_of(lines)
    if head is None:
        return lines
    last = _last_of_list(lines, first)
    return ["" if at == first else _converted(text, is_listed=at <= last) for at, text in enumerate(lines)]


def _last_of_list(lines: list[str], first: int) -> int:
    """The index of the last line of the list of parameters, after which prose may tell of what is called alike."""
    known, is_apart = False, False
    for at in range(first + 1, len(lines)):
        if not lines[at].strip():
            is_apart = True
        elif _PARAMETER.match(lines[at]):
            known, is_apart = True, False
        elif known and is_apart and not _TAG.match(lines[at]):
            return at - 1
    return len(lines)


def name_told(lines: list[str]) -> str | None:
    """The name with which a comment of this form begins, empty for a part of an element, such as a signal or
    property; None for any other comment."""
    _, head = _head_of(lines)
    return None if head is None else "" if head[2] else head[1]


def _head_of(lines: list[str]) -> tuple[int, re.Match[str] | None]:
    """The index of the first line that says something, and what it says of the element; None where the comment
    is of another form."""
    first = next((at for at, text in enumerate(lines) if text.strip()), 0)
    head = _HEAD.fullmatch(lines[first]) if lines else None
    if head is None or "_" in head[1] or any(c.isupper() for c in head[1][1:]):
        return first, head
    is_told = any(_PARAMETER.match(text) or _TAG.match(text) for text in lines[first + 1 :])
    return first, head if is_told else None


def _converted(text: str, *, is_listed: bool) -> str:
    if is_listed and (match := _PARAMETER.match(text)):
        return f"@param {match[1]} {_marked(_plain(text[match.end() :]))}"
    if match := _TAG.match(text):
        word = _WORDS.get(match[1].lower())
        return f"{word} {_marked(_plain(text[match.end() :]))}" if word else ""
    return _marked(text)


def _plain(text: str) -> str:
    """Without annotations, which are for generators of bindings."""
    match = _ANNOTATIONS.match(text)
    return text[match.end() :] if match else text


def _marked(text: str) -> str:
    return _MARKED.sub(lambda m: f"`{m[1] or m[2]}`", text)
