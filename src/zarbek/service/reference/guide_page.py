"""The page of one guide."""

from __future__ import annotations

import re
from collections.abc import Iterator
from urllib.parse import quote

from zarbek.core.editions.numbering import NO_NUMBERS, PageNumbers, called_caption, paired
from zarbek.core.linking.link import Link
from zarbek.core.model.page import Heading, Page
from zarbek.core.model.supplement import SUPPLEMENT
from zarbek.core.writing.html import PageMarks
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import list_releases
from zarbek.service.common.problems import NotFound
from zarbek.service.content.block_layout import PageRef
from zarbek.service.content.queries import find_shown, get_manifest, list_page_refs, read_page
from zarbek.service.links.queries import get_link_map, links_in, list_referrers
from zarbek.service.reference.guide_numbers import numbers_of
from zarbek.service.reference.linked_texts import Texts, href_of
from zarbek.service.reference.navigation import href_of_symbol, navigation_of
from zarbek.service.reference.page_data import DocumentedView, GuidePage, HeadingView
from zarbek.service.reference.symbol_page import count_referrers
from zarbek.service.reference.text_findings import list_findings

#: Of a heading, besides the title: a kind, a name of a namespace.
_MOST_MORE = 60


def find_page_ref(release: Release, path: str) -> PageRef | None:
    """A guide of a release by path; None where there is none."""
    return next((ref for ref in list_page_refs(release.pk) if ref.entry.path == path), None)


def find_moved_page(release: Release, path: str) -> str:
    """The path in a release of the page that was there before: the one that says so, or the only one that says the same
    as another release has there. Empty where there is none."""
    here = list_page_refs(release.pk)
    told = [ref.entry.path for ref in here if path in ref.entry.formerly]
    if told:
        return told[0]
    for other in list_releases(release.project):
        was = find_page_ref(other, path)
        if was is not None and was.entry.said:
            same = [ref.entry.path for ref in here if ref.entry.said == was.entry.said]
            return same[0] if len(same) == 1 else ""
    return ""


def get_guide_page(release: Release, path: str) -> GuidePage:
    """Raises NotFound with a release that has the guide, if any has."""
    slug = release.project.slug
    page = read_page(_get_ref(release, path))
    links = links_in(release, get_link_map(release).pages, path)
    findings = list_findings(release, path, "page")
    numbers = numbers_of(release)
    own = numbers.pages.get(path, NO_NUMBERS)
    texts = Texts(page.mentions, links, findings, numbers.called)
    navigation = navigation_of(release, "", path)
    at = next((i for i, guide in enumerate(navigation.guides) if guide.path == path), 0)
    title, place = page.title, f"{quote(slug)}/{quote(release.version)}/{quote(path)}"
    if page.form == "html":
        title = _title_of(page)
        headings = [(h, "") for h in page.headings if h.anchor and h.title != title]
        html = texts.tree_page(page.text, get_manifest(release.pk).tree_of(page.file), title)
    else:
        headings = _numbered_headings(page, own)
        marks = PageMarks([h.anchor for h, _ in headings], [number for _, number in headings], _called(page, own))
        html = texts.block(_without_title(page.text, page.title), marks, 2)
    return GuidePage(
        navigation=navigation, path=path, title=title, number=own.number, html=html,
        headings=[HeadingView(h.level, h.title, h.anchor, number) for h, number in headings],
        previous=navigation.guides[at - 1] if at > 0 else None,
        following=navigation.guides[at + 1] if at + 1 < len(navigation.guides) else None,
        file=page.file, findings=findings,
        referrers=count_referrers(list_referrers(release.project, path), release.project, path),
        permanent=f"/guide/{place}", original=f"/api/v1/originals/{place}" if page.form == "html" else "",
        elements=[*_elements(release, page), *_supplemented(page, links)],
    )  # fmt: skip


def _get_ref(release: Release, path: str) -> PageRef:
    ref = find_page_ref(release, path)
    if ref is not None:
        return ref
    slug = release.project.slug
    for other in list_releases(release.project):
        if find_page_ref(other, path) is not None:
            raise NotFound(f"{slug} {release.version} has no guide {path}; {other.version} has it.",
                           elsewhere=f"/guide/{slug}/{other.version}/{path}")  # fmt: skip
    raise NotFound(f"{slug} has no guide {path}.")


def _numbered_headings(page: Page, own: PageNumbers) -> list[tuple[Heading, str]]:
    """The headings that stand below the page's title, each with its number or none."""
    return list(paired(page.headings, own.headings))[_starts(page.text, page.title) :]


def _called(page: Page, own: PageNumbers) -> list[tuple[str, str]]:
    """Of what has a caption, its place and what it is called."""
    return [
        (caption.anchor, called_caption(caption, number)) for caption, number in paired(page.captions, own.captions)
    ]


def _elements(release: Release, page: Page) -> Iterator[DocumentedView]:
    """What of the reference a page of a tree tells of, as far as its readers see it."""
    for path, anchor in ((told.path, told.anchor) for told in page.documents):
        entry = find_shown(release.pk, path)
        if entry is not None:
            found = entry.symbol
            yield DocumentedView(found.path, found.name, found.kind, href_of_symbol(release, found.path), anchor)


def _supplemented(page: Page, links: list[Link]) -> Iterator[DocumentedView]:
    """The elements that a supplement is for."""
    for mention, link in zip(page.mentions, links, strict=False):
        href = href_of(link) if mention.field == SUPPLEMENT else ""
        if href:
            yield DocumentedView(link.path, link.path or link.project, "element" if link.path else "project", href, "")


def _title_of(page: Page) -> str:
    """What a page of a tree calls itself: its first heading, where that says more than the title that it has."""
    first = next((h.title for h in page.headings if h.level == 1), "")
    is_more = re.search(rf"(?<!\w){re.escape(page.title)}(?!\w)", first) and len(first) < len(page.title) + _MOST_MORE
    return first if is_more else page.title


def _starts(text: str, title: str) -> int:
    return 1 if text.lstrip().startswith(f"# {title}") else 0


def _without_title(text: str, title: str) -> str:
    """The text without a first heading that repeats the page's title."""
    if not _starts(text, title):
        return text
    return text.lstrip().partition("\n")[2]
