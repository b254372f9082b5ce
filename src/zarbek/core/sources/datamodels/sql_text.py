"""The text of a file of SQL as statements and comments, each where it stands.

Sources: ISO/IEC 9075-2, section 5 (lexical elements); for what their clients read beside it MariaDB's ``DELIMITER`` and
executable comments, PostgreSQL's dollar quotes, backslash commands and ``COPY … FROM stdin``, SQL Server's ``GO``.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, field

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.comments.sql import Comment

_LEXER = re.compile(
    r"""(?P<line>--[^\n]*|\#(?!>)[^\n]*)
    |(?P<block>/\*.*?\*/)
    |(?P<string>[EeNnBbXx]?'(?:[^'\\]|''|\\.)*')
    |(?P<quoted>"(?:[^"]|"")*"|`[^`]*`)
    |(?P<dollar>\$(?P<tag>[A-Za-z_]\w*|)\$.*?\$(?P=tag)\$)
    |(?P<word>[^\W\d][\w$]*)
    |(?P<end>;)|(?P<open>[(\[{])|(?P<close>[)\]}])|(?P<comma>,)
    |(?P<other>\S)""",
    re.DOTALL | re.VERBOSE,
)
#: Where a backslash in a text means itself, as the standard has it.
_PLAIN_STRINGS = re.compile(_LEXER.pattern.replace(r"(?:[^'\\]|''|\\.)*", r"(?:[^']|'')*"), re.DOTALL | re.VERBOSE)
#: Where names may stand in square brackets.
_BRACKETED = re.compile(_PLAIN_STRINGS.pattern.replace(r"|`[^`]*`)", r"|`[^`]*`|\[[^\]\n]*\])"), re.DOTALL | re.VERBOSE)
_WITH_BACKSLASH = frozenset({"mariadb", "mysql", "bigquery", "clickhouse", "spark", "databricks", "hive"})
_WITH_HASH = frozenset({"mariadb", "mysql", "bigquery"})
_EXECUTABLE = re.compile(r"/\*M?!\d*(.*?)\*/", re.DOTALL)
_DELIMITER = re.compile(r"[ \t]*DELIMITER[ \t]+(\S+)[^\n]*", re.IGNORECASE)
_COMMAND = re.compile(r"(?m)^\\[^\n]*")
_COPIED = re.compile(r"(?im)^(COPY\b[^;\n]*\bFROM\s+stdin\b[^;\n]*;)[^\n]*\n(.*?)^\\\.$", re.DOTALL)
_BATCH = re.compile(r"(?im)^[ \t]*GO[ \t]*(?:\d+[ \t]*)?$")
#: Statements whose body has statements of its own.
_WITH_BODY = re.compile(
    r"\s*CREATE\s+(?:OR\s+(?:REPLACE|ALTER)\s+)?(?:DEFINER\s*=\s*\S+\s+)?(?:AGGREGATE\s+)?"
    r"(?:PROCEDURE|FUNCTION|TRIGGER|EVENT|PACKAGE)\b",
    re.IGNORECASE,
)
#: What follows END where that ends a branch or a loop, which open without a word of their own here.
_ENDS_LESS = re.compile(r"\s*(?:IF|LOOP|WHILE|REPEAT|FOR)\b", re.IGNORECASE)
_END = re.compile("\n")


@dataclass(slots=True)
class Statement:
    """text: without its end, comments blanked, so that places in it are places in the file less start. commas: of those
    that part its outermost brackets; brackets: where the first of these begins and ends."""

    text: str
    start: int
    line: int
    commas: list[int] = field(default_factory=list)
    brackets: tuple[int, int] | None = None

    @property
    def words(self) -> list[str]:
        """Its first words, in capitals."""
        return self.text[:200].upper().split()[:8]


@dataclass(slots=True)
class SqlText:
    """A file of SQL: its text, statements and comments, in order."""

    text: str
    statements: list[Statement]
    comments: list[Comment]
    _ends: list[int] = field(default_factory=list)

    def line_at(self, offset: int) -> int:
        """The line, from 1, on which an offset stands."""
        if not self._ends:
            self._ends = [found.start() for found in _END.finditer(self.text)] or [len(self.text)]
        return bisect_left(self._ends, offset) + 1


def split_sql(text: str, dialect: str) -> SqlText:
    """Raises UnreadableText: a text, name or comment that does not end."""
    scanner = _Scanner(_prepared(text, dialect), dialect)
    statements = list(scanner.read())
    return SqlText(text, statements, scanner.comments)


def _prepared(text: str, dialect: str) -> str:
    """The same, with what only the database's client understands blanked."""
    if dialect in ("mariadb", "mysql"):
        text = _EXECUTABLE.sub(lambda m: _blank(m[0][: m.start(1) - m.start()]) + m[1] + "  ", text)
    if dialect in ("postgresql", "redshift"):
        text = _COPIED.sub(lambda m: m[1] + _blank(m[0][len(m[1]) :]), text)
        text = _COMMAND.sub(lambda m: _blank(m[0]), text)
    if dialect == "sqlserver":
        text = _BATCH.sub(lambda m: ";" + _blank(m[0][1:]), text)
    return text


