"""What no author writes, and what would keep a parser busy for ever, taken out of a page before it is parsed.

A parser that follows the standard looks through all open elements at many tags, clones all open formatting elements
in each new block, and compares each attribute with all before it: all three grow with the square of what is open.
"""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Iterator

MAX_DEPTH = 2_000
#: Of formatting elements that are open, of attributes.
_MAX_OPEN, _MAX_ATTRIBUTES = 30, 500
#: Unclosed tags by all tags: what is left of these bounds takes a second at most.
_HARMLESS = 2_000_000
_LONG = 8_000
_LONG_TAG = re.compile(rf"<([a-zA-Z][^\s/<>]*)[^<>]{{{_LONG}}}[^>]*>?")
_TAG = re.compile(r"<!--.*?(?:-->|\Z)|<(/?)([a-zA-Z][^\s/>]*)[^>]*>?", re.DOTALL)
_VOID = frozenset("area base br col embed hr img input link meta param source track wbr basefont bgsound frame".split())
#: What ends by itself where the next begins (HTML, section 13.1.2.4), as far as pages rely on it.
_BY_ITSELF = frozenset("p li dt dd tr td th thead tbody tfoot option optgroup colgroup a button form".split())
_FORMATTING = frozenset("b big code em font i s small strike strong tt u nobr".split())
_DRAWING = re.compile(r"<(svg|math)(?=[\s>])[^>]*>")
#: What of HTML ends a drawing, or may stand in one (section 13.2.6.5).
_HTML_WITHIN = re.compile(
    r"<(?:b|big|blockquote|body|br|center|code|dd|div|dl|dt|em|embed|font|h[1-6]|head|hr|i|img|li|listing|menu|meta|nobr|"
    r"ol|p|pre|ruby|s|small|span|strong|strike|sub|sup|table|tt|u|ul|var|foreignobject|desc|title|annotation-xml|"
    r"m[inos]|mtext)(?:[\s/>]|$)"
)


def bounded(text: str) -> str:
    """A page's markup with at most MAX_DEPTH elements open at once, formatting elements without attributes where very
    many are open, and no tag with more attributes than any has. Cost: linear; nearly every page is as it was."""
    half = _LONG // 2  # A tag that is longer fills one such stretch at least.
    if any(text.find(">", at, at + half) < 0 for at in range(0, len(text) - half, half)):
        text = _LONG_TAG.sub(_few_attributes, text)
    tags = text.count("<")
    is_harmless = tags <= 4 * MAX_DEPTH and (tags - 2 * text.count("</")) * tags <= _HARMLESS
    return text if is_harmless else _within_depth(text)


def _few_attributes(tag: re.Match[str]) -> str:
    """A long tag may hold a picture; one with many attributes loses all."""
    return f"<{tag[1]}>" if len(tag[0].split()) > _MAX_ATTRIBUTES or tag[0].count("=") > _MAX_ATTRIBUTES else tag[0]


def _within_depth(text: str) -> str:
    parts: list[str] = []
    taken = depth = formatting = 0
    for tag, name in _nesting(text):
        step = -1 if tag[1] else 1
        depth = max(depth + step, 0)
        instead = None
        if name in _FORMATTING:
            formatting = max(formatting + step, 0)
            if formatting > _MAX_OPEN and step > 0:
                instead = f"<{name}>"
        if depth > MAX_DEPTH:
            instead = ""
        if instead is not None:
            parts += (text[taken : tag.start()], instead)
            taken = tag.end()
    return "".join([*parts, text[taken:]]) if parts else text


def _nesting(text: str) -> Iterator[tuple[re.Match[str], str]]:
    """The tags that open an element, or end one that does not end by itself, with their names."""
    drawings = deque(_drawings(text.lower() if text.isascii() else text))
    for tag in _TAG.finditer(text):
        name = tag[2].lower() if tag[2] else ""
        if not name or name in _VOID or name in _BY_ITSELF:
            continue
        while drawings and drawings[0][1] <= tag.start():
            drawings.popleft()
        if not (drawings and drawings[0][0] <= tag.start() and tag[0].endswith("/>")):
            yield tag, name


def _drawings(text: str) -> Iterator[tuple[int, int]]:
    """Where SVG and MathML stand that nothing of HTML is in: there ``/>`` ends an element (section 13.2.6.5)."""
    at = 0
    while (opened := _DRAWING.search(text, at)) is not None:
        at = text.find(f"</{opened[1]}", opened.end())
        if at < 0:
            return
        if _HTML_WITHIN.search(text, opened.end(), at) is None:
            yield opened.end(), at
