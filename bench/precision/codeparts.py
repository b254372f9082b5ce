"""Which parts of a source are code, and not comments or texts, and changes of that code alone."""

from __future__ import annotations

import io
import re
import tokenize
from collections.abc import Callable
from functools import lru_cache

_COMMENTS = r"//[^\n]*|/\*.*?\*/"
_TEXT = r"\"(?:\\.|[^\"\\\n])*\""
_CHARACTER = r"'(?:\\.[^'\n]*|[^'\\\n])'"
_FORMS = {
    "kotlin": rf"{_COMMENTS}|\"\"\".*?\"\"\"|{_TEXT}|{_CHARACTER}",
    "go": rf"{_COMMENTS}|`[^`]*`|{_TEXT}|{_CHARACTER}",
    "typescript": rf"{_COMMENTS}|`(?:\\.|[^`\\])*`|{_TEXT}|'(?:\\.|[^'\\\n])*'",
    "graphql": rf"#[^\n]*|\"\"\".*?\"\"\"|{_TEXT}",
    "protobuf": rf"{_COMMENTS}|{_TEXT}",
}
_FORMS["javascript"] = _FORMS["typescript"]


@lru_cache(maxsize=16)
def _pattern(language: str) -> re.Pattern[str]:
    return re.compile(_FORMS.get(language, rf"{_COMMENTS}|{_TEXT}|{_CHARACTER}"), re.DOTALL)


def in_code(text: str, language: str, change: Callable[[str], str]) -> str:
    """The text with each part that is code changed; for Python, texts that are one name count as code, as they
    stand in lists of what a module offers. Raises SyntaxError for Python that does not parse."""
    if language == "python":
        return _in_python(text, change)
    out: list[str] = []
    at = 0
    for match in _pattern(language).finditer(text):
        out += [change(text[at : match.start()]), match[0]]
        at = match.end()
    return "".join([*out, change(text[at:])])


def _in_python(text: str, change: Callable[[str], str]) -> str:
    lines = text.splitlines(keepends=True)
    starts = [0]
    for line in lines:
        starts.append(starts[-1] + len(line))
    out: list[str] = []
    at = 0
    try:
        for token in tokenize.generate_tokens(io.StringIO(text).readline):
            if token.type == tokenize.COMMENT or (
                token.type == tokenize.STRING and not token.string[1:-1].isidentifier()
            ):
                start = starts[token.start[0] - 1] + token.start[1]
                end = starts[token.end[0] - 1] + token.end[1]
                out += [change(text[at:start]), text[start:end]]
                at = end
    except tokenize.TokenError as error:
        raise SyntaxError(str(error)) from error
    return "".join([*out, change(text[at:])])
