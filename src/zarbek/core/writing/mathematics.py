"""Mathematics that a page writes in TeX for a script, as elements that browsers show by themselves. Source: MathML Core
(W3C); delimiters: LaTeX2e, section 16 of its unofficial reference."""

from __future__ import annotations

import re
from collections.abc import Iterator
from html import escape

from latex2mathml import exceptions
from latex2mathml.converter import convert
from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.sources.source_text import FALLS

#: A longer formula stays as it is written, and so do those that follow so many.
_LONGEST, _MOST = 2_000, 2_000
#: What stands in a formula: no other one, so that each sign is looked at once.
_WITHIN = rf"(?:[^\\]|\\[^()\[\]]){{1,{_LONGEST}}}"
_FORMULA = re.compile(
    rf"\\\[(?P<block>{_WITHIN})\\\]|\\\((?P<inline>{_WITHIN})\\\)|\$\$(?P<shown>[^$]{{1,{_LONGEST}}})\$\$"
)
#: What a script is called that sets mathematics; without one, what looks like TeX may be anything.
_SETS = re.compile(r"math|tex(?!t)", re.IGNORECASE)
#: Where what is written is shown as it is written.
_VERBATIM = frozenset({"pre", "code", "kbd", "samp", "tt", "script", "style", "textarea", "math", "svg"})
#: What the reader of TeX raises where something is none: its errors have no class of their own.
_UNREADABLE: tuple[type[Exception], ...] = (
    *FALLS, *(e for e in vars(exceptions).values() if isinstance(e, type) and issubclass(e, Exception))
)  # fmt: skip
#: What stands for a formula whose TeX is the text of a script.
_SCRIPTS = "script[type^='math/tex']"


def sets_mathematics(document: LexborHTMLParser) -> bool:
    """Whether a page loads a script that would set its mathematics."""
    told = (f"{a.get('src') or ''} {a.get('type') or ''}" for a in (node.attributes for node in document.css("script")))
    return any(map(_SETS.search, told))


def set_scripts(document: LexborHTMLParser) -> None:
    """Put formulas in the place of the scripts that hold them."""
    for node in document.css(_SCRIPTS)[:_MOST]:
        is_block = "mode=display" in (node.attributes.get("type") or "")
        _put(node, _shown(node.text(), is_block=is_block))


def set_mathematics(root: LexborNode) -> None:
    """Put formulas in the place of what is written of them in TeX. What is none, or not to be read, stays."""
    found = [(node, list(_FORMULA.finditer(text))) for node, text in _texts(root)]
    left = _MOST
    for node, formulas in found:
        if formulas and left > 0:
            _put(node, _with_formulas(node.text_content or "", formulas[:left]))
            left -= len(formulas)


def _texts(root: LexborNode) -> Iterator[tuple[LexborNode, str]]:
    for node in root.traverse(include_text=True):
        if not node.is_text_node:
            continue
        text = node.text_content or ""
        if ("\\" in text or "$$" in text) and not _is_verbatim(node):
            yield node, text


def _is_verbatim(node: LexborNode) -> bool:
    outer = node.parent
    while outer is not None:
        if outer.tag in _VERBATIM:
            return True
        outer = outer.parent
    return False


def _with_formulas(text: str, formulas: list[re.Match[str]]) -> str:
    parts, at = list[str](), 0
    for formula in formulas:
        tex = formula["inline"] or formula["block"] or formula["shown"]
        parts += (
            escape(text[at : formula.start()]),
            _shown(tex, is_block=formula["inline"] is None, written=formula[0]),
        )
        at = formula.end()
    return "".join([*parts, escape(text[at:])])


def formula(tex: str, *, is_block: bool = False) -> str:
    """A formula as elements that browsers show, which have not passed the sanitiser; as it is written, in code, where
    it is longer than any or cannot be read."""
    written = f"<code>{escape(tex)}</code>"
    if len(tex) > _LONGEST:
        return written
    try:
        return convert(tex.strip(), display="block" if is_block else "inline")
    except _UNREADABLE:
        return written


def _shown(tex: str, *, is_block: bool, written: str = "") -> str:
    """A formula; as it is written where it cannot be read."""
    try:
        return convert(tex.strip(), display="block" if is_block else "inline")
    except _UNREADABLE:
        return escape(written or tex)


def _put(node: LexborNode, html: str) -> None:
    made = LexborHTMLParser(f"<body><span>{html}</span></body>").css_first("span")
    if made is not None:
        node.replace_with(made)
