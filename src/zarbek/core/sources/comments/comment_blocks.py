"""Comments as they stand in a source file to the lines that their author wrote."""

from __future__ import annotations

import re

from zarbek.core.model.finding import Finding

_NO_PROSE = re.compile(
    r"^\W*(?:todo|fixme|xxx|hack|nolint|noqa|eslint|prettier|ts-|@ts|@formatter|noinspection|suppress|pragma|region|"
    r"endregion|clang-format|spdx|copyright|licen[sc]e|generated|checkstyle|istanbul|go:|\+build|-{3,}|={3,}|\*{3,}|"
    r"inherited from|overrid|note:|implementation|internal|we |see |this is (?:a )?(?:workaround|needed)|deprecated:)",
    re.IGNORECASE,
)
#: Words of a comment, and letters of a word, by which it is known to be about what stands below.
_NEAR, _STEM = 16, 5
_PART = re.compile(r"[A-Z]+(?![a-z])|[A-Z]?[a-z]+")
_CODE = re.compile(r"[;{}]\s*$|^\s*[@#]\w+|\w\(.*\)\s*[;{]?\s*$|^\s*(?:if|for|return|import)\b")


def block_lines(raw: str, opener: int = 3) -> list[str]:
    """Lines of a ``/** … */`` comment without its frame; the first is the opening one's rest.

    opener: length of the mark that opens it. A line without a star stays as it is, beside starred ones.
    """
    body = raw[opener:]
    body = body[:-2] if body.endswith("*/") else body
    lines = body.expandtabs().split("\n")
    first = lines[0].strip()
    rest = lines[1:]
    if any(line.lstrip().startswith("*") for line in rest):
        cleaned = [_after_star(line) if line.lstrip().startswith("*") else line.rstrip() for line in rest]
    else:
        margin = min((len(t) - len(t.lstrip()) for t in rest if t.strip()), default=0)
        cleaned = [line[margin:].rstrip() for line in rest]
    return [first, *cleaned]


def _after_star(line: str) -> str:
    text = line.lstrip().lstrip("*")
    return (text[1:] if text.startswith(" ") else text).rstrip()


def marked_lines(raws: list[str], mark: int) -> list[str]:
    """Lines of line comments without their mark and one blank after it."""
    lines = []
    for raw in raws:
        text = raw[mark:].expandtabs().rstrip()
        lines.append(text[1:] if text.startswith(" ") else text)
    return lines


def trim(lines: list[str], line: int) -> tuple[list[str], int]:
    """The lines without empty ones at both ends, and the line of the first that is left."""
    start = 0
    while start < len(lines) and not lines[start].strip():
        start += 1
    end = len(lines)
    while end > start and not lines[end - 1].strip():
        end -= 1
    return lines[start:end], line + start


def _is_on(name: str, words: list[str]) -> bool:
    """Whether a sentence describes the element of a name: it names it, or a word of its name."""
    said = {w.strip(".,:;()'\"`").lower() for w in words[:_NEAR]}
    parts = {p.lower() for p in _PART.findall(name) if len(p) > 2}
    return name.lower() in said or any(w.startswith(p[:_STEM]) for p in parts for w in said if len(w) > 2)


def wrong_comment(text: str, *, path: str, name: str, file: str, line: int, form: str) -> Finding | None:
    """text/wrong-comment for an ordinary comment right above an undocumented element.

    form: how documentation is marked there. None where the comment is no sentence on the element.
    """
    lines = [part.strip().lstrip("/*").strip() for part in text.split("\n")]
    words = " ".join(lines).strip(" */").split()
    first = next((part for part in lines if part), "")
    if len(words) < 3 or _NO_PROSE.match(first) or any(_CODE.search(part) for part in lines if part):
        return None
    if not first[:1].isalpha() or not _is_on(name, words):
        return None
    return Finding(
        "text/wrong-comment", "note", path,
        f"The comment above {name} is no documentation comment; readers do not see it.",
        file=file, line=line, text=" ".join(words)[:120], target=path, suggestion=form, why="the form that is read",
    )  # fmt: skip
