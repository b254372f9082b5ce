"""Declarations broken into lines where a reader of the language would break them."""

from __future__ import annotations

from zarbek.core.model.naming import split_parts

WIDTH = 76
_OPEN, _CLOSE = "(", ")"


def break_declaration(text: str, width: int = WIDTH) -> str:
    """The declaration with one parameter a line where one line would be too long.

    text: on one line. The words stay the same; only blanks become line ends.
    """
    if len(text) <= width:
        return text
    span = _parameter_list(text)
    if span is None:
        return _break_clauses(text, width)
    start, end = span
    parts = [part.strip() for part in split_parts(text[start + 1 : end])]
    if parts == [""]:
        return _break_clauses(text, width)
    inner = ",\n".join("    " + part for part in parts)
    return f"{text[: start + 1]}\n{inner}\n{_break_clauses(text[end:], width)}"


def _break_clauses(text: str, width: int) -> str:
    if len(text) <= width:
        return text
    for word in (" extends ", " implements ", " throws ", " where ", " permits "):
        text = text.replace(word, "\n    " + word.lstrip(), 1)
    return text


def _parameter_list(text: str) -> tuple[int, int] | None:
    """Where the first round bracket outside of angle brackets opens, and where it closes."""
    angles = 0
    start = -1
    depth = 0
    previous = ""
    for at, sign in enumerate(text):
        if sign == "<":
            angles += 1
        elif sign == ">" and previous not in "-=":
            angles = max(angles - 1, 0)
        elif sign == _OPEN:
            if start < 0 and angles == 0:
                start = at
            depth += 1
        elif sign == _CLOSE:
            depth -= 1
            if start >= 0 and depth == 0:
                if at - start > 1:
                    return start, at
                start = -1
        previous = sign
    return None
