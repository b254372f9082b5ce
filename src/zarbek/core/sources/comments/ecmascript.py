"""Documentation comments of JavaScript and TypeScript: Markdown with block tags and ``{@link}``.
Sources: TypeScript handbook, "JSDoc Reference"; the TSDoc standard's tag definitions."""

from __future__ import annotations

import re

from zarbek.core.model.doc_text import INHERIT, TEXT, Doc, use_of
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import Dialect, TaggedDoc, read_tagged
from zarbek.core.sources.comments.comment_blocks import block_lines, trim
from zarbek.core.sources.markup.html import balanced_end
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import prose_lines

TAGS = {
    "param": "param", "arg": "param", "argument": "param", "typeParam": "tparam", "template": "tparam",
    "returns": "returns", "return": "returns", "yields": "yields", "yield": "yields", "throws": "raises",
    "exception": "raises", "see": "see", "since": "since", "deprecated": "deprecated", "author": "author",
    "remarks": "section", "privateRemarks": "", "example": "examples", "defaultValue": "", "default": "",
    "internal": "hidden",
    "private": "hidden", "hidden": "hidden", "ignore": "hidden", "alpha": "", "beta": "", "public": "", "protected": "",
    "packageDocumentation": "", "module": "", "fileoverview": "", "file": "", "type": "", "typedef": "", "callback": "",
    "property": "property", "prop": "property", "class": "", "constructor": "", "extends": "", "augments": "",
    "implements": "",
    "readonly": "", "override": "", "virtual": "", "sealed": "", "eventProperty": "", "enum": "", "const": "",
    "function": "",
    "method": "", "memberof": "", "name": "", "namespace": "", "interface": "", "abstract": "", "async": "",
    "license": "",
    "copyright": "", "inheritDoc": "", "inheritdoc": "", "satisfies": "", "overload": "", "export": "", "this": "",
    "todo": "section",
    "summary": "", "description": "", "desc": "", "classdesc": "",
    "note": "note", "warning": "warning", "category": "", "group": "", "experimental": "", "static": "", "version": "",
}  # fmt: skip
#: What follows these is the text of the element.
_FLAGS = frozenset(
    "summary description desc classdesc internal private hidden ignore alpha beta public protected "
    "readonly override virtual sealed eventProperty abstract async experimental static "
    "packageDocumentation overload".split()
)
_LINK = re.compile(
    r"(?:\[(?P<before>[^\[\]\n]*)\])?\{@(?P<tag>link|linkcode|linkplain|inheritDoc|inheritdoc|see|code|text)\b"
)
_INLINE = re.compile(
    r"(?<!`)(?P<ticks>`++)(?P<code>.+?)(?<!`)(?P=ticks)(?!`)|\[(?P<label>[^\[\]\n]*)\]\((?P<target>[^()\s]+)\)"
    r"|(?<![(<])(?P<url>\bhttps?://[^\s<>\"'`\]){}]*[^\s<>\"'`\]).,;:!?{}])"
)
_NAME = re.compile(r"(?:module:)?[A-Za-z_$@][\w$./#~@-]*(?:\(\))?\Z")
_PLAIN = re.compile(r"[A-Za-z_$][\w$.]*(?:#[\w$]+)?(\(\))?\Z")


def read_ecmascript_comment(raw: str, line: int, sink: MentionSink) -> TaggedDoc:
    """raw: the whole comment, which begins on a line of the file."""
    lines, line = trim(block_lines(raw), line)
    if not lines:
        return TaggedDoc(Doc(line=line))
    return read_tagged(lines, line, sink, Dialect(TAGS, convert_text, typed=True, flags=_FLAGS, split_name=_split_name))


def _split_name(text: str) -> tuple[str, str]:
    text = text.strip()
    match = re.match(r"[A-Za-z_$][\w$.#~]*(?:\(\))?(?=\s|$|[,:])", text)
    return (match[0], text[match.end() :].lstrip(" -,:")) if match else ("", text)


def convert_text(text: str, line: int, sink: MentionSink) -> str:
    """Text with inline tags as CommonMark; line: that of its first line. Mentions go to sink."""
    rows = text.split("\n")
    prose = prose_lines(rows)
    kept = set(prose)
    out: list[str] = []
    at = 0
    while at < len(rows):
        if at not in kept:
            out.append(rows[at])
            at += 1
            continue
        end = at
        while end < len(rows) and end in kept:
            end += 1
        out.append(_prose("\n".join(rows[at:end]), line + at, sink))
        at = end
    return "\n".join(out).strip("\n")


def _prose(text: str, line: int, sink: MentionSink) -> str:
    """Links in braces first, for they may run over lines; then what Markdown has."""
    out: list[str] = []
    at = 0
    for match in _LINK.finditer(text):
        if match.start() < at:
            continue
        start = match.start() + len(match[0]) - len(match["tag"]) - 2
        end = balanced_end(text, start)
        out.append(_inline(text[at : match.start()], line + text.count("\n", 0, at), sink))
        content = text[match.end() : end - 1]
        out.append(_link(match["tag"], content, match["before"] or "", line + text.count("\n", 0, match.start()), sink))
        at = end
    out.append(_inline(text[at:], line + text.count("\n", 0, at), sink))
    return "".join(out)


def _link(tag: str, content: str, before: str, line: int, sink: MentionSink) -> str:
    content = " ".join(content.split())
    if tag.lower() == "inheritdoc" and not _NAME.match(content):
        return INHERIT
    if tag == "code":
        return f"`{content}`"
    if tag == TEXT:
        return use_of(content)
    name, bar, label = content.partition("|")
    if not bar:
        name, _, label = content.partition(" ")
    name, label = name.strip(), before or label.strip()
    if name.startswith(("http://", "https://")):
        sink.add(name, name, "url", line)
        return f"[{label or name}](<{name}>)"
    if not _NAME.match(name):
        return label or name
    key = re.sub(r"^module:", "", name).replace("#", ".").replace("~", ".").removesuffix("()")
    sink.add(name, key, "link", line)
    shown = label or f"`{name.rpartition('/')[2] if name.startswith('module:') else name}`"
    told = f"[{shown}]({address_of(key)})"
    return f"See {told}." if tag.lower() == "inheritdoc" else told


def _inline(text: str, line: int, sink: MentionSink) -> str:
    if "`" not in text and "](" not in text and "://" not in text:
        return text

    def replace(m: re.Match[str]) -> str:
        at = line + text.count("\n", 0, m.start())
        if m["code"] is not None:
            name = m["code"].strip()
            if _PLAIN.match(name):
                sink.add(name, name.replace("#", "."), "code", at)
            return m[0]
        target = m["url"] or m["target"]
        if target.startswith(("http://", "https://")):
            sink.add(target, target, "url", at)
            return f"<{target}>" if m["url"] else f"[{m['label']}](<{target}>)"
        if target.startswith("api:"):
            sink.add(target, target, "link", at)
            return m[0]
        return m["label"]

    return _INLINE.sub(replace, text)
