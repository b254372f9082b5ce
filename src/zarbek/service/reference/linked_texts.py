"""Doc text of one symbol or page as HTML, with its links and faults marked in place."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from urllib.parse import quote, unquote

import msgspec

from zarbek.core.editions.reused_texts import MAX_DEPTH
from zarbek.core.findings.link_rules import broken_rules
from zarbek.core.linking.link import Link
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.doc_text import TEXT
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.writing.html import PageMarks, SafeHtml, Said, render, render_inline, sanitise_page
from zarbek.core.writing.shown import Shown
from zarbek.core.writing.tree_html import show_page
from zarbek.core.writing.type_text import Piece, cut_type
from zarbek.service.catalog.elsewhere import portal_of
from zarbek.service.common.packing import digest_of
from zarbek.service.reference.diagrams import draw
from zarbek.service.reference.rendering_cache import rendered_once
from zarbek.service.reference.reused_texts import read_said


def href_of(link: Link) -> str:
    """The console's address of a link's target, or empty; in a preview with its portal, where that has it."""
    if link.outcome != "linked" or link.is_kept:
        return ""
    if link.kind == "url":  # A project may say anything of outside addresses.
        return link.path if link.path.startswith(("http://", "https://")) else ""
    return portal_of(link.project) + _place_of(link)


def _place_of(link: Link) -> str:
    """Within the portal that has it."""
    place = f"{quote(link.project)}/{quote(link.version)}"
    if link.kind == "project":
        return f"/projects/{quote(link.project)}"
    if link.kind == "asset":
        return f"/api/v1/assets/{place}/{quote(link.path)}"
    if link.kind == "page":
        return f"/guide/{place}/{quote(link.path)}" + (f"#{quote(link.anchor)}" if link.anchor else "")
    return f"/ref/{place}/{quote(link.path)}" + (f"#{quote(link.anchor)}" if link.anchor else "")


#: From so many characters on a rendered text is kept for the next time that a page shows it.
_LONG = 4000


class Texts:
    """Renders the texts of one owner of mentions. called: what places are called to which it refers by label, by path
    and anchor. above: of a text that stands in others, the links by which they have it."""

    def __init__(
        self, mentions: list[Mention], links: list[Link], findings: Iterable[Finding],
        called: Mapping[tuple[str, str], str] | None = None, above: tuple[Link, ...] = (),
    ) -> None:  # fmt: skip
        self._called, self._above = called or {}, above
        self._uses: dict[str, Link] = {}
        self._prints = {(f.rule, f.text): f.fingerprint for f in findings}
        self._by_line = {(f.rule, f.line, f.column): f.fingerprint for f in findings}
        self._by_address: dict[str, Shown] = {}
        self._by_name: dict[str, tuple[str, str, str, str]] = {}
        for mention, link in zip(mentions, links, strict=False):
            shown = self._shown(mention, link)
            if mention.origin == "code":
                self._by_address.setdefault("code:" + mention.text.lstrip("~!"), shown)
                if mention.role:
                    self._by_address.setdefault(mention.address, shown)
            elif mention.role == TEXT:
                self._uses.setdefault(mention.name, link)
                self._by_address.setdefault(f"{TEXT}:{mention.name}", shown)
            elif mention.origin == "label":
                self._by_address.setdefault(f"label:{mention.name}", shown)
            elif mention.origin in ("page", "asset", "url"):
                self._by_address.setdefault(mention.text, shown)
            else:
                self._by_address.setdefault(mention.address, shown)
                self._by_address.setdefault(unquote(mention.address), shown)
            if shown.href or shown.state:
                for name in (mention.text, mention.name):
                    self._by_name.setdefault(name, (shown.href, shown.state, shown.finding, shown.title))

    def joined(self, other: Texts) -> Texts:
        """Both: where they know the same name, this one's meaning holds."""
        made = Texts([], [], [])
        made._by_address = {**other._by_address, **self._by_address}
        made._by_name = {**other._by_name, **self._by_name}
        made._uses = {**other._uses, **self._uses}
        return made

    def _shown(self, mention: Mention, link: Link) -> Shown:
        rules = broken_rules(link)
        state = rules[0].partition("/")[0] if rules else ""
        finding = ""
        for rule in rules:
            finding = finding or self._by_line.get((rule, mention.line, mention.column), "")
        called = self._called.get((link.path, link.anchor), "") if link.kind == "page" else ""
        return Shown(href_of(link), link.path if link.kind == "symbol" else "", state, finding, called)

    def _resolve(self, address: str) -> Shown | None:
        found = self._by_address.get(address) or self._by_address.get(unquote(address))
        if found is not None:
            return found if found.href or found.state else None
        if address.startswith(("http://", "https://", "mailto:")):
            return Shown(address)
        if address.startswith("#"):
            return Shown(address)
        return None

    def _say(self, name: str) -> Said | None:
        """The text of another that a text of these uses; none of one that it stands in, or that lies too deep."""
        link = self._uses.get(name)
        if link is None or not href_of(link) or link in self._above or len(self._above) >= MAX_DEPTH:
            return None
        found = read_said(link)
        if found is None:
            return None
        inner = Texts(found.mentions, found.links, [], above=(*self._above, link))
        return Said(inner.block(found.text), inner.line(found.text), found.called, Shown(href_of(link)))

    def block(self, text: str, marks: PageMarks | None = None, headings_from: int = 3) -> SafeHtml:
        """Text of several paragraphs as safe HTML. marks: of a guide. headings_from: the level of its highest."""
        if len(text) < _LONG or self._uses:
            return render(text, self._resolve, marks=marks, headings_from=headings_from, say=self._say, draw=draw)
        key = digest_of(repr((text, marks, headings_from, sorted(self._by_address.items()))).encode(errors="replace"))
        return rendered_once(
            key, lambda: render(text, self._resolve, marks=marks, headings_from=headings_from, draw=draw)
        )

    def tree_page(self, text: str, facts: TreeFacts, title: str) -> SafeHtml:
        """A page of a tree as safe HTML."""
        known = sorted(self._by_address.items())
        key = digest_of(repr((text, msgspec.json.encode(facts), title, known)).encode(errors="replace"))
        return rendered_once(key, lambda: show_page(text, facts, title, self._by_address.get), sanitise_page)

    def line(self, text: str) -> SafeHtml:
        """Text of one line as safe HTML."""
        return render_inline(text, self._resolve, self._say)

    def type(self, text: str) -> list[Piece]:
        """A type in pieces, those that are linked with their addresses."""
        return cut_type(text, self._by_name.get) if text else []

    def code(self, text: str) -> list[Piece]:
        """Code in pieces, as it stands; those that are linked with their addresses."""
        return cut_type(text, self._by_name.get, is_whole=True) if text else []

    def name(self, text: str) -> list[Piece]:
        """A name in one piece, with its address where it is linked."""
        found = self._by_name.get(text)
        return [Piece(text, found[0], found[3] or text, found[1], found[2])] if found else [Piece(text)]


#: For summaries, which are shown without their links.
UNLINKED = Texts([], [], [])
