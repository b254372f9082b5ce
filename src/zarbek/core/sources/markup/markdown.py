"""Mentions in Markdown doc comments. The text itself is CommonMark already and stays as it is."""

from __future__ import annotations

import re

from markdown_it import MarkdownIt

from zarbek.core.sources.markup.inline import MentionSink

_FENCE = re.compile(r" {0,3}(`{3,}|~{3,})")
_INLINE = re.compile(
    r"(?<!`)(?P<ticks>`++)(?P<code>.+?)(?<!`)(?P=ticks)(?!`)"
    r"|\[(?P<title>[^\[\]\n]*)\]\((?:<(?P<spaced>[^>\n]+)>|(?P<target>[^)\s>]{1,2000}))(?:\s+\"[^\"]*\")?\)"
    r"|(?P<url>\bhttps?://[^\s<>\"'`\])]*[^\s<>\"'`\]).,;:!?])"
)
_CODE_INDENT = ("    ", "\t")
#: The structure of a text alone: what stands in its paragraphs is not parsed.
_BLOCKS = MarkdownIt("commonmark")
_BLOCKS.core.ruler.disable("inline")
_NAME = re.compile(r"[A-Za-z_][\w.]*(\(\))?\Z")
_MARKDOWN_SIGNS = re.compile(r"^ {0,3}(```|~~~|#{1,6} )|\]\((?!<)\S{1,2000}?\)|\[[^\[\]]+\]\[", re.MULTILINE)
_RST_SIGNS = re.compile(r"(?<![\w:]):[\w:]+:`|^\.\. |::$|``[^`\n]+``|`_\b", re.MULTILINE)


def looks_like_markdown(text: str) -> bool:
    """Whether a doc comment is Markdown rather than reStructuredText."""
    may_be = "](" in text or "][" in text or "#" in text or "```" in text or "~~~" in text
    return may_be and _MARKDOWN_SIGNS.search(text) is not None and _RST_SIGNS.search(text.replace("```", "")) is None


def convert_markdown(lines: list[str], line: int, sink: MentionSink) -> str:
    """The text as it is; its mentions go to the sink."""
    for index in prose_lines(lines):
        text = lines[index]
        if "`" in text or "](" in text or "://" in text:
            _mentions_in(text, line + index, sink)
    return "\n".join(lines)


def prose_lines(lines: list[str]) -> list[int]:
    """Indexes of the lines that stand in no code."""
    found: list[int] = []
    fence = ""
    code = indented_code(lines)
    for index, text in enumerate(lines):
        if index in code:
            continue
        opened = _FENCE.match(text)
        if fence:
            if opened and opened[1].startswith(fence):
                fence = ""
        elif opened:
            fence = opened[1]
        else:
            found.append(index)
    return found


def indented_code(lines: list[str]) -> set[int]:
    """Indexes of the lines of indented code blocks (CommonMark 0.31, section 4.4).

    What is indented below a list item or a paragraph is none, so that the text is parsed where it may have one.
    """
    if not any(text.startswith(_CODE_INDENT) and text.strip() for text in lines):
        return set()
    tokens = _BLOCKS.parse("\n".join(lines))
    return {line for token in tokens if token.type == "code_block" and token.map for line in range(*token.map)}


def _mentions_in(text: str, line: int, sink: MentionSink) -> None:
    for match in _INLINE.finditer(text):
        if match["code"] is not None:
            name = match["code"].strip()
            if _NAME.match(name):
                sink.add(name, name, "code", line)
        elif match["url"]:
            sink.add(match["url"], match["url"], "url", line)
            continue
        target = match["spaced"] or match["target"] or ""
        if target.startswith("api:"):
            sink.add(target, target, "link", line)
        elif target.startswith(("http://", "https://")):
            sink.add(target, target, "url", line)
