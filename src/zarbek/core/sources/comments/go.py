"""Go's documentation comments. Source: go.dev, "Go Doc Comments" (paragraphs, headings, lists,
code blocks, link targets, doc links, deprecations)."""

from __future__ import annotations

import re

from zarbek.core.model.doc_text import Deprecation, Doc, Section
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.markup.html import escape_text
from zarbek.core.sources.markup.inline import MentionSink

_DEFINITION = re.compile(r"^\[([^\]]+)\]:\s+(\S+)\s*$")
_HEADING = re.compile(r"^# (\S.*)$")
_ITEM = re.compile(r"^\s*(?:([-*+•])|(\d+)[.)])\s+(.*)$")
_DEPRECATED = re.compile(r"^Deprecated:\s*(.*)$", re.DOTALL)
_INLINE = re.compile(
    r"(?<![\w\])])\[(?P<name>\*?[A-Za-z_][\w./-]*)\](?![\w\[(])"
    r"|\[(?P<label>[^\[\]]+)\](?![\w(])"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
    r"|(?P<special>[\\`*_\[\]<])"
)


def read_go_comment(lines: list[str], line: int, sink: MentionSink, known: frozenset[str]) -> Doc:
    """known: names of the packages that the file imports; with exported names, what may be linked."""
    return _Reader(lines, line, sink, known).read()


class _Reader:
    def __init__(self, lines: list[str], line: int, sink: MentionSink, known: frozenset[str]) -> None:
        self.lines, self.line, self.sink, self.known = lines, line, sink, known
        self.links = {m[1]: m[2] for m in map(_DEFINITION.match, lines) if m}
        self.deprecated: Deprecation | None = None

    def read(self) -> Doc:
        parts: list[tuple[str, list[str]]] = [("", [])]
        at = 0
        while at < len(self.lines):
            text = self.lines[at]
            heading = _HEADING.match(text)
            if not text.strip() or _DEFINITION.match(text):
                at += 1
            elif heading and self._stands_alone(at):
                parts.append((heading[1], []))
                at += 1
            else:
                at = self._block(at, parts[-1][1])
        summary, body = split_summary("\n\n".join(parts[0][1]))
        sections = [Section("free", "\n\n".join(blocks), title) for title, blocks in parts[1:]]
        return Doc(summary=summary, body=body, sections=sections, deprecated=self.deprecated, line=self.line)

    def _stands_alone(self, at: int) -> bool:
        before = self.lines[at - 1].strip() if at else ""
        after = self.lines[at + 1].strip() if at + 1 < len(self.lines) else ""
        return not before and not after

    def _block(self, at: int, out: list[str]) -> int:
        """One paragraph, list or code block; where it ends."""
        if self.lines[at][:1] in (" ", "\t"):
            return self._list(at, out) if _ITEM.match(self.lines[at]) else self._code(at, out)
        end = at
        while end < len(self.lines) and self.lines[end].strip() and self.lines[end][:1] not in (" ", "\t"):
            if end > at and (_DEFINITION.match(self.lines[end])):
                break
            end += 1
        text = "\n".join(self.lines[at:end])
        deprecated = _DEPRECATED.match(text)
        if deprecated:
            self._deprecated(deprecated[1], at)
        else:
            out.append(self._inline(text, self.line + at))
        return end

    def _deprecated(self, text: str, at: int) -> None:
        shown = self._inline(text, self.line + at)
        plain = re.search(r"\b[Uu]se (?:the )?(?:package |method |function |type )?\[?\*?([A-Za-z_][\w.]*\w)\]?", text)
        self.deprecated = Deprecation("", shown, plain[1] if plain else find_instead(shown))

    def _code(self, at: int, out: list[str]) -> int:
        end = at
        while end < len(self.lines) and (not self.lines[end].strip() or self.lines[end][:1] in (" ", "\t")):
            end += 1
        body = self.lines[at:end]
        while body and not body[-1].strip():
            body.pop()
        margin = min(len(t) - len(t.lstrip()) for t in body if t.strip())
        out.append("\n".join(["```go", *(t[margin:] for t in body), "```"]))
        return end

    def _list(self, at: int, out: list[str]) -> int:
        rows: list[str] = []
        while at < len(self.lines) and (self.lines[at][:1] in (" ", "\t") or not self.lines[at].strip()):
            if not self.lines[at].strip():
                if (
                    at + 1 < len(self.lines)
                    and _ITEM.match(self.lines[at + 1])
                    and self.lines[at + 1][:1] in (" ", "\t")
                ):
                    at += 1
                    continue
                break
            item = _ITEM.match(self.lines[at])
            if item:
                rows.append((f"{item[2]}. " if item[2] else "- ") + self._inline(item[3], self.line + at))
            elif rows:
                rows.append("  " + self._inline(self.lines[at].strip(), self.line + at))
            at += 1
        out.append("\n".join(rows))
        return at

    def _inline(self, text: str, line: int) -> str:
        def replace(m: re.Match[str]) -> str:
            at = line + text.count("\n", 0, m.start())
            if m["url"]:
                self.sink.add(m["url"], m["url"], "url", at)
                return f"<{m['url']}>"
            if m["special"]:
                return "\\" + m["special"]
            name = m["name"] or m["label"]
            if name in self.links:
                self.sink.add(self.links[name], self.links[name], "url", at)
                return f"[{escape_text(name)}](<{self.links[name]}>)"
            if m["name"] and self._is_link(name):
                bare = name.lstrip("*")
                self.sink.add(name, bare, "link", at)
                return f"[{escape_text(name)}]({address_of(bare)})"
            return f"\\[{escape_text(name)}\\]"

        return _INLINE.sub(replace, text)

    def _is_link(self, name: str) -> bool:
        """Doc links name exported identifiers, imported packages, or packages by their whole path."""
        bare = name.lstrip("*")
        head, dot, _ = bare.partition(".")
        if "/" in bare:
            return "." in bare.partition("/")[0]
        if dot:
            return bare.rpartition(".")[2][:1].isupper() and (head[:1].isupper() or head in self.known)
        return head[:1].isupper() or head in self.known
