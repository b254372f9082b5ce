"""HTML in doc comments to CommonMark. Only what authors of comments use; all else is its text.

Sources: HTML Living Standard, sections 4.3 to 4.5 and 4.9 for what elements mean, 13.2.5 for how they are written.
"""

from __future__ import annotations

import re
import textwrap
from collections.abc import Callable
from dataclasses import dataclass
from html import unescape
from html.parser import HTMLParser

from zarbek.core.sources.markup.inline import MentionSink, code_span

_MARKED = re.compile(r"[{<&\\`*_\[\]]")
_SPACE = re.compile(r"\s+")
_LEADING = re.compile(r"^(?:([#>+-])(?=\s|$)|(\d+)([.)])(?=\s))")
_EMPHASIS = {"b": "**", "strong": "**", "i": "*", "em": "*", "var": "*", "cite": "*", "dfn": "*"}
_CODE = frozenset({"code", "tt", "kbd", "samp"})
_BLOCKS = frozenset(
    "p div section br hr blockquote h1 h2 h3 h4 h5 h6 ul ol li dl dt dd table caption tr td th pre center figure "
    "thead tbody tfoot header footer aside summary para list item".split()
)
#: What stands for a tag in braces while HTML is read, with the line ends that it holds: Unicode's private use area.
_HELD = re.compile("\ue000(\\d+)\n*\ue001")
_PRIVATE = re.compile("[\ue000\ue001]")
#: A declaration or marked section: not of a comment's HTML.
_DECLARED = re.compile("<!(?!--)")
_BRACED = re.compile(r"\{@(\w+)")
#: Reads an inline tag: (tag name, content, line) to CommonMark.
InlineTag = Callable[[str, str, int], str]


def escape_text(text: str) -> str:
    """Plain words as CommonMark that shows them as they are."""
    if _MARKED.search(text):
        text = re.sub(r"[\\`*_\[\]<]", r"\\\g<0>", text)
    return text


def balanced_end(text: str, start: int) -> int:
    """The index after the brace that closes the one at start; the text's end if none does."""
    depth = 0
    at = start
    while True:
        opened, closed = text.find("{", at), text.find("}", at)
        if closed < 0:
            return len(text)
        if 0 <= opened < closed:
            depth += 1
            at = opened + 1
            continue
        depth -= 1
        at = closed + 1
        if depth == 0:
            return at


def convert_html(text: str, line: int, sink: MentionSink, inline_tag: InlineTag) -> str:
    """CommonMark of a text that starts on a file line; mentions go to the sink."""
    if not _MARKED.search(text):
        return "\n".join(map(_safe_start, text.strip().split("\n")))
    return _Converter(line, sink, inline_tag).read(text)


def _safe_start(line: str) -> str:
    """A line that begins no list, heading or quotation by chance."""
    line = line.strip()
    return _LEADING.sub(lambda m: f"\\{m[1]}" if m[1] else f"{m[2]}\\{m[3]}", line) if line else ""


#: Elements whose marks say nothing to a reader of text.
_PLAIN = frozenset(("span", "font", "small", "big", "u", "abbr", "nobr", "label", "s", "q", "wbr"))
#: A block of code that a tag in braces gave; a span of code is one line.
_CODE_BLOCK = re.compile(r"`{3,}\w*\n(.*)\n`{3,}", re.DOTALL)
_MARKS = _CODE | _EMPHASIS.keys() | {"a", "sup", "sub"}
_ELEMENTS = _BLOCKS | _MARKS | _PLAIN | {"img"}


@dataclass(frozen=True, slots=True)
class _Braced:
    """A tag in braces: its name, content, text as written and line."""

    name: str
    content: str
    text: str
    line: int


