"""Java's documentation comments. Source: "Documentation Comment Specification for the Standard
Doclet", Java SE 17, and of what came later JEP 413 (snippets)."""

from __future__ import annotations

import re
import textwrap

from zarbek.core.model.doc_text import INHERIT, TEXT, Doc, use_of
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import JAVA_TAGS, Dialect, TaggedDoc, read_tagged
from zarbek.core.sources.comments.comment_blocks import block_lines, trim
from zarbek.core.sources.markup.html import convert_html, escape_text
from zarbek.core.sources.markup.inline import MentionSink, code_span, fenced

_SPACE = re.compile(r"\s+")
_SNIPPET_LANGUAGE = re.compile(r"\blang\s*=\s*[\"']?(\w+)")
_SNIPPET_MARK = re.compile(r"\s*(?://|#)\s*@(?:highlight|replace|link|start|end)\b.*")
_SNIPPET_TARGET = re.compile(r"@link\b[^@]*?\btarget\s*=\s*[\"']?([^\s\"':]+)")


def read_java_comment(raw: str, line: int, sink: MentionSink) -> TaggedDoc:
    """raw: the whole comment, ``/**`` to ``*/``, which begins on a line of the file."""
    lines, line = trim(block_lines(raw), line)
    return read_tagged(lines, line, sink, JAVA) if lines else TaggedDoc(Doc(line=line))


def split_reference(text: str) -> tuple[str, str]:
    """(reference, label) of the content of a link: blanks inside parentheses belong to it."""
    text = text.strip()
    depth = 0
    for at, sign in enumerate(text):
        if sign in "(<":
            depth += 1
        elif sign in ")>":
            depth -= 1
            if depth == 0 and sign == ")":
                return text[: at + 1], text[at + 1 :].strip()
        elif sign.isspace() and depth <= 0:
            rest = text[at:].lstrip()
            if rest.startswith("(") and "#" in text[:at]:
                continue
            return text[:at], rest
    return text, ""


def shown_reference(reference: str) -> str:
    """What readers see of a reference without a label: ``a.B#m(int)`` is ``B.m(int)``."""
    owner, mark, member = reference.partition("#")
    owner = owner.rpartition(".")[2] if owner[:1].islower() and "." in owner else owner
    return f"{owner}.{member}" if owner and mark else member or owner


def convert_text(text: str, line: int, sink: MentionSink) -> str:
    """HTML with inline tags as CommonMark; line: that of its first line. Mentions go to sink."""

    def inline_tag(tag: str, content: str, at: int) -> str:
        return _inline(tag, content, at, sink)

    return convert_html(text, line, sink, inline_tag)


def _inline(tag: str, content: str, line: int, sink: MentionSink) -> str:
    if tag in ("link", "linkplain"):
        return link_to(content, line, sink, plain=tag == "linkplain")
    if tag == "snippet":
        return _snippet(content, line, sink)
    if tag == "code":
        body = content[1:] if content[:1].isspace() else content
        return code_span(body.strip()) if body.strip() else ""
    if tag == "literal":
        return escape_text(content[1:] if content[:1].isspace() else content)
    if tag == "value":
        name = content.strip()
        return link_to(name, line, sink, plain=False, role="value") if name else "its value"
    if tag == TEXT:
        return use_of(content)
    if tag in ("inheritDoc", "inheritdoc"):
        return INHERIT
    if tag == "return":
        return "Returns " + convert_text(content.strip(), line, sink) + "."
    if tag == "summary":
        return convert_text(content.strip(), line, sink)
    return _plain_tag(tag, content)


def _snippet(content: str, line: int, sink: MentionSink) -> str:
    """An example as a block of code (JEP 413); one that stands in a file of its own is not shown.

    Comments that mark up its lines go, what they link to is mentioned.
    """
    attributes, colon, body = content.partition(":")
    line += attributes.count("\n")
    shown = []
    for number, row in enumerate(body.split("\n") if colon else [], line):
        mark = _SNIPPET_MARK.search(row)
        for target in _SNIPPET_TARGET.findall(mark[0]) if mark else ():
            sink.add(target, target, "link", number)
        kept = row[: mark.start()] if mark else row
        if kept.strip() or not mark:
            shown.append(kept)
    language = _SNIPPET_LANGUAGE.search(attributes)
    rows = textwrap.dedent("\n".join(shown)).strip("\n").split("\n")
    return fenced(rows, language[1] if language else "java") if any(row.strip() for row in rows) else ""


def _plain_tag(tag: str, content: str) -> str:
    """Tags whose content is text and nothing more."""
    if tag == "docRoot":
        return ""
    if tag == "index":
        word = re.match(r"\s*(\"[^\"]*\"|\S+)", content)
        return escape_text(word[1].strip('"')) if word else ""
    if tag in ("jls", "jvms"):
        return escape_text(_SPACE.sub(" ", f"{tag.upper()} {content.strip()}"))
    return escape_text(content.strip())


def link_to(content: str, line: int, sink: MentionSink, *, plain: bool, role: str = "") -> str:
    """The content of ``{@link …}`` as CommonMark. role: of its target, where the tag says so."""
    lead = content[: len(content) - len(content.lstrip())]
    line += lead.count("\n")
    reference, label = split_reference(content)
    if not reference:
        return ""
    name = _SPACE.sub(" ", reference)
    sink.add(reference, name, "link", line, role)
    if label:
        inner = convert_text(label, line, sink).replace("\n", " ")
        if "](" in inner:
            return inner  # A link inside a label: the inner one counts.
    else:
        inner = escape_text(shown_reference(name)) if plain else code_span(shown_reference(name))
    return f"[{inner}]({address_of(name, role)})"


JAVA = Dialect(JAVA_TAGS, convert_text, split_name=split_reference)
