"""CommonMark with ``api:`` links to safe HTML.

All text is hostile: raw HTML is shown as text, the result passes the one sanitiser with a fixed
list of elements, and only http, https and addresses of this portal become links. What has passed
is a SafeHtml, and nothing else is one.
"""

from __future__ import annotations

import re
from functools import lru_cache
from html import escape

import nh3
from markdown_it import MarkdownIt
from markdown_it.renderer import RendererHTML
from mdit_py_plugins.container import container_plugin
from mdit_py_plugins.footnote import footnote_plugin
from mdit_py_plugins.myst_role import myst_role_plugin

from zarbek.core.model.doc_text import INHERIT
from zarbek.core.model.limits import is_dear
from zarbek.core.model.mention import address_of
from zarbek.core.sources.markup.inline import role_text
from zarbek.core.writing.code_tokens import MAX_CODE, Resolve, code_lines, is_known, links_in
from zarbek.core.writing.mathematics import formula
from zarbek.core.writing.shown import Shown, tags_of

_TAGS = {
    "a", "p", "em", "strong", "code", "pre", "ul", "ol", "li", "blockquote", "table", "thead",
    "tbody", "tr", "th", "td", "hr", "br", "h2", "h3", "h4", "h5", "h6", "img", "s", "span",
    "div", "section", "sup", "dl", "dt", "dd", "details", "summary",
}  # fmt: skip
_ATTRIBUTES = {
    "a": {"href", "class", "title", "id", "data-finding"}, "span": {"class", "data-finding", "title"},
    "code": {"class"}, "pre": {"class", "tabindex"}, "div": {"class"}, "img": {"src", "alt", "title"},
    "details": {"open", "name", "class"}, "li": {"id", "class"}, "sup": {"class"}, "section": {"class"},
    "blockquote": {"class"},
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
#: A place in a guide that its author named, once escaped; the end of such an element.
_ANCHOR = re.compile(r"&lt;a\s+(?:id|name)\s*=\s*[\"']?([\w.:-]+)[\"']?\s*/?&gt;|&lt;/a&gt;", re.I)
#: ``::: note`` to ``:::`` in guides.
#: ``::: details TITLE``, and ``::: tab TITLE`` of which several stand one behind the other.
FOLDED = ("details", "tab")
ADMONITIONS = ("note", "tip", "important", "caution", "warning")


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


#: No text at all.
NO_HTML = SafeHtml("", _PASSED)


def sanitise(html: str) -> SafeHtml:
    """Hostile HTML with nothing left but elements and attributes of the fixed lists."""
    if not html:
        return NO_HTML
    is_math = "<math" in html
    tags, attributes = (_TAGS | _MATH_TAGS, _ATTRIBUTES | _MATH_ATTRIBUTES) if is_math else (_TAGS, _ATTRIBUTES)
    return _cleaned(html, tags, attributes)


def sanitise_page(html: str) -> SafeHtml:
    """The same for what a page of a tree says, which may have more elements, and places everywhere."""
    return _cleaned(html, _PAGE_TAGS, _PAGE_ATTRIBUTES)


def _cleaned(html: str, tags: set[str], attributes: dict[str, set[str]]) -> SafeHtml:
    schemes = {"http", "https", "mailto"}
    clean = nh3.clean(html, tags=tags, attributes=attributes, link_rel="noopener", url_schemes=schemes)
    return SafeHtml(clean, _PASSED)


@lru_cache(maxsize=1)
def _parser() -> MarkdownIt:
    parser = MarkdownIt("commonmark", {"html": False}, renderer_cls=_Renderer)
    parser.validateLink = lambda url: True  # type: ignore[method-assign]  # _Renderer judges.
    parser.enable(["table", "strikethrough"]).use(footnote_plugin).use(myst_role_plugin)
    parser.add_render_rule("myst_role", _Renderer.myst_role)  # Not as the extension shows it.
    for name in ADMONITIONS:
        parser.use(container_plugin, name, render=_admonition)
    for name in FOLDED:
        parser.use(container_plugin, name, render=_folded)
    return parser


def render(text: str, resolve: Resolve, *, headings_from: int = 3, anchors: list[str] | None = None) -> SafeHtml:
    """Safe HTML of one text.

    resolve: called with each link's address, and with ``code:TEXT`` for each code span.
    headings_from: the level that the text's first level becomes. anchors: ids of headings, of a page.
    """
    if not text:
        return NO_HTML
    if _PLAIN.fullmatch(text):  # Nothing is left for the sanitiser to do.
        return SafeHtml(f"<p>{escape(text.rstrip(), quote=False)}</p>\n", _PASSED)
    if is_dear(text):
        return sanitise(
            f"<p>This text is too long to be set; here it is as it was written.</p>{_highlighted(text, '')}"
        )
    environment = {
        "resolve": resolve, "headings_from": headings_from, "anchors": list(anchors or []),
        "is_page": anchors is not None,
    }  # fmt: skip
    return sanitise(_parser().render(text, environment))


def render_inline(text: str, resolve: Resolve) -> SafeHtml:
    """Safe HTML of one line of text, without a paragraph around it."""
    html = str(render(text, resolve)).strip()
    if html.startswith("<p>") and html.endswith("</p>") and html.count("<p>") == 1:
        html = html[3:-4]
    return SafeHtml(html, _PASSED)  # What passed the sanitiser, with or without its one paragraph.


class _Renderer(RendererHTML):
    def text(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        shown = escape(tokens[idx].content, quote=False)
        if not env.get("is_page"):
            return shown.replace(INHERIT, "")  # Still there where nobody says what is overridden.
        return _ANCHOR.sub(lambda m: f'<a id="{m[1]}"></a>' if m[1] else "", shown) if "&lt;" in shown else shown

    def heading_open(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        level = min(int(tokens[idx].tag[1]) + env["headings_from"] - 1, 6)
        tokens[idx].tag = tokens[idx + 2].tag = f"h{level}"
        if env["anchors"]:
            tokens[idx].attrSet("id", env["anchors"].pop(0))
        return self.renderToken(tokens, idx, options, env)

    def fence(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        language = tokens[idx].info.strip().split(" ")[0]
        if language == "math":
            return f'<div class="formula">{formula(tokens[idx].content, is_block=True)}</div>\n'
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
        said = role_text(tokens[idx].meta["name"], tokens[idx].content)
        inner = f"<code>{escape(said.shown)}</code>" if said.is_code else escape(said.shown)
        if env.get("in_link") or not said.name:
            return inner
        return _wrap(inner, env["resolve"](address_of(said.name, said.kind)))

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
        return opening

    def link_close(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
        env["in_link"] = False
        return env.pop("link_close", "")


def _admonition(self, tokens, idx, options, env):  # type: ignore[no-untyped-def]
    token = tokens[idx]
    if token.nesting != 1:
        return "</div>"
    kind = token.type.removeprefix("container_").removesuffix("_open")
    return f'<div class="admonition"><p><strong>{kind.capitalize()}</strong></p>'


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
