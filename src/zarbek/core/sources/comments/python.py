"""Python docstrings to the common structure of doc text.

Three conventions are read, and plain text: field lists (``:param x: …``), indented sections
(``Args:``) and underlined sections (``Parameters`` over dashes). Source of the whitespace
rules: PEP 257, "Handling Docstring Indentation".
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

import msgspec

from zarbek.core.model.doc_text import Deprecation, Doc, DocField, Section
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.markup.inline import MentionSink, convert_inline, find_targets
from zarbek.core.sources.markup.markdown import convert_markdown, looks_like_markdown
from zarbek.core.sources.markup.rst import DocFacts, convert_blocks, indent_of, instead_in

SECTIONS = {
    "parameters": "parameters", "other parameters": "parameters", "args": "parameters",
    "arguments": "parameters", "params": "parameters", "keyword args": "parameters",
    "keyword arguments": "parameters", "keywords": "parameters", "receives": "parameters",
    "returns": "returns", "return": "returns", "yields": "yields", "yield": "yields",
    "raises": "raises", "raise": "raises", "exceptions": "raises", "warns": "raises",
    "attributes": "attributes", "see also": "see", "examples": "examples",
    "example": "examples", "note": "note", "notes": "notes", "warning": "warning",
    "warnings": "warning", "references": "references", "methods": "methods", "todo": "note",
    "deprecated": "deprecated", "since": "since", "author": "author", "authors": "author",
}  # fmt: skip
FIELDS = {
    "param": "parameters", "parameter": "parameters", "arg": "parameters",
    "argument": "parameters", "key": "parameters", "keyword": "parameters",
    "kwarg": "parameters", "type": "type", "returns": "returns", "return": "returns",
    "rtype": "rtype", "yields": "yields", "yield": "yields", "ytype": "ytype",
    "raises": "raises", "raise": "raises", "except": "raises", "exception": "raises",
    "var": "attributes", "ivar": "attributes", "cvar": "attributes", "vartype": "vartype",
    "since": "since", "versionadded": "since", "deprecated": "deprecated", "author": "author",
    "seealso": "see", "see": "see", "meta": "", "example": "examples",
}  # fmt: skip
_FIELD_LINE = re.compile(r":(\w+)((?: +[^:`]*(?:`[^`]*`[^:`]*)*)?):(?= |$)(.*)")
_INDENTED = re.compile(r"([A-Z][A-Za-z]+(?: [A-Za-z]+)?):$")
_RULE = re.compile(r"[-=]{3,}$")
_ENTRY = re.compile(r"(\*{0,2}[\w.]+(?:, \*{0,2}[\w.]+)*)\s*(?:\(([^()]*(?:\([^()]*\)[^()]*)*)\))?\s*:(?:\s+(.*)|$)")
#: What no name of a parameter has in it.
_NO_NAME = re.compile(r"\w.*\s.*\w|[()]")
#: After such an end, what is told below is part of what was told of.
_WHERE = re.compile(r"\bwhere[,:]?\s*$")
_TYPE_NAME = re.compile(r"[A-Za-z_]\w*(?:\.\w+)*")
_SEE_NAME = re.compile(r"(?::[\w:]+:)?`?([A-Za-z_.~][\w.]*)`?(?:\(\))?")
_NO_TYPE = frozenset(
    (
        "optional default or of and in the a an None True False str int float bool bytes list dict tuple set "
        "object type any callable iterable sequence iterator generator array shape ndim like array_like "
        "scalar string function instance class if is not given by with for to from"
    ).split()
)


@dataclass(slots=True)
class _Draft:
    """A Doc in the making."""

    prose: list[tuple[int, list[str]]] = field(default_factory=list)
    fields: dict[str, list[DocField]] = field(default_factory=dict)
    sections: list[Section] = field(default_factory=list)
    facts: DocFacts = field(default_factory=DocFacts)
    types: dict[str, str] = field(default_factory=dict)
    author: str = ""

    def add(self, group: str, entry: DocField) -> None:
        self.fields.setdefault(group, []).append(entry)


def clean_lines(text: str) -> tuple[list[str], int]:
    """The docstring's lines without common indentation, and how many leading lines were dropped."""
    if "\t" in text:
        text = text.expandtabs()
    lines = [line.rstrip() for line in text.split("\n")]
    margin = min((indent_of(line) for line in lines[1:] if line), default=0)
    cleaned = [lines[0].lstrip(), *(line[margin:] for line in lines[1:])]
    while cleaned and not cleaned[-1]:
        cleaned.pop()
    dropped = 0
    while dropped < len(cleaned) and not cleaned[dropped]:
        dropped += 1
    return cleaned[dropped:], dropped


