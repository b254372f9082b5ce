"""Which comments of a file of SQL stand above an element, or behind it on its line."""

from __future__ import annotations

from bisect import bisect_left

from zarbek.core.sources.comments.sql import Comment, is_behind
from zarbek.core.sources.datamodels.sql_text import SqlText


def comments_above(sql: SqlText, at: int, since: int | None = None) -> list[Comment]:
    """Those right above what begins at an offset: no empty line and nothing else stands between them and it; of
    comments that follow one another in the same way the last ones. since: what stands before this is another's."""
    found: list[Comment] = []
    number = bisect_left(sql.comments, at, key=lambda comment: comment.start)
    while number > 0:
        number -= 1
        comment = sql.comments[number]
        between = sql.text[comment.end : at]
        if between.strip() or between.count("\n") > 1 or (since is not None and comment.start < since):
            break
        if is_behind(comment.raw) or (found and not _goes_on(comment, found[0])) or not _is_alone(sql, comment):
            break
        found.insert(0, comment)
        at = comment.start
    return found


def comments_behind(sql: SqlText, at: int) -> list[Comment]:
    """That on the line of an offset, behind it, if it says to be about what stands before."""
    end = sql.text.find("\n", at)
    end = len(sql.text) if end < 0 else end
    begin = sql.text.rfind("\n", 0, at) + 1
    number = bisect_left(sql.comments, begin, key=lambda comment: comment.start)
    return [c for c in sql.comments[number : number + 4] if begin <= c.start < end and is_behind(c.raw)][:1]


def _goes_on(comment: Comment, after: Comment) -> bool:
    """Lines of one form follow one another; a block stands alone."""
    return comment.raw.startswith("--") and after.raw.startswith("--")


def _is_alone(sql: SqlText, comment: Comment) -> bool:
    """Whether nothing stands before a comment on its line."""
    begin = sql.text.rfind("\n", 0, comment.start) + 1
    return not sql.text[begin : comment.start].strip()
