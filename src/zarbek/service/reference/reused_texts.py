"""Texts that others use, with what they link to."""

from __future__ import annotations

from typing import NamedTuple

from zarbek.core.editions.reused_texts import text_of_element
from zarbek.core.linking.link import Link
from zarbek.core.model.mention import Mention
from zarbek.core.sources.guides.places import text_of_block
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.queries import find_release
from zarbek.service.content.queries import find_shown, read_symbol, read_text
from zarbek.service.links.queries import get_link_map, links_of_text, with_versions


class UsedText(NamedTuple):
    """called: where it is from, for people."""

    text: str
    mentions: list[Mention]
    links: list[Link]
    called: str


def read_said(link: Link) -> UsedText | None:
    """The text that a link means; None where there is none that its readers may see."""
    project = Project.objects.filter(slug=link.project).first()
    release = find_release(project, link.version) if project is not None else None
    if release is None:
        return None
    kind = "page" if link.kind == "page" else "symbol"
    if kind == "page":
        page = read_text(release.pk, "page", link.path)
        text = text_of_block(page.text, link.anchor) if page is not None else None  # type: ignore[union-attr]
        mentions, called = (page.mentions, page.title) if page is not None else ([], "")  # type: ignore[union-attr]
    else:
        entry = find_shown(release.pk, link.path)
        symbol = read_symbol(entry) if entry is not None else None
        text = text_of_element(symbol.doc, link.anchor) if symbol is not None else None
        mentions, called = (symbol.mentions, symbol.path) if symbol is not None else ([], "")
    if text is None:
        return None
    links = with_versions(release, links_of_text(release, get_link_map(release), kind, link.path))
    return UsedText(text, list(mentions), links, called)