class _Converter(HTMLParser):
    def __init__(self, line: int, sink: MentionSink, inline_tag: InlineTag) -> None:
        super().__init__()
        self.first, self.sink, self.inline_tag = line, sink, inline_tag
        self.braced: list[_Braced] = []
        self.blocks: list[str] = []
        self.buffer: list[str] = []
        self.marks: list[tuple[str, int, str]] = []
        self.lists: list[tuple[str, int]] = []
        self.item = ""
        self.rows: list[list[str]] | None = None
        #: The text of preformatted code, while in it.
        self.code: list[str] | None = None
        self.is_java = False
        self.quoted = 0
        #: Elements of which nothing is shown: what opens one and is never closed is no element.
        self.silent: set[str] = set()

    def read(self, text: str) -> str:
        """The whole of a text. What cannot hold an element any more is not looked at for one."""
        text = _DECLARED.sub("&lt;!", self._hold(_PRIVATE.sub("", text)))
        lowered = text.lower()
        self.silent = {name for name in ("script", "style") if f"</{name}" in lowered}
        last = text.rfind(">") + 1
        if last:
            self.feed(text[:last])
            self.close()
        self.handle_data(unescape(text[last:]))
        if self.code is not None:
            self._end_code()
        self._flush()
        return "\n\n".join(self.blocks).strip("\n")

    def _hold(self, text: str) -> str:
        """The text with each tag in braces held apart: to HTML its content is nothing."""
        out: list[str] = []
        at, line = 0, self.first
        while found := _BRACED.search(text, at):
            start, end = found.start(), balanced_end(text, found.start())
            line += text.count("\n", at, start)
            content = text[found.end() : end - 1 if text[end - 1] == "}" else end]
            whole = text[start:end]
            lines = whole.count("\n")
            out += [text[at:start], "\ue000", str(len(self.braced)), "\n" * lines, "\ue001"]
            self.braced.append(_Braced(found[1], content, whole, line))
            at, line = end, line + lines
        return "".join(out) + text[at:]

    def _as_written(self, text: str) -> str:
        return _HELD.sub(lambda m: self.braced[int(m[1])].text, text)

    # What the parser finds --------------------------------------------------------------------

    def handle_data(self, data: str) -> None:
        """Text between elements, its references to characters resolved."""
        if self.cdata_elem is not None:
            return  # Of a script or style.
        at = 0
        for held in _HELD.finditer(data):
            self._text(data[at : held.start()])
            self._tag(self.braced[int(held[1])])
            at = held.end()
        self._text(data[at:])

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self._element(tag, dict(reversed(attrs)), closes=False)

    def handle_startendtag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag not in _MARKS:
            self._element(tag, dict(reversed(attrs)), closes=False)

    def handle_endtag(self, tag: str) -> None:
        self._element(tag, {}, closes=True)

    def set_cdata_mode(self, elem: str, **options: bool) -> None:
        if elem in self.silent:
            super().set_cdata_mode(elem, **options)

    def handle_pi(self, data: str) -> None:
        """To HTML a bogus comment; to authors most likely an argument of a type."""
        self._text(self._as_written(f"<?{data}>"))

    def _text(self, text: str) -> None:
        if self.code is not None:
            self.code.append(text)
        elif text:
            self.buffer.append(text if self._in_code() else escape_text(text))

    def _tag(self, tag: _Braced) -> None:
        if self.code is not None and tag.name in ("code", "literal"):
            self.is_java |= tag.name == "code"
            self.code.append(tag.content[1:] if tag.content[:1] == " " else tag.content)
            return
        shown = self.inline_tag(tag.name, tag.content, tag.line)
        block = _CODE_BLOCK.fullmatch(shown)
        if self.code is not None:
            label = re.match(r"\[(.*)\]\(", shown, re.DOTALL)
            self.code.append(block[1] if block else (label[1] if label else shown).replace("\\", "").strip("`"))
        elif block and self.rows is None:
            self._flush()
            self.blocks.append("\n".join(self._indent() + part for part in shown.split("\n")))
        else:
            self.buffer.append(code_span(block[1]) if block else shown)

    def _in_code(self) -> bool:
        return any(name in _CODE for name, _, _ in self.marks)

    # Elements -----------------------------------------------------------------------------

    def _element(self, name: str, attributes: dict[str, str | None], *, closes: bool) -> None:
        if self.code is not None:
            self._within_code(name, closes)
        elif name in _BLOCKS:
            self._block(name, closes)
        elif name in _MARKS:
            if closes:
                self._close(name)
            else:
                self.marks.append((name, len(self.buffer), self._as_written(attributes.get("href") or "")))
        elif name == "img":
            self.buffer.append(escape_text(self._as_written(attributes.get("alt") or "")))
        elif not closes and name not in _PLAIN and name not in self.silent:
            self._text(self._as_written(self.get_starttag_text() or ""))  # No element: most likely a type.

    def _within_code(self, name: str, closes: bool) -> None:
        """In preformatted code elements go, and only its end ends it."""
        if name == "pre" and closes:
            self._end_code()
        elif not closes and name not in _ELEMENTS and name not in self.silent:
            self._text(self._as_written(self.get_starttag_text() or ""))

    def _close(self, name: str) -> None:
        at = next((i for i in range(len(self.marks) - 1, -1, -1) if self.marks[i][0] == name), None)
        if at is None:
            return
        _, start, target = self.marks[at]
        del self.marks[at:]
        inner = "".join(self.buffer[start:])
        del self.buffer[start:]
        self.buffer.append(self._marked(name, inner, target))

    def _marked(self, name: str, inner: str, target: str) -> str:
        bare = inner.strip()
        if not bare:
            return inner
        if name in _CODE:
            return inner if "](" in inner or "`" in inner else code_span(bare)
        if name in _EMPHASIS:
            mark = _EMPHASIS[name]
            lead = " " if inner[:1].isspace() else ""
            tail = " " if inner[-1:].isspace() else ""
            return f"{lead}{mark}{bare}{mark}{tail}"
        if name in ("sup", "sub"):
            sign = "^" if name == "sup" else "\\_"
            return f"{sign}{bare}" if len(bare) == 1 or bare.isdigit() else f"{sign}({bare})"
        if target.startswith(("http://", "https://")) and not re.search(r"[\s<>]", target):
            self.sink.add(target, target, "url", self.first + self.getpos()[0] - 1)
            return f"[{_SPACE.sub(' ', bare)}](<{target}>)"
        return inner

    def _block(self, name: str, closes: bool) -> None:
        if name == "pre" and not closes:
            self._flush()
            self.code, self.is_java = [], False
            return
        if name in ("td", "th", "tr", "table", "caption"):
            self._table(name, closes)
            return
        if self.rows is not None:
            self.buffer.append(" ")
            return
        self._flush()
        if name in ("ul", "ol", "dl"):
            self._list(name, closes)
        elif name in ("li", "dd") and not closes:
            self._begin_item()
        elif name == "dt":
            self.item = ""
        elif name == "blockquote":
            self.quoted = max(self.quoted + (-1 if closes else 1), 0)
        elif name == "hr":
            self.blocks.append(self._indent() + "---")
        elif not closes and re.fullmatch(r"h\d", name):
            self.item = "#" * max(int(name[1]) - 1, 1) + " "

    def _begin_item(self) -> None:
        kind, number = self.lists.pop() if self.lists else ("ul", 0)
        self.lists.append((kind, number + 1))
        self.item = f"{number + 1}. " if kind == "ol" else "- "

    def _indent(self) -> str:
        depth = len(self.lists) - (1 if self.item.strip()[:1] in ("-", *"0123456789") and self.item else 0)
        return "> " * self.quoted + "".join("   " if kind == "ol" else "  " for kind, _ in self.lists[: max(depth, 0)])

    def _flush(self) -> None:
        """End the paragraph at hand."""
        joined = "".join(self.buffer)
        self.buffer = []
        self.marks = [(name, 0, target) for name, _, target in self.marks if name == "a"][:0]
        text = "\n".join(filter(None, (part.strip() for part in joined.split("\n"))))
        if not text:
            return
        if self.item.startswith("#"):
            text = text.replace("\n", " ")
        text = "\n".join(map(_safe_start, text.split("\n")))
        indent = self._indent()
        below = indent + " " * (len(self.item) if not self.item.startswith("#") else 0)
        lines = text.split("\n")
        block = "\n".join([indent + self.item + lines[0], *(below + part for part in lines[1:])])
        is_item = self.item[:1] in ("-", *"0123456789") and bool(self.item)
        if is_item and self.blocks and re.match(r"\s*(?:[-]|\d+\.) ", self.blocks[-1]):
            self.blocks[-1] += "\n" + block
        else:
            self.blocks.append(block)
        self.item = ""

    def _end_code(self) -> None:
        code, self.code = "".join(self.code or []), None
        body = textwrap.dedent(code.strip("\n")).rstrip()
        if body:
            fence = "````" if "```" in body else "```"
            indent = self._indent()
            language = "java" if self.is_java else ""
            self.blocks.append("\n".join(indent + part for part in (fence + language, *body.split("\n"), fence)))

    def _table(self, name: str, closes: bool) -> None:
        if name == "table":
            self._whole_table(closes)
        elif self.rows is None:
            self._flush()
        elif name == "caption":
            self._caption(closes)
        else:
            self._end_cell()
            if not closes and (name == "tr" or not self.rows):
                self.rows.append([])
            if not closes and name != "tr":
                self.buffer, self.marks = [], []
                self.rows[-1].append("")

    def _whole_table(self, closes: bool) -> None:
        if closes and self.rows is not None:
            self._end_cell()
            rows, self.rows = self.rows, None
            self._emit_table([row for row in rows if row])
        elif not closes:
            self._flush()
            self.rows = []

    def _caption(self, closes: bool) -> None:
        title = _SPACE.sub(" ", "".join(self.buffer)).strip()
        if closes and title:
            self.blocks.append(f"{self._indent()}**{title}**" if "*" not in title else self._indent() + title)
        self.buffer, self.marks = [], []

    def _list(self, name: str, closes: bool) -> None:
        if not closes:
            self.lists.append((name, 0))
        elif self.lists:
            self.lists.pop()

    def _end_cell(self) -> None:
        text = _SPACE.sub(" ", "".join(self.buffer)).strip()
        if self.rows and self.rows[-1] and text:
            self.rows[-1][-1] = text.replace("|", "\\|")
        self.buffer, self.marks = [], []

    def _emit_table(self, rows: list[list[str]]) -> None:
        if not rows:
            return
        width = max(map(len, rows))
        padded = [row + [""] * (width - len(row)) for row in rows]
        lines = ["| " + " | ".join(row) + " |" for row in padded]
        lines.insert(1, "|" + " --- |" * width)
        indent = self._indent()
        self.blocks.append("\n".join(indent + part for part in lines))
