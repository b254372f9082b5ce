"""What guides have besides CommonMark 0.31: tables, footnotes, definitions, roles, and blocks between ``:::``."""

from __future__ import annotations

import re
from functools import cache

from markdown_it import MarkdownIt
from mdit_py_plugins.container import container_plugin
from mdit_py_plugins.deflist import deflist_plugin
from mdit_py_plugins.footnote import footnote_plugin
from mdit_py_plugins.myst_role import myst_role_plugin

#: ``::: note`` to ``:::``.
ADMONITIONS = ("note", "tip", "important", "caution", "warning")
#: ``::: details TITLE``, and ``::: tab TITLE`` of which several stand one behind the other.
FOLDED = ("details", "tab")
#: ``::: figure CAPTION {#label}``.
CAPTIONED = ("figure", "table", "listing", "example")
#: Whose terms are places of their own.
GLOSSARY = "glossary"
#: ``::: block NAME``, whose text others use.
BLOCK = "block"
#: Languages of a block of code that is drawn.
DIAGRAMS = frozenset({"dot", "graphviz"})
#: A place in a text that its author named (HTML, section 3.2.6 and, obsolete, 16.2), or the label of what it stands at.
PLACE = re.compile(r"<a\s+(?:id|name)\s*=\s*[\"']?([\w.:-]+)[\"']?\s*/?>|</a>|\s*\{#([\w.:-]+)\}", re.IGNORECASE)
_LABEL = re.compile(r"\s*\{#([\w.:-]+)\}\s*$")


def extend(parser: MarkdownIt) -> MarkdownIt:
    """The same parser with all that guides may have."""
    extend_lines(parser).use(deflist_plugin)
    for name in (*ADMONITIONS, *FOLDED, *CAPTIONED, GLOSSARY, BLOCK):
        parser.use(container_plugin, name)
    return parser


def extend_lines(parser: MarkdownIt) -> MarkdownIt:
    """The same parser with what any text may have, where it has no blocks between ``:::``."""
    return parser.enable(["table", "strikethrough"]).use(footnote_plugin).use(myst_role_plugin)


@cache
def commonmark() -> MarkdownIt:
    """The one parser for reading guides; raw HTML is text."""
    return extend(MarkdownIt("commonmark", {"html": False}))


def caption_of(info: str) -> tuple[str, str, str]:
    """(kind, caption, label) of what stands behind the colons of a figure, table, listing or example."""
    kind, _, told = info.strip().partition(" ")
    label = _LABEL.search(told)
    return (kind, told[: label.start()].strip(), label[1]) if label else (kind, told.strip(), "")


def block_name(info: str) -> str:
    """What a block is called by what stands behind its colons; empty where that is no name."""
    name = info.strip().removeprefix(BLOCK).strip()
    return name if re.fullmatch(r"[\w.-]{1,100}", name) else ""


def without_places(text: str) -> str:
    """A line of text without the places named in it."""
    return PLACE.sub("", text)
