"""HTML in doc comments to CommonMark. Only what authors of comments use; all else is its text.

Source of the elements' meaning: HTML Living Standard, sections 4.3 to 4.5 and 4.9.
"""

from __future__ import annotations

import re
import textwrap
from collections.abc import Callable
from html import unescape

from zarbek.core.sources.markup.inline import MentionSink, code_span

_TOKEN = re.compile(
    r"(?P<tag>\{@\w+)|<!--(?:(?!<!--).)*?-->|</?(?P<name>[a-zA-Z][a-zA-Z0-9]*)(?P<attrs>\s[^<>]*|/?)>"
    r"|(?P<entity>&\#?\w+;)|(?P<special>[\\`*_\[\]<])|(?P<newline>\n)",
    re.DOTALL,
)
_MARKED = re.compile(r"[{<&\\`*_\[\]]")
_HREF = re.compile(r"""href\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s>]+))""", re.IGNORECASE)
_SPACE = re.compile(r"\s+")
_LEADING = re.compile(r"^(?:([#>+-])(?=\s|$)|(\d+)([.)])(?=\s))")
_EMPHASIS = {"b": "**", "strong": "**", "i": "*", "em": "*", "var": "*", "cite": "*", "dfn": "*"}
_CODE = frozenset({"code", "tt", "kbd", "samp"})
_BLOCKS = frozenset(
    "p div section br hr blockquote h1 h2 h3 h4 h5 h6 ul ol li dl dt dd table caption tr td th pre center figure "
    "thead tbody tfoot header footer aside summary para list item".split()
)
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
    return _Converter(text, line, sink, inline_tag).read()


def _safe_start(line: str) -> str:
    """A line that begins no list, heading or quotation by chance."""
    line = line.strip()
    return _LEADING.sub(lambda m: f"\\{m[1]}" if m[1] else f"{m[2]}\\{m[3]}", line) if line else ""


#: Elements whose marks say nothing to a reader of text.
_PLAIN = frozenset(("span", "font", "small", "big", "u", "abbr", "nobr", "label", "s", "q", "wbr"))


class _Converter:
    def __init__(self, text: str, line: int, sink: MentionSink, inline_tag: InlineTag) -> None:
        self.text, self.line, self.sink, self.inline_tag = text, line, sink, inline_tag
        self.blocks: list[str] = []
        self.buffer: list[str] = []
        self.marks: list[tuple[str, int, str]] = []
        self.lists: list[tuple[str, int]] = []
        self.item = ""
        self.rows: list[list[str]] | None = None
        self.quoted = 0

    def read(self) -> str:
        text, at, counted = self.text, 0, 0
        while True:
            match = _TOKEN.search(text, at)
            if match is None:
                self.buffer.append(text[at:])
                break
            if match.start() > at:
                self.buffer.append(text[at : match.start()])
            self.line += text.count("\n", counted, match.start())
            counted = match.start()
            at = self._token(match)
        self._flush()
        while self.marks:
            self.marks.pop()
        return "\n\n".join(self.blocks).strip("\n")

    def _token(self, match: re.Match[str]) -> int:
        kind = match.lastgroup
        if kind == "newline":
            self.buffer.append("\n")
        elif kind == "special":
            self.buffer.append(match[0] if self._in_code() else "\\" + match[0])
        elif kind == "entity":
            shown = unescape(match[0])
            self.buffer.append(shown if self._in_code() else escape_text(shown))
        elif match["tag"]:
            end = balanced_end(self.text, match.start())
            content = self.text[match.end() : end - 1 if self.text[end - 1] == "}" else end]
            self.buffer.append(self.inline_tag(match["tag"][2:], content, self.line))
            return end
        elif match["name"]:
            return self._element(match)
        return match.end()

    def _in_code(self) -> bool:
        return any(name in _CODE for name, _, _ in self.marks)

    # Elements -----------------------------------------------------------------------------

    def _element(self, match: re.Match[str]) -> int:
        name, closes = match["name"].lower(), match[0].startswith("</")
        if name in _BLOCKS:
            return self._block(name, closes, match)
        if name in _CODE or name in _EMPHASIS or name in ("a", "sup", "sub"):
            self._mark(name, closes, match)
        elif name == "img":
            alt = re.search(r"alt\s*=\s*[\"']([^\"']*)", match["attrs"] or "")
            self.buffer.append(escape_text(alt[1]) if alt else "")
        elif name in ("script", "style") and not closes:
            end = re.compile(rf"</{name}\s*>", re.IGNORECASE).search(self.text, match.end())
            return end.end() if end else len(self.text)
        elif not closes and name not in _PLAIN:
            # No element of HTML: most likely a type in angle brackets.
            self.buffer.append(escape_text(match[0]))
        return match.end()

    def _mark(self, name: str, closes: bool, match: re.Match[str]) -> None:
        if closes:
            self._close(name)
        elif not match[0].endswith("/>"):
            href = _HREF.search(match["attrs"] or "")
            target = next(filter(None, href.groups()), "") if href else ""
            self.marks.append((name, len(self.buffer), unescape(target)))

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
            self.sink.add(target, target, "url", self.line)
            return f"[{_SPACE.sub(' ', bare)}](<{target}>)"
        return inner

    def _block(self, name: str, closes: bool, match: re.Match[str]) -> int:
        if name == "pre" and not closes:
            return self._preformatted(match)
        if name in ("td", "th", "tr", "table", "caption"):
            self._table(name, closes)
            return match.end()
        if self.rows is not None:
            self.buffer.append(" ")
            return match.end()
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
        return match.end()

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

    def _preformatted(self, match: re.Match[str]) -> int:
        self._flush()
        end = re.compile(r"</pre\s*>", re.IGNORECASE).search(self.text, match.end())
        stop = end.start() if end else len(self.text)
        raw = self.text[match.end() : stop]
        code = self._raw_code(raw, self.line)
        body = textwrap.dedent(code.strip("\n")).rstrip()
        if body:
            fence = "````" if "```" in body else "```"
            indent = self._indent()
            language = "java" if "{@code" in raw else ""
            self.blocks.append("\n".join(indent + part for part in (fence + language, *body.split("\n"), fence)))
        return end.end() if end else stop

    def _raw_code(self, raw: str, line: int) -> str:
        """The text of preformatted code: tags in braces give their content, elements go."""
        out: list[str] = []
        at = 0
        for found in re.finditer(r"\{@(\w+)", raw):
            if found.start() < at:
                continue
            out.append(_bare(raw[at : found.start()]))
            end = balanced_end(raw, found.start())
            content = raw[found.end() : end - 1 if raw[end - 1] == "}" else end]
            if found[1] in ("code", "literal"):
                out.append(content[1:] if content[:1] == " " else content)
            else:
                at_line = line + raw.count("\n", 0, found.start())
                shown = self.inline_tag(found[1], content, at_line)
                label = re.match(r"\[(.*)\]\(", shown, re.DOTALL)
                out.append((label[1] if label else shown).replace("\\", "").strip("`"))
            at = end
        out.append(_bare(raw[at:]))
        return "".join(out)

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


_ELEMENT = re.compile(r"</?[a-zA-Z][^<>]*>|<!--(?:(?!<!--).)*?-->", re.DOTALL)


def _bare(text: str) -> str:
    return unescape(_ELEMENT.sub("", text)) if "<" in text or "&" in text else text
