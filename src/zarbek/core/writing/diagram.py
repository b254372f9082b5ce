"""Diagrams that a text draws in DOT, as elements that browsers show by themselves. Source: SVG 1.1 (W3C), sections 5, 9
and 10; the DOT language as Graphviz defines it."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from html import escape
from typing import Any, NamedTuple

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.interfaces.xml_parsing import local, read_xml
from zarbek.core.sources.markup.code_names import QUALIFIED
from zarbek.core.writing.code_tokens import Resolve
from zarbek.core.writing.shown import tags_of


class Drawn(NamedTuple):
    """What became of a diagram's text. svg: as it was drawn, hostile still; empty where it was not, and then why."""

    svg: str = ""
    why: str = ""


#: The text of a diagram to what became of it.
Draw = Callable[[str], Drawn]
#: What a diagram is made of, and of that only what says where it stands and how it is drawn.
_SHAPES: dict[str, frozenset[str]] = {
    "g": frozenset({"transform"}),
    "polygon": frozenset({"points"}),
    "polyline": frozenset({"points"}),
    "path": frozenset({"d"}),
    "ellipse": frozenset({"cx", "cy", "rx", "ry"}),
    "text": frozenset({"x", "y", "text-anchor", "font-size", "font-weight", "font-style", "text-decoration"}),
}
_PAINTED = ("fill", "stroke", "stroke-width", "stroke-dasharray", "fill-opacity", "stroke-opacity")
TAGS = frozenset({"svg", *_SHAPES})
ATTRIBUTES = {
    "svg": {"viewBox", "width", "height", "class"},
    **{tag: {*names, *_PAINTED} for tag, names in _SHAPES.items()},
}
_BOX = re.compile(r"[\d. -]+")
#: Numbers, commands of paths, transforms; and colours that are no address of a paint.
_VALUE, _COLOUR = re.compile(r"[\w.,() +%-]+"), re.compile(r"#?\w+")
_PLAIN = frozenset({"none", "transparent", "black", "white"})


def show(drawn: Drawn, resolve: Resolve) -> str:
    """A diagram, which has not passed the sanitiser: in the page's own colours where it has none of its own, its names
    linked as ``resolve`` has them for ``code:NAME``. Empty for what is no drawing."""
    try:
        root = read_xml(drawn.svg[max(drawn.svg.find("<svg"), 0) :].encode())
    except UnreadableText:
        return ""
    box = root.get("viewBox") or ""
    if local(root) != "svg" or not _BOX.fullmatch(box):
        return ""
    body = "".join(_Shapes(resolve).inside(root))
    size = {"width": root.get("width") or "", "height": root.get("height") or ""}
    kind = "drawing" if _is_plain(root) else "drawing coloured"
    svg = f'<svg class="{kind}" viewBox="{box}"{_attributes_of(size, frozenset(size))}>{body}</svg>'
    return f'<div class="diagram" tabindex="0">{svg}</div>\n'


def _is_plain(root: Any) -> bool:
    """Whether a drawing fills nothing with a colour of its own, on which the page's ink might not be seen."""
    return all((node.get("fill") or "none") in _PLAIN for node in root.iter() if local(node) != "text")


class _Shapes:
    def __init__(self, resolve: Resolve) -> None:
        self._resolve = resolve

    def inside(self, node: Any) -> Iterator[str]:
        """What stands in a part of the drawing."""
        for part in node:
            tag = local(part)
            if tag == "a":
                yield from self.inside(part)
            elif tag == "text":
                yield self._text(part)
            elif tag in _SHAPES and not _is_ground(part):
                yield f"<{tag}{_painted(part, tag)}>{''.join(self.inside(part))}</{tag}>"

    def _text(self, node: Any) -> str:
        words = "".join(node.itertext())
        opening, closing = "", ""
        name = words.strip().removesuffix("()")
        shown = self._resolve("code:" + name) if QUALIFIED.fullmatch(name) else None
        if shown is not None and shown.href:
            opening, closing = tags_of(shown)
        return f"{opening}<text{_painted(node, 'text')}>{escape(words, quote=False)}</text>{closing}"


def _is_ground(node: Any) -> bool:
    """Whether it is the paper under the drawing."""
    return bool(node.get("stroke") == "transparent" and node.get("fill") == "white")


def _painted(node: Any, tag: str) -> str:
    told = dict(node.attrib)
    for paint in ("fill", "stroke"):
        if told.get(paint) == "black":
            told[paint] = "currentColor"
    if tag == "text":
        told.setdefault("fill", "currentColor")
    return _attributes_of(told, _SHAPES[tag] | set(_PAINTED))


def _attributes_of(told: Mapping[str, str], names: frozenset[str] | set[str]) -> str:
    kept = ((name, value) for name, value in told.items() if name in names)
    return "".join(
        f' {name}="{escape(value)}"'
        for name, value in kept
        if (_COLOUR if name in ("fill", "stroke") else _VALUE).fullmatch(value)
    )
