"""A tree of docutils as CommonMark, in the form in which guides are kept.

Source: reStructuredText Markup Specification and Directives, as docutils' document tree has them; what its parser does
not know, roles and directives of other programs, is kept by its name.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from docutils import nodes

from zarbek.core.sources.guides.places import anchor_of
from zarbek.core.sources.markup.html import escape_text

#: Kinds of notes to those that guides have.
_NOTES = {
    "note": "note", "tip": "tip", "hint": "tip", "important": "important", "caution": "caution", "warning": "warning",
    "attention": "warning", "danger": "warning", "error": "warning", "admonition": "note", "seealso": "note",
}  # fmt: skip
_SPACE = re.compile(r"\s+")
_TICKS = re.compile(r"`+")
#: Of lists and quotes within one another.
MAX_NESTING = 60
#: Nodes that say nothing to readers.
_SILENT = (nodes.comment, nodes.substitution_definition, nodes.system_message, nodes.pending, nodes.raw, nodes.docinfo,
           nodes.decoration, nodes.meta)  # fmt: skip


class RstWriter:
    """Writes one document. role: what a role that docutils does not know becomes."""

    def __init__(self, document: nodes.document) -> None:
        self._document = document
        self._taken: dict[str, int] = {}
        self._anchors: dict[str, str] = {}
        self._footnotes: dict[str, str] = {}
        self._depth = 0
        for figure in document.findall(nodes.figure):  # Its name is that of the whole.
            for image in figure.findall(nodes.image):
                figure["names"], image["names"] = [*figure["names"], *image["names"]], []
        self._number_sections(document)

    def _number_sections(self, document: nodes.document) -> None:
        """The place of each heading, by what docutils calls it; the title of the document is the first."""
        for node in document.findall(lambda n: isinstance(n, nodes.document | nodes.section)):
            title = next((c for c in node.children if isinstance(c, nodes.title)), None)
            if title is None:
                continue
            anchor = anchor_of(_SPACE.sub(" ", title.astext()).strip(), self._taken)
            self._anchors.update(dict.fromkeys(node["ids"], anchor))
            for name in node["names"]:
                self._anchors.setdefault(nodes.make_id(name), anchor)

    def write(self) -> str:
        """The whole document."""
        return self._blocks(self._document.children, 1).strip("\n") + "\n"

    # Blocks -------------------------------------------------------------------------------

    def _blocks(self, children: list[Any], level: int) -> str:
        self._depth += 1
        try:
            if self._depth > MAX_NESTING:
                return ""
            parts = (self._block(child, level) for child in children)
            return "\n\n".join(part.rstrip("\n") for part in parts if part.strip()) + "\n"
        finally:
            self._depth -= 1

    def _block(self, node: nodes.Node, level: int) -> str:
        if isinstance(node, _SILENT) or (isinstance(node, nodes.topic) and "contents" in node["classes"]):
            return ""
        writer = _BLOCKS.get(type(node))
        if writer is not None:
            return self._marks(node, 1 if _has_caption(node) else 0) + writer(self, node, level)
        if isinstance(node, nodes.Admonition):
            return self._marks(node) + self._note(node, level)
        if isinstance(node, nodes.TextElement):
            return self._line(node.children)
        return self._line([node]) if isinstance(node, nodes.Inline | nodes.Text) else self._blocks(node.children, level)

    def _marks(self, node: nodes.Element, first: int = 0) -> str:
        """The places by which authors refer to a block: before it, in a line of their own where it is no text.
        first: how many of them stand with the block itself."""
        if isinstance(node, nodes.section | nodes.title):
            return ""
        marks = "".join(f'<a id="{name}"></a>' for name in self._labels(node)[first:])
        return marks if not marks or isinstance(node, nodes.paragraph) else f"{marks}\n\n"

    def _section(self, node: nodes.section, level: int) -> str:
        return self._blocks(node.children, level + 1)

    def _title(self, node: nodes.title, level: int) -> str:
        labels = "".join(f" {{#{name}}}" for name in self._labels(node.parent))
        return f"{'#' * min(level, 6)} {self._line(node.children)}{labels}"

    def _labels(self, node: nodes.Element) -> list[str]:
        """Names by which authors refer to a place."""
        explicit = [n for n in node["names"] if self._document.nametypes.get(n)]
        return list(dict.fromkeys(made for name in explicit if (made := nodes.make_id(name))))

    def _paragraph(self, node: nodes.Element, level: int) -> str:
        return self._line(node.children)

    def _list(self, node: nodes.Element, level: int) -> str:
        first = int(node.get("start", 1))
        items = []
        for number, item in enumerate(node.children, start=first):
            mark = f"{number}. " if isinstance(node, nodes.enumerated_list) else "- "
            items.append(_hung(mark, self._blocks(item.children, level)))
        return "\n".join(items)

    def _definitions(self, node: nodes.Element, level: int) -> str:
        items = []
        for item in node.children:
            names = [self._line(c.children) for c in item.children if isinstance(c, nodes.term)]
            marks = "".join(f'<a id="{i}"></a>' for c in item.children if isinstance(c, nodes.term) for i in c["ids"])
            told = [c for c in item.children if isinstance(c, nodes.definition)]
            text = self._blocks([each for c in told for each in c.children], level)
            items.append(f"{marks}{', '.join(names)}\n" + _hung(": ", text))
        return "\n\n".join(items)

    def _fields(self, node: nodes.Element, level: int) -> str:
        items = []
        for field in node.children:
            name, body = field.children[0], field.children[-1]
            told = self._blocks(body.children, level).lstrip()
            items.append(_hung("- ", f"**{self._line(name.children)}**: {told}"))
        return "\n".join(items)

    def _code(self, node: nodes.Element, level: int) -> str:
        language = next((c for c in node["classes"] if c not in ("code", "code-block", "literal-block")), "")
        language = "pycon" if isinstance(node, nodes.doctest_block) else language
        return fenced(node.astext(), " ".join(filter(None, (language, node.get("quotes", "")))))

    def _quote(self, node: nodes.Element, level: int) -> str:
        return "\n".join(f"> {line}".rstrip() for line in self._blocks(node.children, level).strip("\n").split("\n"))

    def _note(self, node: nodes.Element, level: int) -> str:
        kind = _NOTES.get(node.tagname, "note")
        inner = list(node.children)
        title = ""
        if inner and isinstance(inner[0], nodes.title):
            title = f"**{self._line(inner.pop(0).children)}**\n\n"
        return f"::: {kind}\n{title}{self._blocks(inner, level)}:::"

    def _folded(self, node: nodes.Element, level: int) -> str:
        return _between(f"{node['kind']} {node['title']}", self._blocks(node.children, level))

    def _captioned(self, node: nodes.Element, level: int) -> str:
        """What has a caption, which is the first that it holds."""
        label = "".join(f" {{#{name}}}" for name in self._labels(node)[:1])
        caption, *inner = node.children
        return _between(f"{node['kind']} {self._line(caption.children)}{label}", self._blocks(inner, level))

    def _glossary(self, node: nodes.Element, level: int) -> str:
        return _between("glossary", self._blocks(node.children, level))

    def _topic(self, node: nodes.Element, level: int) -> str:
        inner = list(node.children)
        title = f"**{self._line(inner.pop(0).children)}**\n\n" if inner and isinstance(inner[0], nodes.title) else ""
        return title + self._blocks(inner, level)

    def _image(self, node: nodes.Element, level: int) -> str:
        return self._picture(node)

    def _picture(self, node: nodes.Element) -> str:
        alt = escape_text(_SPACE.sub(" ", str(node.get("alt", ""))).strip())
        return f"![{alt}]({_address(str(node['uri']))})"

    def _figure(self, node: nodes.Element, level: int) -> str:
        inner = self._blocks([c for c in node.children if not isinstance(c, nodes.caption)], level)
        return self._with_caption("figure", node, inner)

    def _with_caption(self, kind: str, node: nodes.Element, inner: str) -> str:
        told = next((self._line(c.children) for c in node.children if isinstance(c, nodes.caption | nodes.title)), "")
        label = "".join(f" {{#{name}}}" for name in self._labels(node)[:1])
        return _between(f"{kind} {told}{label}", inner) if told else inner

    def _table(self, node: nodes.Element, level: int) -> str:
        heads = [row for head in node.findall(nodes.thead) for row in head.children]
        rows = [row for body in node.findall(nodes.tbody) for row in body.children]
        if not heads and rows:
            heads, rows = [], rows
        width = max((len(row.children) for row in [*heads, *rows]), default=0)
        if not width:
            return ""
        first = self._row(heads[0], width) if heads else "|" + "   |" * width
        lines = [first, "|" + " --- |" * width, *(self._row(row, width) for row in [*heads[1:], *rows])]
        return self._with_caption("table", node, "\n".join(lines) + "\n")

    def _row(self, row: nodes.Element, width: int) -> str:
        cells = [_SPACE.sub(" ", self._blocks(cell.children, 1)).strip().replace("|", "\\|") for cell in row.children]
        return "| " + " | ".join([*cells, *[""] * (width - len(cells))]) + " |"

    def _footnote(self, node: nodes.Element, level: int) -> str:
        label = node.children[0].astext() if node.children else ""
        inner = self._blocks(node.children[1:], level)
        return _hung(f"[^{nodes.make_id(label) or label}]: ", inner, 4)

    def _lines(self, node: nodes.Element, level: int) -> str:
        found = []
        for child in node.children:
            is_inner = isinstance(child, nodes.line_block)
            found.append(self._lines(child, level) if is_inner else self._line(child.children))
        return "\\\n".join(found)

    def _math(self, node: nodes.Element, level: int) -> str:
        return fenced(node.astext(), "math")

    # Lines --------------------------------------------------------------------------------

    def _line(self, children: list[Any]) -> str:
        return _SPACE.sub(" ", "".join(self._inline(child) for child in children)).strip()

    def _inline(self, node: nodes.Node) -> str:
        if isinstance(node, nodes.Text):
            return escape_text(node.astext())
        if isinstance(node, (*_SILENT, nodes.target)):
            return ""
        writer = _INLINES.get(type(node))
        if writer is not None:
            return writer(self, node)
        return "".join(self._inline(child) for child in node.children)

    def _around(self, mark: str, node: nodes.Element) -> str:
        inner = self._line(node.children)
        return f"{mark}{inner}{mark}" if inner else ""

    def _reference(self, node: nodes.Element) -> str:
        text = self._line(node.children)
        if node.get("refuri"):
            return f"[{text}]({_address(str(node['refuri']))})"
        place = str(node.get("refid", ""))
        return f"[{text}](#{self._anchors.get(place, place)})" if place else text

    def _footnote_reference(self, node: nodes.Element) -> str:
        label = node.astext()
        return f"[^{nodes.make_id(label) or label}]"

    def _problem(self, node: nodes.Element) -> str:
        """What docutils can make nothing of; a reference that leads nowhere is one all the same."""
        text = node.astext()
        name = text.rstrip("_").strip("`|")
        is_reference = text.endswith("_") and name and not text.endswith("]_")
        return f"[{escape_text(name)}](#{nodes.make_id(name)})" if is_reference else escape_text(text)

    def _role(self, node: nodes.Element) -> str:
        """A role of another program, as guides have it."""
        return f"{{{node['role']}}}{code_span(node.astext())}"


def _has_caption(node: nodes.Element) -> bool:
    captions = nodes.caption | nodes.title
    is_told = isinstance(node, nodes.figure | nodes.table) and any(isinstance(c, captions) for c in node.children)
    return is_told or isinstance(node, captioned_node)


def _between(head: str, inner: str) -> str:
    """A block between colons, more of them than anything in it has."""
    longest = max((len(m[0]) for m in re.finditer(r"^:{3,}", inner, re.MULTILINE)), default=2)
    colons = ":" * max(longest + 1, 3)
    return f"{colons} {head}\n{inner}{colons}"


def fenced(code: str, info: str) -> str:
    """A block of code that nothing in it can end."""
    longest = max((len(m[0]) for m in _TICKS.finditer(code)), default=0)
    fence = "`" * max(longest + 1, 3)
    return f"{fence}{info}\n{code}\n{fence}"


def code_span(text: str) -> str:
    """Code in a line."""
    plain = _SPACE.sub(" ", text)
    longest = max((len(m[0]) for m in _TICKS.finditer(plain)), default=0)
    ticks = "`" * (longest + 1)
    pad = " " if plain.startswith("`") or plain.endswith("`") else ""
    return f"{ticks}{pad}{plain}{pad}{ticks}"


def _address(text: str) -> str:
    """An address as a link has it: none of its signs ends it."""
    return f"<{text}>" if re.search(r"[\s()]", text) and "<" not in text and ">" not in text else text


def _hung(mark: str, text: str, indent: int = 0) -> str:
    """Text that hangs from a mark."""
    pad = " " * (indent or len(mark))
    lines = text.strip("\n").split("\n")
    return "\n".join([mark + lines[0], *(pad + line if line.strip() else "" for line in lines[1:])])


_Block = Callable[[RstWriter, Any, int], str]
_BLOCKS: dict[type, _Block] = {
    nodes.section: RstWriter._section, nodes.title: RstWriter._title, nodes.paragraph: RstWriter._paragraph,
    nodes.bullet_list: RstWriter._list, nodes.enumerated_list: RstWriter._list,
    nodes.definition_list: RstWriter._definitions, nodes.field_list: RstWriter._fields,
    nodes.literal_block: RstWriter._code, nodes.doctest_block: RstWriter._code, nodes.block_quote: RstWriter._quote,
    nodes.admonition: RstWriter._note, nodes.topic: RstWriter._topic, nodes.sidebar: RstWriter._topic,
    nodes.image: RstWriter._image, nodes.figure: RstWriter._figure, nodes.table: RstWriter._table,
    nodes.footnote: RstWriter._footnote, nodes.citation: RstWriter._footnote, nodes.line_block: RstWriter._lines,
    nodes.math_block: RstWriter._math, nodes.transition: lambda *_: "---",
    nodes.rubric: lambda writer, node, _: f"**{writer._line(node.children)}**",
    nodes.attribution: lambda writer, node, _: f"— {writer._line(node.children)}",
}  # fmt: skip
_INLINES: dict[type, Callable[[RstWriter, Any], str]] = {
    nodes.emphasis: lambda writer, node: writer._around("*", node),
    nodes.title_reference: lambda writer, node: writer._around("*", node),
    nodes.strong: lambda writer, node: writer._around("**", node),
    nodes.literal: lambda writer, node: code_span(node.astext()),
    nodes.math: lambda writer, node: "{math}" + code_span(node.astext()),
    nodes.reference: RstWriter._reference, nodes.footnote_reference: RstWriter._footnote_reference,
    nodes.problematic: RstWriter._problem,
    nodes.citation_reference: RstWriter._footnote_reference, nodes.image: RstWriter._picture,
}  # fmt: skip


class folded_node(nodes.General, nodes.Element):  # type: ignore[misc]  # noqa: N801
    """A part that opens; its attributes kind and title as guides in Markdown have them."""


class captioned_node(nodes.General, nodes.Element):  # type: ignore[misc]  # noqa: N801
    """A listing or an example; its attribute kind says which. The first child is the caption."""


class glossary_node(nodes.General, nodes.Element):  # type: ignore[misc]  # noqa: N801
    """Definitions of terms to which others refer."""


class role_node(nodes.Inline, nodes.TextElement):  # type: ignore[misc]  # noqa: N801
    """What a role that docutils does not know holds; its attribute role is the name."""


_BLOCKS[folded_node] = RstWriter._folded
_BLOCKS[captioned_node] = RstWriter._captioned
_BLOCKS[glossary_node] = RstWriter._glossary
_INLINES[role_node] = RstWriter._role
