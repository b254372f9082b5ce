"""CommonMark with ``api:`` links to safe HTML.

All text is hostile: raw HTML is shown as text, the result passes the one sanitiser with a fixed
list of elements, and only http, https and addresses of this portal become links. What has passed
is a SafeHtml, and nothing else is one.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from html import escape
from typing import Any, NamedTuple

import nh3
from markdown_it import MarkdownIt
from markdown_it.renderer import RendererHTML
from markdown_it.rules_core import StateCore
from markdown_it.token import Token

from zarbek.core.model.doc_text import INHERIT, TEXT
from zarbek.core.model.limits import is_dear
from zarbek.core.model.mention import address_of
from zarbek.core.sources.guides.dialect import (
    ADMONITIONS,
    BLOCK,
    CAPTIONED,
    DIAGRAMS,
    FOLDED,
    GLOSSARY,
    block_name,
    caption_of,
    extend,
    extend_lines,
    without_places,
)
from zarbek.core.sources.guides.places import block_anchor, slug_of, words_of
from zarbek.core.sources.markup.inline import role_text
from zarbek.core.writing import diagram
from zarbek.core.writing.code_tokens import MAX_CODE, Resolve, code_lines, is_known, links_in
from zarbek.core.writing.mathematics import formula
from zarbek.core.writing.shown import Shown, tags_of

_TAGS = {
    "a", "p", "em", "strong", "code", "pre", "ul", "ol", "li", "blockquote", "table", "thead",
    "tbody", "tr", "th", "td", "hr", "br", "h2", "h3", "h4", "h5", "h6", "img", "s", "span",
    "div", "section", "sup", "dl", "dt", "dd", "details", "summary", "figure", "figcaption",
}  # fmt: skip
_ATTRIBUTES = {
    "a": {"href", "class", "title", "id", "data-finding"}, "span": {"class", "data-finding", "title"},
    "code": {"class"}, "pre": {"class", "tabindex"}, "div": {"class", "id", "tabindex"}, "img": {"src", "alt", "title"},
    "details": {"open", "name", "class"}, "li": {"id", "class"}, "sup": {"class"}, "section": {"class"},
    "blockquote": {"class"}, "figure": {"id", "class"}, "dt": {"id"},
    **{f"h{n}": {"id"} for n in range(2, 7)},
}  # fmt: skip
_MATH_TAGS = {
    "math", "mfrac", "mi", "mn", "mo", "mover", "mroot", "mrow", "msqrt", "mstyle", "msub", "msubsup", "msup", "mtable",
    "mtd", "mtr", "munder", "munderover", "mspace", "mtext",
}  # fmt: skip
_MATH_ATTRIBUTES = {
    "math": {"display"}, "mo": {"stretchy", "fence"}, "mfrac": {"linethickness"}, "mtd": {"columnalign"},
    "mi": {"mathvariant"}, "mspace": {"width"},
}  # fmt: skip
#: What pages of trees may have besides: whatever says something, and nothing that acts or loads.
_PAGE_TAGS = _TAGS | {
    "abbr", "address", "b", "bdi", "bdo", "big", "caption", "center", "cite", "col", "colgroup", "del",
    "details", "dfn", "figcaption", "figure", "h1", "i", "ins", "kbd", "mark", "q", "rp", "rt", "ruby", "samp",
    "small", "strike", "summary", "tfoot", "time", "tt", "u", "var", "wbr", *_MATH_TAGS,
}  # fmt: skip
_PAGE_ATTRIBUTES = {
    "*": {"id", "title", "lang", "dir"}, "a": {"href", "class", "data-finding"}, "span": {"class", "data-finding"},
    "code": {"class"}, "pre": {"class", "tabindex"}, "img": {"src", "alt", "width", "height"},
    "td": {"colspan", "rowspan", "headers"}, "th": {"colspan", "rowspan", "headers", "scope", "abbr"},
    "col": {"span"}, "colgroup": {"span"}, "ol": {"start", "reversed", "type"}, "li": {"value"}, "time": {"datetime"},
    "details": {"open"}, **_MATH_ATTRIBUTES,
}  # fmt: skip
_PASSED = object()
#: One line of words without any mark: the parser would say the same, slowly.
_PLAIN = re.compile(r"[A-Za-z][\w ,.;()'\"?/%=-]*")
#: A place in a guide, once escaped.
_ANCHOR = re.compile(r"&lt;a\s+(?:id|name)\s*=\s*[\"']?([\w.:-]+)[\"']?\s*/?&gt;|&lt;/a&gt;|\s*\{#([\w.:-]+)\}", re.I)


@dataclass(frozen=True, slots=True)
class PageMarks:
    """What a guide's places are called. anchors: of its headings, in order; numbers: of the same, empty for none.
    captions: (anchor, what it is called, as ``Figure 2.1``, or empty) of what has a caption, in order."""

    anchors: list[str]
    numbers: list[str] = field(default_factory=list)
    captions: list[tuple[str, str]] = field(default_factory=list)


class SafeHtml:
    """HTML that has passed the sanitiser; ``str()`` gives its text. Only ``sanitise`` makes one."""

    __slots__ = ("_text",)

    def __init__(self, text: str, passed: object) -> None:
        """Raises TypeError for whoever is not the sanitiser."""
        if passed is not _PASSED:
            raise TypeError("Only sanitise() makes SafeHtml.")
        self._text = text

    def __str__(self) -> str:
        return self._text

    def __bool__(self) -> bool:
        return bool(self._text)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, SafeHtml) and other._text == self._text

    def __hash__(self) -> int:
        return hash(self._text)

    def __repr__(self) -> str:
        return f"SafeHtml({self._text!r})"


class Said(NamedTuple):
    """The text of another element, or of a block, that stands in a text. html: all of it; line: the same without a
    paragraph around it. shown: how its origin appears."""

    html: SafeHtml
    line: SafeHtml
    called: str
    shown: Shown


#: Name of a text that is used to the text; None where there is none.
Say = Callable[[str], "Said | None"]


#: No text at all.
NO_HTML = SafeHtml("", _PASSED)


def joined_html(parts: Iterable[SafeHtml], between: str = "") -> SafeHtml:
    """Several one behind the other. between: plain text."""
    return SafeHtml(escape(between, quote=False).join(str(part) for part in parts if part), _PASSED)


def sanitise(html: str) -> SafeHtml:
    """Hostile HTML with nothing left but elements and attributes of the fixed lists."""
    if not html:
        return NO_HTML
    tags, attributes = _TAGS, _ATTRIBUTES
    if "<math" in html:
        tags, attributes = tags | _MATH_TAGS, attributes | _MATH_ATTRIBUTES
    if "<svg" in html:
        tags, attributes = tags | diagram.TAGS, attributes | diagram.ATTRIBUTES
    return _cleaned(html, tags, attributes)


def sanitise_page(html: str) -> SafeHtml:
    """The same for what a page of a tree says, which may have more elements, and places everywhere."""
    return _cleaned(html, _PAGE_TAGS, _PAGE_ATTRIBUTES)


def _cleaned(html: str, tags: set[str], attributes: dict[str, set[str]]) -> SafeHtml:
    schemes = {"http", "https", "mailto"}
    clean = nh3.clean(html, tags=tags, attributes=attributes, link_rel="noopener", url_schemes=schemes)
    return SafeHtml(clean, _PASSED)


def _parser_of(extended: Callable[[MarkdownIt], MarkdownIt] = extend) -> MarkdownIt:
    parser = extended(MarkdownIt("commonmark", {"html": False}, renderer_cls=_Renderer))
    parser.validateLink = lambda url: True  # type: ignore[method-assign]  # _Renderer judges.
    parser.add_render_rule("myst_role", _Renderer.myst_role)  # Not as the extension shows it.
    parser.core.ruler.push("said", _with_said)
    shown_by = {**dict.fromkeys(ADMONITIONS, _admonition), **dict.fromkeys(FOLDED, _folded),
                **dict.fromkeys(CAPTIONED, _captioned), GLOSSARY: _glossary, BLOCK: _block}  # fmt: skip
    for name, rule in shown_by.items():
        for part in ("open", "close"):
            parser.add_render_rule(f"container_{name}_{part}", rule)
    return parser


@lru_cache(maxsize=1)
def _page_parser() -> MarkdownIt:
    return _parser_of()


@lru_cache(maxsize=1)
def _line_parser() -> MarkdownIt:
    """For most texts: each kind of block costs something at every line."""
    return _parser_of(extend_lines)


@lru_cache(maxsize=1)
def _text_parser() -> MarkdownIt:
    """The same for texts that are no guides: a line that begins with a colon is a line there."""
    return _parser_of().disable("deflist")


def render(
    text: str, resolve: Resolve, *, headings_from: int = 3, marks: PageMarks | None = None, say: Say | None = None,
    draw: diagram.Draw | None = None,
) -> SafeHtml:  # fmt: skip
    """Safe HTML of one text.

    resolve: called with each link's address, and with ``code:TEXT`` for each code span.
    headings_from: the level that the text's first level becomes. marks: of a guide. say: gives texts that others use.
    draw: draws diagrams; without it their text is shown.
    """
    if not text:
        return NO_HTML
    if _PLAIN.fullmatch(text):  # Nothing is left for the sanitiser to do.
        return SafeHtml(f"<p>{escape(text.rstrip(), quote=False)}</p>\n", _PASSED)
    if is_dear(text):
        return sanitise(
            f"<p>This text is too long to be set; here it is as it was written.</p>{_highlighted(text, '')}"
        )
    environment = {"resolve": resolve, "headings_from": headings_from, "is_page": marks is not None, "say": say,
                   "draw": draw}  # fmt: skip
    if marks is None:
        parser = _text_parser() if ":::" in text else _line_parser()
        return sanitise(parser.render(text, environment))
    numbers = [*marks.numbers, *[""] * (len(marks.anchors) - len(marks.numbers))]
    environment["headings"] = list(zip(marks.anchors, numbers, strict=True))
    environment["captions"] = list(marks.captions)
    return sanitise(_page_parser().render(text, environment))


def render_inline(text: str, resolve: Resolve, say: Say | None = None) -> SafeHtml:
    """Safe HTML of one line of text, without a paragraph around it."""
    html = str(render(text, resolve, say=say)).strip()
    if html.startswith("<p>") and html.endswith("</p>") and html.count("<p>") == 1:
        html = html[3:-4]
    return SafeHtml(html, _PASSED)  # What passed the sanitiser, with or without its one paragraph.


class _Renderer(RendererHTML):
    def text(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        shown = escape(tokens[idx].content, quote=False)
        if not env.get("is_page"):
            return shown.replace(INHERIT, "")  # Still there where nobody says what is overridden.
        here = env.get("here")

        def place(found: re.Match[str]) -> str:
            name = found[1] or found[2]
            return f'<a id="{name}"></a>' if name and name != here else ""

        return _ANCHOR.sub(place, shown) if "&lt;" in shown or "{#" in shown else shown

    def heading_open(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        level = min(int(tokens[idx].tag[1]) + env["headings_from"] - 1, 6)
        tokens[idx].tag = tokens[idx + 2].tag = f"h{level}"
        env["here"], number = env["headings"].pop(0) if env.get("headings") else ("", "")
        if env["here"]:
            tokens[idx].attrSet("id", env["here"])
        return self.renderToken(tokens, idx, options, env) + (f"{_number(number)} " if number else "")

    def heading_close(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        env["here"] = ""
        return self.renderToken(tokens, idx, options, env)

    def dt_open(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        if env.get("glossaries"):
            words = without_places("".join(map(words_of, tokens[idx + 1].children or []))).strip()
            tokens[idx].attrSet("id", f"term-{slug_of(words)}")
        return self.renderToken(tokens, idx, options, env)

    def fence(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        language = tokens[idx].info.strip().split(" ")[0]
        if language == "math":
            return f'<div class="formula">{formula(tokens[idx].content, is_block=True)}</div>\n'
        if language in DIAGRAMS and (drawn := _drawn(tokens[idx].content, env)):
            return drawn
        resolve = env["resolve"] if env.get("is_page") else None
        return _highlighted(tokens[idx].content, "" if "=" in language else language, resolve)

    def code_block(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        return _highlighted(tokens[idx].content, "")

    def code_inline(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        content = tokens[idx].content
        inner = f"<code>{escape(content)}</code>"
        if env.get("in_link"):
            return inner
        return _wrap(inner, env["resolve"]("code:" + content))

    def myst_role(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        if tokens[idx].meta["name"] == "math":
            return formula(tokens[idx].content)
        if tokens[idx].meta["name"] == TEXT:
            return _said(tokens[idx].content, env, is_block=False)
        said = role_text(tokens[idx].meta["name"], tokens[idx].content)
        inner = f"<code>{escape(said.shown)}</code>" if said.is_code else escape(said.shown)
        if env.get("in_link") or not said.name:
            return inner
        if said.kind not in ("label", "ref"):
            return _wrap(inner, env["resolve"](address_of(said.name, said.kind)))
        shown = env["resolve"](f"label:{said.name}")
        is_own = said.shown != said.target or said.name.startswith("term:")
        return _wrap(inner if is_own or shown is None or not shown.called else escape(shown.called), shown)

    def said(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        return _said(tokens[idx].content, env, is_block=True)

    def image(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        shown = env["resolve"](str(tokens[idx].attrGet("src") or ""))
        alt = escape(tokens[idx].content)
        if shown is None:
            return alt
        if not shown.href:
            return f'<span class="mention dangling" data-finding="{escape(shown.finding)}">{alt or "picture"}</span>'
        if shown.href.startswith(("http://", "https://")):  # A page asks nobody else for anything.
            return f'<a href="{escape(shown.href)}">{alt or "picture"}</a>'
        return f'<img src="{escape(shown.href)}" alt="{alt}">'

    def link_open(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        env["in_link"] = True
        shown = env["resolve"](str(tokens[idx].attrGet("href") or ""))
        opening, closing = tags_of(shown)
        env["link_close"] = closing
        if tokens[idx + 1].type != "link_close" or shown is None:
            return opening
        return opening + escape(shown.called or str(tokens[idx].attrGet("href")))

    def link_close(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        env["in_link"] = False
        return env.pop("link_close", "")


def _drawn(text: str, env: Mapping[str, Any]) -> str:
    """A diagram; its text with what is wrong where it cannot be drawn, and empty where nothing draws here."""
    if not env.get("draw"):
        return ""
    drawn = env["draw"](text)
    shown = diagram.show(drawn, env["resolve"]) if drawn.svg else ""
    why = f'<p class="undrawn">Not drawn: {escape(drawn.why, quote=False)}</p>' if drawn.why else ""
    return shown or (f"{_highlighted(text, 'dot')}{why}\n" if why else "")


def _said(name: str, env: Mapping[str, Any], *, is_block: bool) -> str:
    """The text of another, with where it is from, or its name where there is none."""
    said = env["say"](name.strip()) if env.get("say") else None
    if said is None:
        return _wrap(f"<code>{escape(name)}</code>", env["resolve"](f"{TEXT}:{name.strip()}"))
    if not is_block:
        return str(said.line)
    origin = _wrap(escape(said.called), said.shown)
    return f'<div class="said">{said.html}<div class="said-from">Said at {origin}</div></div>\n'


def _with_said(state: StateCore) -> None:
    """A paragraph that is nothing but the text of another is that text."""
    tokens = state.tokens
    for at in range(len(tokens) - 2):
        parts = tokens[at + 1].children or [] if tokens[at].type == "paragraph_open" else []
        if len(parts) == 1 and parts[0].type == "myst_role" and parts[0].meta["name"] == TEXT:
            tokens[at].hidden = tokens[at + 2].hidden = True
            tokens[at + 1] = Token("said", "", 0, content=parts[0].content)


def _number(number: str) -> str:
    return f'<span class="number">{escape(number)}</span>'


def _admonition(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    token = tokens[idx]
    if token.nesting != 1:
        return "</div>"
    kind = token.type.removeprefix("container_").removesuffix("_open")
    return f'<div class="admonition"><p><strong>{kind.capitalize()}</strong></p>'


def _captioned(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    """A figure, table, listing or example; what it is called stands before its caption."""
    token = tokens[idx]
    if token.nesting != 1:
        return f"{env['captioned'].pop()}</figure>\n"
    kind, told, _ = caption_of(token.info)
    anchor, called = env["captions"].pop(0) if env.get("captions") else ("", "")
    number = f"{_number(called)} " if called else ""
    words = _page_parser().renderInline(told, {"resolve": lambda address: None, "is_page": False})
    caption = f"<figcaption>{number}{words}</figcaption>\n"
    is_above = kind != "figure"
    env.setdefault("captioned", []).append("" if is_above else caption)
    place = f' id="{escape(anchor)}"' if anchor else ""
    return f'<figure{place} class="{kind}">{caption if is_above else ""}'


def _block(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    name = block_name(tokens[idx].info)
    return f'<div id="{block_anchor(name)}">' if tokens[idx].nesting == 1 else "</div>\n"


def _glossary(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    env["glossaries"] = env.get("glossaries", 0) + tokens[idx].nesting
    return '<div class="glossary">' if tokens[idx].nesting == 1 else "</div>\n"


def _folded(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    """A part that opens, or one of several of which one is open: the first."""
    token = tokens[idx]
    if token.nesting != 1:
        return "</details>\n"
    kind, _, title = token.info.strip().partition(" ")
    summary = f"<summary>{escape(title.strip() or 'More', quote=False)}</summary>"
    if kind != "tab":
        return f"<details>{summary}"
    is_first = idx == 0 or tokens[idx - 1].type != "container_tab_close"
    if is_first:
        env["tabs"] = env.get("tabs", 0) + 1
    return f'<details class="tab" name="tabs-{env["tabs"]}"{" open" if is_first else ""}>{summary}'


def _wrap(inner: str, shown: Shown | None) -> str:
    opening, closing = tags_of(shown)
    return opening + inner + closing


def highlight_code(code: str, language: str) -> SafeHtml:
    """A code block with classes for its tokens; unknown languages and huge blocks stay plain."""
    return sanitise(_highlighted(code, language))


def _highlighted(code: str, language: str, resolve: Resolve | None = None) -> str:
    if not is_known(language) or len(code) > MAX_CODE:
        return f'<pre tabindex="0"><code>{escape(code)}</code></pre>\n'
    links = links_in(code, resolve) if resolve is not None else ()
    return f'<pre class="code" tabindex="0"><code>{code_lines(code, language, links)}</code></pre>\n'
