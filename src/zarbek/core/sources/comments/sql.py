"""Documentation comments of SQL and of templates that write it.

SQL has no form for them of its own (ISO/IEC 9075-2, section 5.2 knows comments only); what is read here follows its
neighbours: ``/** … */`` and lines of ``---`` above an element, ``/**< … */`` and ``---<`` behind it on its line, and
``{#* … #}`` in a template. Their text is Markdown with block tags. For MariaDB and MySQL, ``---`` begins no comment
(MariaDB Knowledge Base, "Comment Syntax": two dashes and a space).
"""

from __future__ import annotations

import re
from typing import NamedTuple

from zarbek.core.sources.comments.block_tags import Dialect, TaggedDoc, read_tagged
from zarbek.core.sources.comments.comment_blocks import block_lines, marked_lines, trim
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

TAGS = {
    "param": "param", "returns": "returns", "return": "returns", "see": "see", "since": "since",
    "deprecated": "deprecated", "author": "author", "throws": "raises", "example": "examples", "note": "note",
    "warning": "warning",
}  # fmt: skip
#: How documentation is marked, for those who have marked it in another way.
FORM = "/** … */ or ---"
_BEHIND = ("---<", "/**<")
_MARKED = re.compile(r"---(?!-)")


class Comment(NamedTuple):
    """raw: with its marks. start, end: in the text of its file; line: where it begins, from 1."""

    raw: str
    start: int
    end: int
    line: int


def is_documentation(raw: str) -> bool:
    """Whether a comment above an element documents it."""
    if is_behind(raw):
        return False
    if raw.startswith(("/**", "{#*")):
        return len(raw) > 5 and not raw.startswith(("/***", "/**/", "{#**"))
    return bool(_MARKED.match(raw))


def is_behind(raw: str) -> bool:
    """Whether a comment documents the element before it on its line."""
    return raw.startswith(_BEHIND)


def read_sql_comment(raws: list[str], line: int, sink: MentionSink) -> TaggedDoc:
    """The structure of one comment, or of lines of it that follow one another. line: of the first."""
    if raws[0].startswith(("/*", "{#")):
        lines = block_lines(raws[0].replace("/**<", "/**", 1).removesuffix("#}").rstrip("-"))
    else:
        lines = marked_lines(raws, 4 if is_behind(raws[0]) else 3)
    lines, line = trim(lines, line)
    return read_tagged(lines, line, sink, Dialect(TAGS, _convert, any_tag=False, example_language="sql"))


def _convert(text: str, line: int, sink: MentionSink) -> str:
    return convert_markdown(text.split("\n"), line, sink)
