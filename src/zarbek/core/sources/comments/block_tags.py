"""Comments with block tags (``@param x …``) to the common structure of doc text.

Sources: "Documentation Comment Specification for the Standard Doclet" (Java 17); KDoc syntax
(Kotlin documentation); the tags that JavaScript, TypeScript, C and C++ share with them.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from textwrap import dedent
from urllib.parse import unquote

from zarbek.core.model.doc_text import Deprecation, Doc, DocField, Section
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.rst import instead_in

#: Text of one part to CommonMark: (text, line, sink).
Convert = Callable[[str, int, MentionSink], str]
_INSTEAD = re.compile(
    r"(?:(?:\b[Uu]se|[Rr]eplaced (?:by|with)|[Ss]uperseded by|in favou?r of|[Pp]refer|[Ss]ee)\s+(?:the\s+)?)"
    r"(?:\[[^\]]*\]\(api:([^)?\s]+)[^)]*\)|`([\w.:#]+)(?:\(\))?`)"
)
_PLAIN_INSTEAD = re.compile(
    r"\b[Uu]se\s+(?:the\s+)?([A-Za-z_][\w.:]*\w)(?:\([^()]*\))?\s+instead|\b[Uu]se\s+([A-Z]\w*(?:[.:]+\w+)*)(?:\(\))?\s*\.?\s*$"
)


@dataclass(frozen=True, slots=True)
class Dialect:
    """tags: name of a block tag to its group. marks: signs that begin one. reference: the first
    word of a reference at the start of a text, with what it names, or None."""

    tags: Mapping[str, str]
    convert: Convert
    marks: str = "@"
    #: Whether ``{…}`` after a tag is a type (JavaScript).
    typed: bool = False
    #: Whether a tag that is not known begins a block nevertheless.
    any_tag: bool = True
    #: Tags that say all by their name: text after one belongs to the main text.
    flags: frozenset[str] = frozenset()
    #: Kept as they are: names of tags that stand inside text.
    inline: frozenset[str] = frozenset()
    #: Whether an empty line ends a block tag's text; what follows belongs to the main text.
    by_paragraph: bool = False
    #: The language in which examples are that have no marks of code, where they are code nevertheless.
    example_language: str = ""
    #: Where a text begins with a name: (name as written, what is left).
    split_name: Callable[[str], tuple[str, str]] = lambda text: _first_word(text)


JAVA_TAGS = {
    "param": "param", "return": "returns", "returns": "returns", "throws": "raises", "exception": "raises",
    "see": "see", "since": "since", "deprecated": "deprecated", "author": "author", "version": "version",
    "implSpec": "section", "implNote": "section", "apiNote": "section", "jls": "", "jvms": "", "spec": "",
    "serial": "", "serialData": "", "serialField": "", "hidden": "hidden", "provides": "", "uses": "",
    "revised": "", "constructor": "section", "receiver": "section", "property": "property", "sample": "see-code",
    "suppress": "hidden",
}  # fmt: skip
SECTION_TITLES = {
    "implSpec": "What implementations do", "implNote": "About this implementation", "apiNote": "On its use",
    "constructor": "Constructor", "receiver": "Receiver",
}  # fmt: skip


@dataclass(slots=True)
class _Draft:
    fields: dict[str, list[DocField]] = field(default_factory=dict)
    sections: list[Section] = field(default_factory=list)
    since: str = ""
    author: str = ""
    deprecated: Deprecation | None = None
    hidden: bool = False

    def add(self, group: str, entry: DocField) -> None:
        self.fields.setdefault(group, []).append(entry)


@dataclass(frozen=True, slots=True)
class TaggedDoc:
    """hidden: the comment says that its element is not for callers."""

    doc: Doc
    hidden: bool = False


def read_tagged(lines: list[str], line: int, sink: MentionSink, dialect: Dialect) -> TaggedDoc:
    """The structure of one comment whose first line is a line of the file; mentions go to sink.

    Raises nothing: an unknown tag's text is a section of its own.
    """
    draft = _Draft()
    starts = _block_starts(lines, dialect)
    end = starts[0][0] if starts else len(lines)
    sink.field = "doc"
    main = dialect.convert("\n".join(lines[:end]), line, sink) if end else ""
    for index, (at, tag, rest) in enumerate(starts):
        stop = starts[index + 1][0] if index + 1 < len(starts) else len(lines)
        if dialect.by_paragraph:
            after, stop = stop, _paragraph_end(lines, at, stop)
            if any(part.strip() for part in lines[stop:after]):
                main = _with_more(main, lines[stop:after], line + stop, sink, dialect)
        if tag in dialect.flags:
            main = _with_more(main, [_take_type(rest)[1], *lines[at + 1 : stop]], line + at, sink, dialect)
            rest, stop = "", at + 1
        _read_block(tag, "\n".join([rest, *lines[at + 1 : stop]]), line + at, sink, dialect, draft)
    summary, body = split_summary(main)
    fields = draft.fields
    doc = Doc(
        summary=summary, body=body, parameters=fields.get("parameters", []),
        type_parameters=fields.get("type_parameters", []), returns=fields.get("returns", []),
        yields=fields.get("yields", []), raises=fields.get("raises", []), attributes=fields.get("attributes", []),
        see=fields.get("see", []), sections=draft.sections, since=draft.since, deprecated=draft.deprecated,
        author=draft.author, line=line,
    )  # fmt: skip
    return TaggedDoc(doc, draft.hidden)


def _with_more(main: str, lines: list[str], line: int, sink: MentionSink, dialect: Dialect) -> str:
    """The main text with what goes on after a block tag."""
    sink.field = "doc"
    more = dialect.convert("\n".join(lines), line, sink)
    return f"{main}\n\n{more}".strip()


_FENCE = re.compile(r"\s*(`{3,}|~{3,})")
_BRACES = re.compile(r"\{@?|\}")


def _block_starts(lines: list[str], dialect: Dialect) -> list[tuple[int, str, str]]:
    """(index, tag, rest of the line) where block tags begin; none inside braces or code."""
    found: list[tuple[int, str, str]] = []
    depth, fence = 0, ""
    for at, text in enumerate(lines):
        opened = _FENCE.match(text)
        if opened and (not fence or opened[1].startswith(fence)):
            fence = "" if fence else opened[1]
            continue
        tag = _tag_at(text.lstrip(), dialect) if depth <= 0 and not fence else None
        if tag is not None:
            depth = 0
            found.append((at, *tag))
        if "{@" in text or depth > 0:
            depth = _depth_after(text, depth)
    return found


def _tag_at(text: str, dialect: Dialect) -> tuple[str, str] | None:
    """(tag, rest of the line) of the block tag that a line begins with; None for none."""
    if text[:1] not in dialect.marks or not text:
        return None
    match = re.match(r".([A-Za-z][\w-]*)(\[[\w, ]*\])?(?![\w(])", text)
    if match is None or match[1] in dialect.inline or not (dialect.any_tag or match[1] in dialect.tags):
        return None
    return match[1], (match[2] or "") + text[match.end() :].strip()


def _paragraph_end(lines: list[str], at: int, stop: int) -> int:
    for index in range(at + 1, stop):
        if not lines[index].strip():
            return index
    return stop


def _depth_after(text: str, depth: int) -> int:
    """How deep in ``{@tag …}`` the end of a line is."""
    for sign in _BRACES.finditer(text):
        if depth or sign[0] == "{@":
            depth += -1 if sign[0] == "}" else 1
    return depth


def _first_word(text: str) -> tuple[str, str]:
    parts = text.split(None, 1)
    return (parts[0], parts[1] if len(parts) > 1 else "") if parts else ("", "")


def _take_type(text: str) -> tuple[str, str]:
    """``{string | null} rest``: the type in braces, and what follows."""
    text = text.lstrip()
    if not text.startswith("{") or text.startswith("{@"):
        return "", text
    depth = 0
    for at, sign in enumerate(text):
        depth += (sign == "{") - (sign == "}")
        if depth == 0:
            return " ".join(text[1:at].split()), text[at + 1 :].lstrip()
    return "", text


def _read_block(tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft) -> None:
    group = dialect.tags.get(tag, "section")
    type_text = ""
    before = len(text)
    if dialect.typed and group in ("param", "returns", "yields", "raises", "property", "tparam"):
        type_text, text = _take_type(text)
    if group in ("param", "property", "tparam", "raises", "see", "see-code"):
        stripped = text.lstrip()
        line += text[: len(text) - len(stripped)].count("\n") if stripped else 0
        text = stripped
    reader = _BLOCKS.get(group)
    if reader is not None:
        reader(tag, text, line, sink, dialect, draft, type_text)
    elif group == "section" and before:
        sink.field = "doc"
        title = SECTION_TITLES.get(tag, "" if tag in ("note", "warning", "example") else tag[:1].upper() + tag[1:])
        body = dialect.convert(text, line, sink)
        if body:
            draft.sections.append(Section("free" if title else tag, body, title))
    elif group in ("note", "warning", "examples", "notes", "references"):
        sink.field = "doc"
        if group == "examples" and dialect.example_language and "```" not in text:
            text = f"```{dialect.example_language}\n{dedent(text).strip()}\n```"
            line -= 1
        body = dialect.convert(text, line, sink)
        draft.sections.append(Section(group, body))


def _read_param(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    bracketed = re.match(r"\[([\w, ]+)\]\s*", text)
    if bracketed and not dialect.typed:  # Which way it goes (C and C++), or its name (Kotlin).
        is_direction = set(re.split(r"[,\s]+", bracketed[1].strip())) <= {"in", "out", "inout"}
        text = text[bracketed.end() :] if is_direction else f"{bracketed[1]} {text[bracketed.end() :]}"
    if dialect.typed and text.startswith("["):
        name, _, rest = text[1:].partition("]")
        name, optional = name.partition("=")[0], True
    else:
        name, rest = _first_word(text)
        optional = False
    if name.startswith("<") and name.endswith(">"):
        group, name = "type_parameters", name[1:-1]
    else:
        group = (
            "attributes"
            if tag == "property"
            else "type_parameters"
            if tag in ("tparam", "template", "typeParam")
            else "parameters"
        )
    line += text[: len(text) - len(rest)].count("\n") if rest else 0
    sink.field = f"param:{name}"
    body = dialect.convert(rest.lstrip().removeprefix("- ") if dialect.typed else rest, line, sink)
    draft.add(group, DocField(name.rstrip(",:"), type_text, body, optional, line))


def _read_returns(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    sink.field = "returns"
    group = "yields" if dialect.tags.get(tag) == "yields" else "returns"
    draft.add(group, DocField("", type_text, dialect.convert(text, line, sink), False, line))


def _read_raises(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    sink.field = "raises"
    name, rest = (type_text, text) if type_text else dialect.split_name(text)
    if re.fullmatch(r"[A-Za-z_$][\w.$:]*", name):
        sink.add(name, name, "raises", line, "type")
    elif not type_text:
        name, rest = "", text
    line += text[: len(text) - len(rest)].count("\n") if rest else 0
    draft.add("raises", DocField(name, "", dialect.convert(rest, line, sink), False, line))


def _read_see(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    sink.field = "doc"
    text = text.strip()
    if not text:
        return
    if text[0] in '<"[`{' or text.startswith(("http://", "https://")):
        draft.add("see", DocField("", "", dialect.convert(text.strip('"'), line, sink), False, line))
        return
    name, rest = dialect.split_name(text)
    if re.fullmatch(r"[#%]?[A-Za-z_$~][\w.$:#/~]*(?:\(.*\))?(?:<.*>)?", name, re.DOTALL):
        folded = " ".join(name.split())
        sink.add(name, folded, "see", line)
        draft.add("see", DocField(folded, "", dialect.convert(rest, line, sink), False, line))
    else:
        draft.add("see", DocField("", "", dialect.convert(text, line, sink), False, line))


def _read_deprecated(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    sink.field = "doc"
    body = dialect.convert(text, line, sink)
    since = re.match(r"(?:[Ss]ince|[Aa]s of|[Ii]n)?\s*(?:version\s*|JDK\s*|release\s*)?v?(\d+(?:\.\d+)*)\b", body)
    told = re.sub(r"^\d+(?:\.\d+)*:\s*", "", body)
    draft.deprecated = Deprecation(since[1] if since else "", told, find_instead(told))


def find_instead(text: str) -> str:
    """The name that a deprecation's text tells to use in place, or empty."""
    match = _INSTEAD.search(text) or _PLAIN_INSTEAD.search(text)
    if match:
        return unquote(next(filter(None, match.groups()))).lstrip("#").partition("(")[0]
    return instead_in(text)


def _read_since(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    draft.since = " ".join(text.split())[:60]


def _read_author(
    tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str
) -> None:
    name = " ".join(re.sub(r"<[^<>]*>", "", text).split())
    draft.author = ", ".join(filter(None, (draft.author, name)))[:300]


def _hide(tag: str, text: str, line: int, sink: MentionSink, dialect: Dialect, draft: _Draft, type_text: str) -> None:
    draft.hidden = True


_BLOCKS = {
    "param": _read_param, "tparam": _read_param, "property": _read_param, "returns": _read_returns,
    "yields": _read_returns, "raises": _read_raises, "see": _read_see, "see-code": _read_see,
    "deprecated": _read_deprecated, "since": _read_since, "author": _read_author, "hidden": _hide,
}  # fmt: skip