def read_docstring(text: str, line: int, sink: MentionSink) -> Doc:
    """The structure of one docstring that begins on a line of the file; mentions go to sink.

    Raises nothing: whatever follows no convention is prose.
    """
    lines, dropped = clean_lines(text)
    line += dropped
    if len(lines) == 1 and "`" not in text and ":" not in text and "\\" not in text and "<" not in text:
        summary, body = split_summary(convert_inline(lines[0], line, sink))
        return Doc(summary=summary, body=body, line=line)
    if "__ " in text or ".. _" in text:
        find_targets(lines, line, sink)
    return _Docstring(lines, line, sink, looks_like_markdown(text)).read()


class _Docstring:
    def __init__(self, lines: list[str], line: int, sink: MentionSink, markdown: bool) -> None:
        self.lines, self.line, self.sink, self.markdown = lines, line, sink, markdown
        self.draft = _Draft()

    def read(self) -> Doc:
        chunk: list[str] = []
        chunk_start = at = 0
        while at < len(self.lines):
            step = self._structured(at)
            if step is None:
                if not chunk:
                    chunk_start = at
                chunk.append(self.lines[at])
                at += 1
                continue
            if chunk:
                self.draft.prose.append((chunk_start, chunk))
                chunk = []
            at = step
        if chunk:
            self.draft.prose.append((chunk_start, chunk))
        return self._finish()

    def _structured(self, at: int) -> int | None:
        """Read a section or field that starts here; where it ends, or None."""
        text = self.lines[at]
        if not text or text[0] == " ":
            return None
        if text[0] == ":":
            match = _FIELD_LINE.match(text)
            if match and match[1] in FIELDS:
                return self._field(at, match)
            return None
        if at + 1 >= len(self.lines):
            return None
        below = self.lines[at + 1]
        if below[:1] in ("-", "=") and _RULE.match(below):
            kind = SECTIONS.get(text.strip().lower())
            return self._section(at + 2, self._underlined_end(at + 2), kind, text.strip(), below[0]) if kind else None
        if text[-1] == ":" and (below[:1] == " " or not below) and _INDENTED.match(text):
            return self._indented(at + 1, text[:-1])
        return None

    def _indented(self, start: int, title: str) -> int | None:
        """A section whose content is indented under its title."""
        kind = SECTIONS.get(title.lower())
        end = start
        while end < len(self.lines) and (not self.lines[end] or self.lines[end][0] == " "):
            end += 1
        return self._section(start, end, kind, title, "") if kind and any(self.lines[start:end]) else None

    def _underlined_end(self, start: int) -> int:
        for at in range(start, len(self.lines) - 1):
            line = self.lines[at]
            if line and line[0] != " " and _RULE.match(self.lines[at + 1]) and not _RULE.match(line):
                return at
        return len(self.lines)

    # Sections -----------------------------------------------------------------------------

    def _section(self, start: int, end: int, kind: str, title: str, rule: str) -> int:
        body = self.lines[start:end]
        margin = min((indent_of(t) for t in body if t), default=0)
        body = [t[margin:] for t in body]
        if kind in ("parameters", "attributes", "raises"):
            self._entries(body, start, kind, underlined=bool(rule))
        elif kind in ("returns", "yields"):
            self._outcome(body, start, kind, underlined=bool(rule))
        elif kind == "see":
            self._see_also(body, start)
        elif kind == "methods":
            pass
        elif kind == "deprecated":
            self._deprecated(body, start)
        elif kind == "author":
            self.draft.author = " ".join(body).strip()
        elif kind == "since":
            self.draft.facts.since = " ".join(body).strip()
        else:
            text = self._blocks(body, start, "doc")
            heading = "" if SECTIONS.get(kind) == kind or kind + "s" == title.lower() else title
            self.draft.sections.append(Section(kind, text, heading))
        return end

    def _entries(self, body: list[str], start: int, kind: str, *, underlined: bool) -> None:
        is_below = False
        for at, head, rest in _split_entries(body):
            names, type_text, first, is_typed = _underlined_head(head, rest) if underlined else _indented_head(head)
            if is_below or (kind != "raises" and not is_typed and _is_prose(names)):
                self._add_prose(kind, self._blocks([head, *rest], start + at, "doc"))
                is_below = is_below or _WHERE.search("\n".join([head, *rest])) is not None
                continue
            inner, offset = ([first, *rest], at) if first else (rest, at + 1)
            self._named_entries(kind, names, type_text.strip(), inner, start + offset, self.line + start + at)

    def _named_entries(self, kind: str, names: str, type_text: str, inner: list[str], start: int, line: int) -> None:
        """Names that share an entry share its text, and its mentions count once."""
        several = names.split(",") if "..." not in names else [names]
        text = ""
        for index, name in enumerate(part.strip(" `*") for part in several):
            if not name:
                continue
            if index == 0:
                text = self._blocks(inner, start, "raises" if kind == "raises" else f"param:{name}")
            self._entry(kind, name, type_text, text, line)

    def _add_prose(self, kind: str, text: str) -> None:
        """Prose between the entries of a list belongs to the entry before it."""
        entries = self.draft.fields.get(kind)
        if entries:
            entries[-1] = msgspec.structs.replace(entries[-1], text="\n\n".join(filter(None, (entries[-1].text, text))))
        else:
            self.draft.sections.append(Section(kind, text, ""))

    def _entry(self, kind: str, name: str, type_text: str, text: str, line: int) -> None:
        optional = "optional" in type_text
        type_text = re.sub(r",?\s*optional\b", "", type_text).strip(" ,")
        if kind == "raises":
            self._mention_raised(name, line)
        elif type_text:
            self._mention_types(type_text, line, f"param:{name}")
        self.draft.add(kind, DocField(name, type_text, text, optional, line))

    def _outcome(self, body: list[str], start: int, kind: str, *, underlined: bool) -> None:
        if not underlined:
            head = body[0] if body else ""
            type_text, sep, rest = head.partition(": ")
            if sep and re.fullmatch(r"[\w.\[\], |~`:]+", type_text) and " " not in type_text.replace(", ", ""):
                type_text = type_text.strip("`")
                self._mention_types(type_text, self.line + start, kind)
                body = [rest, *(t.lstrip() if i == 0 else t for i, t in enumerate(body[1:]))]
            else:
                type_text = ""
            text = self._blocks(body, start, kind)
            self.draft.add(kind, DocField("", type_text, text, False, self.line + start))
            return
        entries = list(_split_entries(body))
        for at, head, rest in entries:
            name, sep, type_text = head.partition(" : ")
            if not sep:
                name, type_text = "", head
            line = self.line + start + at
            if not rest and len(entries) == 1 and " " in type_text.strip() and not sep:
                text, type_text = self._blocks([head], start + at, kind), ""
            else:
                text = self._blocks(rest, start + at + 1, kind)
                self._mention_types(type_text, line, kind)
            self.draft.add(kind, DocField(name.strip(), type_text.strip(), text, False, line))

    def _see_also(self, body: list[str], start: int) -> None:
        for at, head, rest in _split_entries(body):
            names, _, first = head.partition(" : ")
            if not _ and head.endswith(":"):
                names = head[:-1]
            line = self.line + start + at
            text = self._blocks([first, *rest] if first else rest, start + at, "doc")
            found = [m for part in names.split(",") if (m := _SEE_NAME.fullmatch(part.strip()))]
            if not found:
                self.sink.field = "doc"
                shown = convert_inline(names.strip(), line, self.sink, "see") if ":`" in names else ""
                prose = f"{shown}: {text}".rstrip(": ") if shown else self._blocks([head, *rest], start + at, "doc")
                self.draft.add("see", DocField("", "", prose, False, line))
            for match in found:
                self.sink.field = "doc"
                self.sink.add(match[1], match[1], "see", line)
                self.draft.add("see", DocField(match[1], "", text, False, line))

    def _deprecated(self, body: list[str], start: int) -> None:
        text = self._blocks(body, start, "doc")
        self.draft.facts.deprecated = Deprecation(text=text, instead=instead_in(text))

    # Field lists --------------------------------------------------------------------------

    def _field(self, at: int, match: re.Match[str]) -> int:
        end = at + 1
        while end < len(self.lines) and (not self.lines[end] or self.lines[end][0] == " "):
            end += 1
        stop = end
        while stop > at + 1 and not self.lines[stop - 1]:
            stop -= 1
        rest = self.lines[at + 1 : stop]
        margin = min((indent_of(t) for t in rest if t), default=0)
        first = match[3].strip()
        body = ([first] if first else []) + [t[margin:] for t in rest]
        start = at if first else at + 1
        self._store_field(FIELDS[match[1]], match[2].strip(), body, start, self.line + at)
        return end

    def _store_field(self, group: str, argument: str, body: list[str], start: int, line: int) -> None:
        draft = self.draft
        if group in ("parameters", "attributes"):
            self._parameter_field(group, argument, body, start, line)
        elif group in ("type", "vartype", "rtype", "ytype"):
            self._type_field(group, argument, " ".join(body).strip(), line)
        elif group == "raises" and argument:
            for name in filter(None, (part.strip(" ~") for part in argument.split(","))):
                self._mention_raised(name, line)
                draft.add("raises", DocField(name, "", self._blocks(body, start, "raises"), False, line))
        elif group in ("raises", "returns", "yields"):
            draft.add(group, DocField("", "", self._blocks(body, start, group), False, line))
        elif group == "deprecated":
            text = self._blocks(body, start, "doc")
            draft.facts.deprecated = Deprecation(argument, text, instead_in(text))
        elif group == "since":
            draft.facts.since = " ".join(body).strip()
        elif group == "author":
            draft.author = " ".join(body).strip()
        elif group == "see":
            draft.add("see", DocField("", "", self._blocks(body, start, "doc"), False, line))
        elif group == "examples":
            draft.sections.append(Section("examples", self._blocks(body, start, "doc")))

    def _parameter_field(self, group: str, argument: str, body: list[str], start: int, line: int) -> None:
        type_text, _, name = argument.rpartition(" ")
        name = name.strip("*\\`")
        if type_text:
            self._mention_types(type_text, line, f"param:{name}")
        self.draft.add(group, DocField(name, type_text, self._blocks(body, start, f"param:{name}"), False, line))

    def _type_field(self, group: str, argument: str, type_text: str, line: int) -> None:
        where = {"rtype": "returns", "ytype": "yields"}.get(group)
        self.draft.types[where or argument] = type_text
        self._mention_types(type_text, line, where or f"param:{argument}")

    # Shared -------------------------------------------------------------------------------

    def _blocks(self, body: list[str], start: int, where: str, facts: DocFacts | None = None) -> str:
        if not body:
            return ""
        self.sink.field = where
        if self.markdown:
            return convert_markdown(body, self.line + start, self.sink)
        return convert_blocks(body, self.line + start, self.sink, facts)

    def _mention_types(self, text: str, line: int, where: str) -> None:
        self.sink.field = where
        if ":`" in text:
            convert_inline(text, line, self.sink, "type")
            return
        for match in _TYPE_NAME.finditer(text):
            if match[0] not in _NO_TYPE and (match[0][0].isupper() or "." in match[0]):
                self.sink.add(match[0], match[0], "type", line)

    def _mention_raised(self, name: str, line: int) -> None:
        self.sink.field = "raises"
        cleaned = re.sub(r"^:[\w:]+:", "", name).strip("`")
        if _TYPE_NAME.fullmatch(cleaned.lstrip("~.")):
            self.sink.add(cleaned, cleaned, "raises", line, "class")

    def _finish(self) -> Doc:
        draft = self.draft
        texts = [self._blocks(chunk, start, "doc", draft.facts) for start, chunk in draft.prose]
        summary, body = split_summary("\n\n".join(filter(None, texts)))
        groups = {kind: draft.fields.get(kind, []) for kind in ("parameters", "returns", "yields", "attributes")}
        for kind, entries in groups.items():
            groups[kind] = [_typed(e, draft.types.get(e.name or kind, "")) for e in entries]
        for kind in ("returns", "yields"):
            if not groups[kind] and kind in draft.types:
                groups[kind] = [DocField("", draft.types[kind])]
        return Doc(
            summary=summary, body=body, parameters=groups["parameters"], returns=groups["returns"],
            yields=groups["yields"], attributes=groups["attributes"],
            raises=draft.fields.get("raises", []), see=draft.fields.get("see", []),
            sections=draft.sections, since=draft.facts.since, changes=draft.facts.changes,
            deprecated=draft.facts.deprecated, author=draft.author, line=self.line,
        )  # fmt: skip


