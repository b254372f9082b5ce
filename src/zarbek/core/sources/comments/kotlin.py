"""Kotlin's documentation comments: Markdown with names in brackets, and block tags.
Source: Kotlin documentation, "Document Kotlin code: KDoc syntax"."""

from __future__ import annotations

import re

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import JAVA_TAGS, Dialect, TaggedDoc, read_tagged
from zarbek.core.sources.comments.comment_blocks import block_lines, trim
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import prose_lines

_NAME = r"[A-Za-z_][\w]*(?:\.[A-Za-z_]\w*)*"
_INLINE = re.compile(
    rf"(?<!`)(?P<ticks>`++)(?P<code>.+?)(?<!`)(?P=ticks)(?!`)|\[(?P<label>[^\[\]\n]+)\](?:\[(?P<reference>{_NAME})\]|\((?P<target>[^()\s]*)\)(?!\w))?"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
)


def read_kotlin_comment(raw: str, line: int, sink: MentionSink, parameters: frozenset[str]) -> TaggedDoc:
    """parameters: names that stand for parameters and type parameters, which have no page."""
    lines, line = trim(block_lines(raw), line)
    if not lines:
        return TaggedDoc(Doc(line=line))

    def convert(text: str, at: int, into: MentionSink) -> str:
        return _convert(text, at, into, parameters)

    return read_tagged(lines, line, sink, Dialect(JAVA_TAGS, convert, split_name=_split_name))


def _split_name(text: str) -> tuple[str, str]:
    text = text.strip()
    match = re.match(rf"\[?({_NAME})\]?", text)
    return (match[1], text[match.end() :].strip()) if match else ("", text)


def _convert(text: str, line: int, sink: MentionSink, parameters: frozenset[str]) -> str:
    rows = text.split("\n")
    for index in prose_lines(rows):
        rows[index] = _inline(rows[index], line + index, sink, parameters)
    return "\n".join(rows).strip("\n")


def _inline(text: str, line: int, sink: MentionSink, parameters: frozenset[str]) -> str:
    def replace(m: re.Match[str]) -> str:
        if m["code"] is not None:
            return m[0]
        if m["url"]:
            sink.add(m["url"], m["url"], "url", line)
            return f"<{m['url']}>"
        if m["target"] is not None:
            if m["target"].startswith(("http://", "https://")):
                sink.add(m["target"], m["target"], "url", line)
                return m[0]
            if m["target"].startswith("api:"):
                sink.add(m["target"], m["target"], "link", line)
                return m[0]
            return m["label"]
        name = m["reference"] or m["label"].strip("`")
        if not re.fullmatch(_NAME, name):
            return m[0].replace("[", "\\[")
        if name in parameters:
            return f"`{m['label']}`"
        sink.add(name, name, "link", line)
        label = m["label"] if m["reference"] else f"`{name.rpartition('.')[2] if name[:1].islower() else name}`"
        return f"[{label}]({address_of(name)})"

    return _INLINE.sub(replace, text)
