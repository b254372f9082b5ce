"""Calls in the text of a statement, in the languages with brackets."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

_OPENS, _CLOSES = "([{", ")]}"
#: No statement that anybody reads is longer.
MAX_CALL = 10_000


@dataclass(frozen=True, slots=True)
class CallText:
    """head: what is called; given: its arguments; rest: what follows behind."""

    head: str
    given: list[str]
    rest: str


def split_call(text: str) -> CallText | None:
    """The first call of a text, as the outermost brackets have it; None where there is none."""
    if len(text) > MAX_CALL:
        return None
    begin = next((at for at, sign, depth in signs_of(text) if sign == "(" and depth == 0), None)
    if begin is None:
        return None
    end = _end_of(text, begin)
    if end is None:
        return None
    return CallText(text[:begin].strip(), split_list(text[begin + 1 : end]), text[end + 1 :].strip())


def split_list(text: str) -> list[str]:
    """Arguments apart."""
    cuts = [at for at, sign, depth in signs_of(text) if sign == "," and depth == 0]
    bounds = [-1, *cuts, len(text)]
    parts = [text[a + 1 : b].strip() for a, b in pairwise(bounds)]
    return parts[:-1] if not parts[-1] else parts


def split_at(text: str, operators: tuple[str, ...]) -> tuple[str, str, str] | None:
    """(left, operator, right) around the first of some operators outside of all brackets."""
    for at, _, depth in signs_of(text):
        if depth:
            continue
        found = next((sign for sign in operators if text.startswith(sign, at)), None)
        if (
            found is not None
            and at > 0
            and text[at - 1] not in "=!<>-"
            and text[at + len(found) : at + len(found) + 1] != "="
        ):
            return text[:at].strip(), found, text[at + len(found) :].strip()
    return None


def signs_of(text: str) -> Iterator[tuple[int, str, int]]:
    """(offset, sign, depth of brackets around it) of what is no text in quotes."""
    depth, at = 0, 0
    while at < len(text):
        sign = text[at]
        if sign in '"`' or (sign == "'" and _is_quote(text, at)):
            at = _after_quote(text, at)
            continue
        if sign in _CLOSES:
            depth = max(depth - 1, 0)
        yield at, sign, depth
        if sign in _OPENS:
            depth += 1
        at += 1


def _is_quote(text: str, at: int) -> bool:
    """Whether an apostrophe opens something: lifetimes of Rust have one, too."""
    return "'" in text[at + 1 :] and not (text[at + 1 : at + 2].isalpha() and text[at + 2 : at + 3] in ",>&) ")


def _after_quote(text: str, at: int) -> int:
    quote, end = text[at], at + 1
    while end < len(text) and text[end] != quote:
        end += 2 if text[end] == "\\" else 1
    return end + 1


def _end_of(text: str, begin: int) -> int | None:
    return next((at for at, sign, depth in signs_of(text) if at > begin and sign == ")" and depth == 0), None)