def _is_prose(names: str) -> bool:
    """Whether what stands where names do is none, nor several."""
    parts = [part.strip() for part in names.split(",")]
    return any(_NO_NAME.search(part) for part in parts) or (names[:1].isupper() and names.strip().lower() in SECTIONS)


def _typed(entry: DocField, type_text: str) -> DocField:
    if entry.type or not type_text:
        return entry
    return DocField(entry.name, type_text, entry.text, entry.optional, entry.line)


def _underlined_head(head: str, rest: list[str]) -> tuple[str, str, str, bool]:
    """(names, type, text on the same line, whether a type is surely told) of ``name : type`` and ``name: text``."""
    names, sep, type_text = head.partition(" : ")
    if sep:
        return names, type_text, "", bool(type_text)
    names, _, type_text = head.partition(":")
    if type_text.strip() and not rest and " " in type_text.strip():
        return names, "", type_text.strip(), False  # A name and what is said of it on one line.
    return names, type_text, "", False


def _indented_head(head: str) -> tuple[str, str, str, bool]:
    """The same of ``name (type): text``."""
    match = _ENTRY.match(head)
    return (match[1], match[2] or "", match[3] or "", False) if match else (head, "", "", False)


def _split_entries(body: list[str]):  # type: ignore[no-untyped-def]
    """(index, head, indented lines below) for each entry of a dedented section."""
    at = 0
    while at < len(body):
        head = body[at]
        if not head or head[0] == " ":
            at += 1
            continue
        end = at + 1
        while end < len(body) and (not body[end] or body[end][0] == " "):
            end += 1
        rest = body[at + 1 : end]
        margin = min((indent_of(t) for t in rest if t), default=0)
        rest = [t[margin:] for t in rest]
        while rest and not rest[-1]:
            rest.pop()
        yield at, head, rest
        at = end
