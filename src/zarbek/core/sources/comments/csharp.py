"""XML documentation comments to the common structure. Source: ECMA-334, 7th edition, annex D
("Documentation comments"); elements and the form of ``cref`` values as there."""

from __future__ import annotations

import re

from lxml import etree

from zarbek.core.model.doc_text import INHERIT, TEXT, Doc, DocField, Section, use_of
from zarbek.core.model.mention import address_of
from zarbek.core.sources.comments.block_tags import TaggedDoc
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.markup.html import escape_text
from zarbek.core.sources.markup.inline import MentionSink, code_span, fenced

_PARSER = etree.XMLParser(recover=True, resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
#: What XML 1.0 (sections 2.4 and 4.1) wants written as a reference, and no author writes so.
_STRAY = re.compile(r"<(?![/!?A-Za-z_])|&(?!(?:\w+|#\d+|#x[0-9A-Fa-f]+);)")
_SPACE = re.compile(r"\s+")
_EMPHASIS = {"b": "**", "strong": "**", "i": "*", "em": "*"}
_NAMED = {"param": "parameters", "typeparam": "type_parameters"}
_SECTIONS = {"example": "examples", "remarks": "", "permission": "free", "note": "note"}


def read_csharp_comment(lines: list[str], line: int, sink: MentionSink) -> TaggedDoc:
    """lines: without the comment's marks; the first is a line of the file. Signs that make it no XML are text."""
    text = "\n".join(lines)
    try:
        root = etree.fromstring(f"<doc>{_STRAY.sub(_as_text, text)}</doc>".encode(), _PARSER)
    except etree.XMLSyntaxError:
        root = None
    if root is None:
        return TaggedDoc(Doc(summary=escape_text(_SPACE.sub(" ", text).strip())[:500], line=line))
    return TaggedDoc(_Reader(line, sink).read(root))


def _as_text(sign: re.Match[str]) -> str:
    return "&lt;" if sign[0] == "<" else "&amp;"


class _Reader:
    def __init__(self, line: int, sink: MentionSink) -> None:
        self.line, self.sink = line, sink
        self.fields: dict[str, list[DocField]] = {}
        self.sections: list[Section] = []
        self.inherits = False

    def _at(self, element: etree._Element) -> int:
        return self.line + (element.sourceline or 1) - 1

    def read(self, root: etree._Element) -> Doc:
        summary, remarks, loose = "", "", [escape_text(root.text or "")]
        for child in root:
            if not isinstance(child.tag, str):
                continue
            tag = child.tag.lower()
            loose.append(escape_text(child.tail or ""))
            if tag == "summary":
                self.sink.field = "doc"
                summary = self._blocks(child)
            elif tag in ("remarks", "value"):
                self.sink.field = "doc"
                remarks = "\n\n".join(filter(None, (remarks, self._blocks(child))))
            elif tag in ("see", "c", "paramref", "b", "i", "code", "para"):
                loose.insert(-1, self._inline_child(child))
            else:
                self._part(tag, child)
        if not summary:
            summary = _SPACE.sub(" ", "".join(loose)).strip()
        if self.inherits and not summary:
            summary = INHERIT
        first, rest = (summary, "") if summary == INHERIT else split_summary(summary)
        return Doc(
            summary=first, body="\n\n".join(filter(None, (rest, remarks))), sections=self.sections, line=self.line,
            parameters=self.fields.get("parameters", []), type_parameters=self.fields.get("type_parameters", []),
            returns=self.fields.get("returns", []), raises=self.fields.get("raises", []), see=self.fields.get("see",
            []),
        )  # fmt: skip

    def _part(self, tag: str, element: etree._Element) -> None:
        line = self._at(element)
        if tag in _NAMED:
            name = element.get("name", "")
            self.sink.field = f"param:{name}"
            self._add(_NAMED[tag], DocField(name, "", self._blocks(element), False, line))
        elif tag == "returns":
            self.sink.field = "returns"
            self._add("returns", DocField("", "", self._blocks(element), False, line))
        elif tag == "exception":
            self._raised(element, line)
        elif tag in ("seealso", "see"):
            self._see_also(element, line)
        elif tag == "inheritdoc":
            self.inherits = True
        elif tag in _SECTIONS:
            self.sink.field = "doc"
            body = self._blocks(element)
            if body:
                self.sections.append(Section(_SECTIONS[tag], body, "Permission" if tag == "permission" else ""))

    def _add(self, group: str, entry: DocField) -> None:
        self.fields.setdefault(group, []).append(entry)

    def _raised(self, element: etree._Element, line: int) -> None:
        self.sink.field = "raises"
        name = clean_cref(element.get("cref", ""))
        if name:
            self.sink.add(element.get("cref", ""), name, "raises", line, "type")
        self._add("raises", DocField(name, "", self._blocks(element), False, line))

    def _see_also(self, element: etree._Element, line: int) -> None:
        self.sink.field = "doc"
        cref, href = element.get("cref"), element.get("href")
        text = self._blocks(element)
        if cref:
            self.sink.add(cref, clean_cref(cref), "see", line)
            self._add("see", DocField(clean_cref(cref), "", text, False, line))
        elif href:
            self._add("see", DocField("", "", self._address(href, text or href, line), False, line))

    # Text ---------------------------------------------------------------------------------

    def _blocks(self, element: etree._Element) -> str:
        """CommonMark of an element's content: paragraphs, lists, code and tables."""
        blocks: list[str] = []
        run: list[str] = [escape_text(element.text or "")]
        for child in element:
            tag = child.tag.lower() if isinstance(child.tag, str) else ""
            block = self._block(tag, child)
            if block is None:
                run.append(self._inline_child(child) if tag else "")
            else:
                self._end(run, blocks)
                blocks.append(block)
            run.append(escape_text(child.tail or ""))
        self._end(run, blocks)
        return "\n\n".join(filter(None, blocks))

    @staticmethod
    def _end(run: list[str], blocks: list[str]) -> None:
        text = "".join(run)
        for part in re.split(r"\n\s*\n", text):
            folded = "\n".join(filter(None, (row.strip() for row in part.split("\n"))))
            if folded:
                blocks.append(folded)
        run.clear()

    def _block(self, tag: str, element: etree._Element) -> str | None:
        if tag in ("para", "p"):
            return self._blocks(element)
        if tag == "code":
            return None if _is_in_line(element) else _fenced(element)
        if tag == "list":
            return self._list(element)
        if tag in ("ul", "ol"):
            return "\n".join(self._item(child, "- ") for child in element if isinstance(child.tag, str))
        if tag == "br":
            return ""
        if tag in ("note", "example", "remarks"):
            return self._blocks(element)
        return None

    def _list(self, element: etree._Element) -> str:
        kind = element.get("type", "bullet")
        items = [c for c in element if isinstance(c.tag, str)]
        if kind == "table":
            return self._table(items)
        marks = (f"{n}. " for n in range(1, len(items) + 1)) if kind == "number" else ("- " for _ in items)
        return "\n".join(self._item(item, mark) for item, mark in zip(items, marks, strict=False))

    def _item(self, element: etree._Element, mark: str) -> str:
        term, description = element.find("term"), element.find("description")
        parts = []
        if term is not None:
            parts.append(f"**{self._flat(term)}**")
        if description is not None:
            parts.append(self._flat(description))
        text = ": ".join(filter(None, parts)) or self._flat(element)
        return mark + text

    def _table(self, items: list[etree._Element]) -> str:
        rows = [[self._flat(c).replace("|", "\\|") for c in item if isinstance(c.tag, str)] for item in items]
        width = max(map(len, rows), default=0)
        if not width:
            return ""
        lines = ["| " + " | ".join(row + [""] * (width - len(row))) + " |" for row in rows]
        if items[0].tag != "listheader":
            lines.insert(0, "|" + "  |" * width)
        lines.insert(1, "|" + " --- |" * width)
        return "\n".join(lines)

    def _flat(self, element: etree._Element) -> str:
        return _SPACE.sub(" ", self._blocks(element)).strip()

    def _inline_child(self, element: etree._Element) -> str:
        tag = element.tag.lower()
        line = self._at(element)
        if tag in ("see", "seealso"):
            return self._see(element, line)
        if tag in ("paramref", "typeparamref"):
            return code_span(element.get("name", "")) if element.get("name") else ""
        if tag in ("c", "tt", "code"):
            text = "".join(element.itertext()).strip()
            return code_span(text) if text else ""
        if tag == "a":
            return self._address(element.get("href", ""), self._flat(element), line)
        if tag == "inheritdoc":
            return INHERIT
        if tag == TEXT and element.get("name"):
            return use_of(element.get("name", ""))
        inner = self._flat(element)
        mark = _EMPHASIS.get(tag, "")
        return f"{mark}{inner}{mark}" if inner else ""

    def _see(self, element: etree._Element, line: int) -> str:
        cref, word, href = element.get("cref"), element.get("langword"), element.get("href")
        label = self._flat(element)
        if cref:
            name = clean_cref(cref)
            self.sink.add(cref, name, "link", line)
            return f"[{label or code_span(shown_cref(cref))}]({address_of(name)})"
        if word:
            return code_span(word)
        return self._address(href, label or href, line) if href else label

    def _address(self, href: str, label: str, line: int) -> str:
        if not href.startswith(("http://", "https://")) or re.search(r"[\s<>]", href):
            return label
        self.sink.add(href, href, "url", line)
        return f"[{label or href}](<{href}>)"


def clean_cref(cref: str) -> str:
    """The name that a ``cref`` value means: without its kind, with ``<…>`` for braces."""
    name = re.sub(r"^[A-Z!]:", "", cref.strip())
    return re.sub(r"``?\d+", "", name).replace("{", "<").replace("}", ">").replace("#ctor", "constructor")


def shown_cref(cref: str) -> str:
    """A reference as it is shown: a member with its type, a type without its namespace."""
    head, paren, rest = clean_cref(cref).partition("(")
    parts = re.sub(r"<[^<>]*>", "", head).split(".")
    shown = ".".join(parts[-2:]) if len(parts) > 1 and paren else parts[-1]
    return shown + paren + rest if paren else re.sub(r"^.*\.(?=[^.]*<)", "", head) if "<" in head else shown


def _is_in_line(element: etree._Element) -> bool:
    """Whether code stands in the middle of a sentence."""
    before = element.getprevious()
    ahead = (before.tail if before is not None else element.getparent().text) or ""
    after = element.tail or ""
    is_short = "\n" not in "".join(element.itertext()).strip()
    return is_short and (bool(ahead.rsplit("\n", 1)[-1].strip()) or bool(after.split("\n", 1)[0].strip()))


def _fenced(element: etree._Element) -> str:
    text = "".join(element.itertext()).strip("\n").rstrip()
    rows = text.split("\n")
    margin = min((len(r) - len(r.lstrip()) for r in rows if r.strip()), default=0)
    language = element.get("lang", element.get("language", "csharp")).lower().replace("c#", "csharp")
    return fenced([r[margin:].rstrip() for r in rows], language)