def _blank(text: str) -> str:
    return re.sub(r"[^\n]", " ", text)


class _Scanner:
    def __init__(self, text: str, dialect: str) -> None:
        self.text, self.dialect = text, dialect
        self.comments: list[Comment] = []
        self._lexer = _LEXER if dialect in _WITH_BACKSLASH else _PLAIN_STRINGS
        if dialect == "sqlserver":
            self._lexer = _BRACKETED
        self._end, self._line, self._counted = ";", 1, 0
        self._begin()

    def _begin(self) -> None:
        self._from = -1
        self._blanks: list[tuple[int, int]] = []
        self._commas: list[int] = []
        self._brackets: tuple[int, int] | None = None
        self._depth = self._blocks = 0
        self._word_before = ""

    def read(self) -> Iterator[Statement]:
        """Its statements."""
        at = 0
        while at < len(self.text):
            if self._from < 0 and (switch := self._delimiter(at)):
                at = switch
                continue
            if self._end != ";" and self.text.startswith(self._end, at):
                yield from self._close(at)
                at += len(self._end)
                continue
            token = self._lexer.match(self.text, at)
            if token is None:
                at += 1
                continue
            at = self._take(token)
            if token.lastgroup == "end" and self._end == ";" and not self._blocks:
                yield from self._close(token.start())
        yield from self._close(len(self.text))

    def _delimiter(self, at: int) -> int:
        """Where the text goes on after a line that says with what statements end from there, or 0."""
        if self.dialect not in ("mariadb", "mysql"):
            return 0
        is_first = at == 0 or self.text[at - 1] == "\n"
        found = _DELIMITER.match(self.text, at) if is_first else None
        if found is None:
            return 0
        self._end = found[1]
        return found.end()

    def _take(self, token: re.Match[str]) -> int:
        """Note what a piece of the text is; where the next one begins."""
        kind, at = token.lastgroup, token.start()
        if kind == "tag":  # The group within is the last that closed.
            kind = "dollar"
        if kind == "line" and token[0].startswith("#") and self.dialect not in _WITH_HASH:
            kind = "other"
            self._start(at)
            return at + 1
        if kind in ("line", "block"):
            self.comments.append(Comment(token[0], at, token.end(), self._line_of(at)))
            self._blanks.append((at, token.end()))
            return token.end()
        if kind == "end":
            return token.end()
        if kind == "other" and (token[0] in "'\"`" or self.text.startswith("/*", at)):
            raise UnreadableText("a text, a name or a comment that begins there does not end", self._line_of(at))
        self._start(at)
        if kind == "word":
            self._word(token)
        elif kind in ("open", "close", "comma"):
            self._bracket(kind, at)
        return token.end()

    def _start(self, at: int) -> None:
        if self._from < 0:
            self._from = at
            self._blanks.clear()

    def _word(self, token: re.Match[str]) -> None:
        """Statements within a body end no statement."""
        word = token[0].upper()
        if word == "BEGIN" or (word == "CASE" and self._blocks and self._word_before != "END"):
            is_body = self._blocks or _WITH_BODY.match(self.text, self._from)
            self._blocks += bool(is_body)
        elif word == "END" and self._blocks and not _ENDS_LESS.match(self.text, token.end()):
            self._blocks -= 1
        self._word_before = word

    def _bracket(self, kind: str, at: int) -> None:
        if kind == "comma":
            if self._depth == 1 and (self._brackets is None or self._brackets[1] < 0):
                self._commas.append(at - self._from)
            return
        if kind == "open":
            self._depth += 1
            if self._depth == 1 and self._brackets is None:
                self._brackets = (at - self._from, -1)
        else:
            self._depth = max(0, self._depth - 1)
            if self._depth == 0 and self._brackets is not None and self._brackets[1] < 0:
                self._brackets = (self._brackets[0], at - self._from)

    def _close(self, at: int) -> Iterator[Statement]:
        if self._from >= 0:
            text = "".join(self._without_comments(at))
            brackets = self._brackets if self._brackets and self._brackets[1] > 0 else None
            yield Statement(text.rstrip(), self._from, self._line_of(self._from), self._commas, brackets)
        self._begin()

    def _without_comments(self, end: int) -> Iterator[str]:
        at = self._from
        for begin, after in self._blanks:
            yield self.text[at:begin]
            yield _blank(self.text[begin:after])
            at = after
        yield self.text[at:end]

    def _line_of(self, at: int) -> int:
        """Places are asked for in their order, nearly."""
        if at < self._counted:
            return self.text.count("\n", 0, at) + 1
        self._line += self.text.count("\n", self._counted, at)
        self._counted = at
        return self._line
