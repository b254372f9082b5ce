"""reStructuredText blocks to CommonMark, as doc comments use them.

Source: reStructuredText specification, "Body Elements". What a doc comment cannot hold
(substitution definitions, footnote targets, comments) is left out. Never raises: text that
breaks the grammar stays as prose.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field

from zarbek.core.model.doc_text import Change, Deprecation
from zarbek.core.sources.markup.inline import MentionSink, convert_inline, fenced
from zarbek.core.sources.markup.tables import convert_grid_table, convert_simple_table

_DIRECTIVE = re.compile(r"\.\. +(?:[\w-]+:)?([\w-]+)::(?: +(.*))?$")
_NOTE = re.compile(r"\.\. +\[(#?[\w.*+-]*)\](?: +(.*))?$")
_BULLET = re.compile(r"([-*+•])( +)(?=\S)")
_NUMBER = re.compile(r"(?:\(?(\d{1,4}|#|[a-zA-Z])[.)])( +)(?=\S)")
_OPTION = re.compile(r":([\w-]+):(?: +(.*))?$")
_UNDERLINE = re.compile(r"([=\-`:'\"~^_*+#<>.])\1{2,}$")
_SIMPLE_TABLE = re.compile(r"=+(?: +=+)+ *$")
_GRID_TABLE = re.compile(r"\+(?:[-=]+\+)+ *$")
_FIELD = re.compile(r":([^:`\s][^:`]*):(?= |$)")

ADMONITIONS = {
    "note": "Note", "warning": "Warning", "tip": "Tip", "hint": "Hint", "caution": "Caution",
    "danger": "Danger", "important": "Important", "attention": "Attention", "error": "Error",
}  # fmt: skip
_CODE = frozenset({"code-block", "code", "sourcecode", "highlight", "doctest", "testcode", "parsed-literal"})
_CHANGED = {"versionadded": "added", "versionchanged": "changed", "added": "added"}


@dataclass(slots=True)
class DocFacts:
    """What directives said besides prose."""

    since: str = ""
    deprecated: Deprecation | None = None
    changes: list[Change] = field(default_factory=list)


#: What a note says that is about its element as a whole.
_OF_ALL = re.compile(
    r"\A\W*(?:\Z|(?:please )?use\b|replaced\b|renamed\b|superseded\b|moved\b|see\b|will be removed|no longer|"
    r"deprecated(?! (?:argument|parameter|keyword|option|value|flag))\b|in favou?r of|instead)|"
    r"\bthis (?:function|method|class|module|package|property|attribute|decorator|constant|exception|event|object|"
    r"feature|api|alias|type|helper|accessor|field|interface|hook|plugin|signal|option)\b[^.]{0,60}"
    r"\b(?:deprecated|legacy|obsolete|removed|superseded|replaced)",
    re.IGNORECASE,
)
#: What it says of a part of it.
_OF_A_PART = re.compile(
    r"\b(?:parameters?|arguments?|args?|kwargs?|keywords?|options?|flags?|values?|passing|passed|calling|called with|"
    r"using|usage|use of|support for|behaviou?r|default|mode|syntax|form of|when|if |positional|returning|accepting|"
    r"setting|specifying|providing|inputs?|strings?|dtype)\b",
    re.IGNORECASE,
)
#: An emphasised word is a parameter by custom: ``*hash* is deprecated``.
_PARAMETER_FIRST = re.compile(r"\*\w+\*(?!\*)")


def deprecates_all(text: str, *, is_first: bool) -> bool:
    """Whether a note of deprecation is about the whole element. is_first: it stands before everything but
    the summary."""
    sentence = re.split(r"(?<=[.!])\s", text, maxsplit=1)[0]
    if _PARAMETER_FIRST.match(text):
        return False
    if _OF_ALL.search(text) and not (_OF_A_PART.search(sentence) and not text.lower().startswith("this ")):
        return True
    return is_first and not _OF_A_PART.search(sentence)


def indent_of(line: str) -> int:
    """How many spaces a line begins with."""
    return len(line) - len(line.lstrip(" "))


def convert_blocks(lines: list[str], line: int, sink: MentionSink, facts: DocFacts | None) -> str:
    """CommonMark for dedented lines, the first of which stands on the given line of the file.

    facts: filled with what directives say of the whole symbol; None for a part of its text,
    where they speak of that part only and stay in the prose.
    """
    return "\n\n".join(_Blocks(lines, line, sink, facts).convert())


def take_indented(lines: list[str], start: int) -> tuple[list[str], int]:
    """The indented lines from start on, dedented, without outer blank lines; and where they end."""
    end = start
    while end < len(lines) and (not lines[end] or lines[end][0] == " "):
        end += 1
    stop = end
    while stop > start and not lines[stop - 1]:
        stop -= 1
    body = lines[start:stop]
    margin = min((indent_of(text) for text in body if text), default=0)
    return [text[margin:] for text in body], stop if stop > start else end


_UNSHOWN = ("only", "currentmodule", "module", "index", "toctree", "include")


class _Blocks:
    def __init__(self, lines: list[str], line: int, sink: MentionSink, facts: DocFacts | None) -> None:
        self.lines, self.line, self.sink, self.facts = lines, line, sink, facts
        self.at = self.count = 0

    def convert(self) -> list[str]:
        blocks: list[str] = []
        while self.at < len(self.lines):
            text = self.lines[self.at]
            if not text:
                self.at += 1
                continue
            block = self._block(text)
            if block:
                blocks.append(block)
                self.count += 1
        return blocks

    def _block(self, text: str) -> str:
        """By its first sign; what only looks like the beginning of something is a paragraph."""
        begin = _BY_SIGN.get(text[0], _Blocks._number_block if text[0].isalnum() else None)
        block = begin(self, text) if begin is not None else None
        return block if block is not None else self._paragraph()

    def _indented_block(self, _text: str) -> str:
        return self._quote()

    def _dots_block(self, text: str) -> str | None:
        return self._explicit(text) if text.startswith(".. ") or text == ".." else None

    def _anonymous_block(self, text: str) -> str | None:
        """A target without a name is for no reader."""
        if not text.startswith("__ "):
            return None
        _, self.at = take_indented(self.lines, self.at + 1)
        return ""

    def _prompt_block(self, text: str) -> str | None:
        return self._doctest() if text.startswith(">>>") else None

    def _bullet_block(self, text: str) -> str | None:
        bullet = _BULLET.match(text)
        if bullet:
            return self._list("- ", _BULLET)
        return self._grid_block(text) if text[0] == "+" else None

    def _simple_block(self, text: str) -> str | None:
        return self._table(convert_simple_table, self._simple_table_end()) if _SIMPLE_TABLE.match(text) else None

    def _grid_block(self, text: str) -> str | None:
        return self._table(convert_grid_table, self._grid_table_end()) if _GRID_TABLE.match(text) else None

    def _bar_block(self, text: str) -> str | None:
        return self._line_block() if text[1:2] == " " else None

    def _fence_block(self, text: str) -> str | None:
        return self._fence() if text.startswith("```") else None

    def _number_block(self, text: str) -> str | None:
        number = _NUMBER.match(text)
        following = self.lines[self.at + 1] if self.at + 1 < len(self.lines) else ""
        if number is None or (number[1].isalpha() and following[:1].strip() and not _NUMBER.match(following)):
            return None  # Initials and the like: the second line of an item is indented.
        found = self._list("1. ", _NUMBER)
        return f"{number[1]}. " + found[3:] if number[1].isdecimal() and len(number[1]) == 1 else found

    def _colon_block(self, text: str) -> str | None:
        return self._field() if _FIELD.match(text) else None

    def _nested(self, lines: list[str], start: int) -> str:
        return convert_blocks(lines, self.line + start, self.sink, None)

    def _inline(self, text: str, start: int) -> str:
        return convert_inline(text, self.line + start, self.sink)

    def _quote(self) -> str:
        start = self.at
        body, self.at = take_indented(self.lines, start)
        return prefix(self._nested(body, start), "> ", "> ")

    def _doctest(self) -> str:
        start = self.at
        while self.at < len(self.lines) and self.lines[self.at]:
            self.at += 1
        return fenced(self.lines[start : self.at], "pycon")

    def _fence(self) -> str:
        start = self.at
        self.at += 1
        while self.at < len(self.lines) and not self.lines[self.at].startswith("```"):
            self.at += 1
        self.at += 1
        return "\n".join(self.lines[start : self.at])

    def _line_block(self) -> str:
        start = self.at
        while self.at < len(self.lines) and self.lines[self.at][:1] in ("|", " "):
            self.at += 1
        rows = [row.lstrip("| ") for row in self.lines[start : self.at]]
        return "\\\n".join(self._inline(row, start + i) for i, row in enumerate(rows) if row)

    def _list(self, marker: str, pattern: re.Pattern[str]) -> str:
        items: list[str] = []
        loose = False
        while self.at < len(self.lines) and (match := pattern.match(self.lines[self.at])):
            start, width = self.at, match.end()
            body, end = take_indented(self.lines, start + 1)
            raw = self.lines[start + 1 : end]
            inner = [self.lines[start][width:]]
            inner += [t[min(width, indent_of(t)) :] for t in raw] if body else []
            items.append(prefix(self._nested(inner, start), marker, " " * len(marker)))
            self.at = end
            blank = self.at
            while blank < len(self.lines) and not self.lines[blank]:
                blank += 1
            if blank < len(self.lines) and pattern.match(self.lines[blank]):
                loose = loose or blank > self.at
                self.at = blank
        return ("\n\n" if loose else "\n").join(items)

    def _field(self) -> str:
        start = self.at
        match = _FIELD.match(self.lines[start])
        assert match is not None
        body, end = take_indented(self.lines, start + 1)
        self.at = max(end, start + 1)
        first = self.lines[start][match.end() :].strip()
        return f"**{self._inline(match[1], start)}:** " + self._nested([first, *body] if first else body, start)

    def _paragraph(self) -> str:
        start, lines = self.at, self.lines
        end = self._paragraph_end()
        if end - start >= 2 and _UNDERLINE.match(lines[start + 1]):
            self.at = start + 2
            return f"**{self._inline(lines[start], start)}**"
        if _UNDERLINE.match(lines[start]):
            self.at = start + 1
            return ""
        if end < len(lines) and lines[end][:1] == " ":
            if end - start == 1 and not lines[start].endswith("::"):
                return self._definition()
            # An unexpected indent inside a paragraph: keep the words together.
            while end < len(lines) and lines[end]:
                end += 1
        self.at = end
        text = "\n".join(part.strip() for part in lines[start:end])
        return self._before_literal(text, start) if text.endswith("::") else escape_start(self._inline(text, start))

    def _paragraph_end(self) -> int:
        """Where a blank or indented line, or a directive, ends what begins here."""
        lines, end = self.lines, self.at + 1
        while end < len(lines) and lines[end] and lines[end][0] != " ":
            if lines[end].startswith(".. ") and _DIRECTIVE.match(lines[end]):
                break
            end += 1
        return end

    def _before_literal(self, text: str, start: int) -> str:
        prose = text[:-2].rstrip()
        prose = self._inline(prose + ("" if text[-3:-2].isspace() or not prose else ":"), start)
        body, end = take_indented(self.lines, self.at)
        if not body or not any(body):
            return escape_start(prose)
        while body and not body[0]:
            body.pop(0)
        self.at = end
        language = "pycon" if body[0].startswith(">>>") else ""
        return (escape_start(prose) + "\n\n" if prose.strip(":") else "") + fenced(body, language)

    def _definition(self) -> str:
        items: list[str] = []
        while self.at + 1 < len(self.lines) and self.lines[self.at][:1] not in (" ", ""):
            if self.lines[self.at + 1][:1] != " ":
                break
            start = self.at
            body, self.at = take_indented(self.lines, start + 1)
            term = self._inline(self.lines[start], start)
            bold = term if "`" in term or "*" in term else f"**{term}**"
            items.append(prefix(bold + "\n\n" + self._nested(body, start + 1), "- ", "  "))
            while self.at < len(self.lines) and not self.lines[self.at]:
                self.at += 1
        return "\n\n".join(items)

    def _explicit(self, text: str) -> str:
        start = self.at
        match = _DIRECTIVE.match(text)
        body, self.at = take_indented(self.lines, start + 1)
        self.at = max(self.at, start + 1)
        if match is None:
            return self._note(text, body, start)
        raw = self.lines[start + 1 : self.at]
        lead = next((i for i, row in enumerate(raw) if row), 0)
        return self._directive(match[1].lower(), (match[2] or "").strip(), body[lead:], start + 1 + lead)

    def _note(self, text: str, body: list[str], start: int) -> str:
        """A footnote or citation as an entry of a list; comments and targets are for no reader."""
        note = _NOTE.match(text)
        if note is None:
            return ""
        inner = self._titled(note[2] or "", body, start + 1)  # Its first words are no beginning of a list.
        return prefix(f"\\[{note[1].lstrip('#') or '#'}\\] {inner}", "- ", "  ")

    def _directive(self, name: str, argument: str, body: list[str], start: int) -> str:
        alt = next((m[2] or "" for row in body if (m := _OPTION.match(row)) and m[1] == "alt"), "")
        body, start = _without_options(body, start)
        if name in ("image", "figure"):  # What it shows is told by its words.
            return "\n\n".join(filter(None, (f"*{escape_start(alt)}*" if alt else "", self._nested(body, start))))
        if name in _CODE:
            return fenced(body, "python" if argument in ("", "python3") else argument.split()[0])
        if name == "math":
            return fenced(([argument] if argument else []) + body, "math")
        if name == "deprecated":
            return self._deprecated(argument, body, start)
        if name in _CHANGED:
            return self._changed(_CHANGED[name], argument, body, start)
        return "" if name in _UNSHOWN else self._admonition(name, argument, body, start)

    def _admonition(self, name: str, argument: str, body: list[str], start: int) -> str:
        """An admonition, or a part with a title."""
        if name in ("rubric", "topic", "admonition"):
            title = self._inline(argument, start - 1)
            return f"**{title}**" + ("\n\n" + self._nested(body, start) if body else "")
        text = self._titled(argument, body, start)
        if name == "seealso":
            return prefix("**See also** " + text, "> ", "> ")
        return prefix(f"**{ADMONITIONS[name]}** {text}", "> ", "> ") if name in ADMONITIONS else text

    def _titled(self, argument: str, body: list[str], start: int) -> str:
        if not argument:
            return self._nested(body, start)
        joined = [argument]
        while body and body[0]:
            joined.append(body.pop(0))
            start += 1
        rest = self._nested(body, start) if body else ""
        return self._inline("\n".join(joined), start - len(joined)) + ("\n\n" + rest if rest else "")

    def _deprecated(self, argument: str, body: list[str], start: int) -> str:
        version, _, more = argument.partition(" ")
        version = version.rstrip(".,:")
        text = self._titled(more, body, start)
        # Most notes are about one parameter, value or way of calling; those stay where they stand.
        if self.facts is None or not deprecates_all(text, is_first=self.count < 2 and not self.facts.changes):
            return f"**Deprecated since {version}.** {text}".strip()
        self.facts.deprecated = Deprecation(since=version, text=text, instead=instead_in(text))
        return ""

    def _changed(self, change: str, argument: str, body: list[str], start: int) -> str:
        version, _, more = argument.partition(" ")
        version = version.rstrip(".,:")
        text = self._titled(more, body, start)
        if self.facts is None:
            return f"**{change.capitalize()} in {version}.** {text}".strip()
        if change == "added" and not text and not self.facts.since:
            self.facts.since = version
        else:
            self.facts.changes.append(Change(version, text))
        return ""

    def _simple_table_end(self) -> int:
        borders, at = 0, self.at
        while at < len(self.lines):
            if _SIMPLE_TABLE.match(self.lines[at]):
                borders += 1
                after_blank = at + 1 >= len(self.lines) or not self.lines[at + 1]
                if borders >= 2 and after_blank:
                    return at + 1
            at += 1
        return self.at + 1

    def _grid_table_end(self) -> int:
        at = self.at
        while at < len(self.lines) and self.lines[at][:1] in ("+", "|"):
            at += 1
        return at

    def _table(self, convert, end: int) -> str:  # type: ignore[no-untyped-def]
        start = self.at
        self.at = end
        rows = self.lines[start:end]
        return convert(rows, lambda text: self._inline(text, start)) or fenced(rows, "")


#: First sign of a block to what it may be the beginning of.
_BY_SIGN: dict[str, Callable[[_Blocks, str], str | None]] = {
    " ": _Blocks._indented_block,
    ".": _Blocks._dots_block,
    "_": _Blocks._anonymous_block,
    ">": _Blocks._prompt_block,
    "-": _Blocks._bullet_block,
    "*": _Blocks._bullet_block,
    "+": _Blocks._bullet_block,
    "•": _Blocks._bullet_block,
    "=": _Blocks._simple_block,
    "|": _Blocks._bar_block,
    "`": _Blocks._fence_block,
    "(": _Blocks._number_block,
    "#": _Blocks._number_block,
    ":": _Blocks._colon_block,
}


_INSTEAD = re.compile(r"(?:[Uu]se|[Pp]lease use|[Rr]eplaced by|[Ss]ee|in favou?r of)\s+(?:the\s+)?(?:\[?`+([^`]+)`+)")


def instead_in(text: str) -> str:
    """The name that a deprecation text tells to use, or empty."""
    match = _INSTEAD.search(text)
    return match[1].strip("~.() ") if match else ""


def _without_options(body: list[str], start: int) -> tuple[list[str], int]:
    taken = 0
    while taken < len(body) and _OPTION.match(body[taken]):
        taken += 1
    while taken and taken < len(body) and not body[taken]:
        taken += 1
    return body[taken:], start + taken


def escape_start(text: str) -> str:
    """The text with a first character that CommonMark would take for a block escaped."""
    if text[:1] in "#>" or (text[:1] in "+-*" and text[1:2] == " "):
        return "\\" + text
    return text


def prefix(text: str, first: str, rest: str) -> str:
    """Each line of a text with something before it: first before the first, rest before the others."""
    return "\n".join(
        (first if i == 0 else rest) + line if line or i == 0 else rest.rstrip()
        for i, line in enumerate(text.split("\n"))
    )
