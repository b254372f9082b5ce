"""Findings about addresses outside of the portal."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.utils import timezone

from zarbek.core.findings.urlrules import judge_urls, urls_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.findings.actions import add_point, weighty
from zarbek.service.findings.ledger import Ledger
from zarbek.service.findings.models import UrlCheck
from zarbek.service.findings.urlchecks import check_urls
from zarbek.service.links.affected import list_judged
from zarbek.service.publishing.actions import renew_pages
from zarbek.service.reference.queries import iter_blocks, list_page_refs, read_page, read_symbols

#: Seconds for which one job asks; what is left waits for its next turn, and others have theirs.
BUDGET_S = 60.0


def check_release_urls(release_id: int) -> bool:
    """Ask for the addresses that a judged release links to, and keep what is wrong; whether none is left."""
    release = Release.objects.filter(pk=release_id, is_live=True, is_judged=True).select_related("project").first()
    if release is None or release.is_preview:
        return True
    texts = _texts_with_urls(release)
    urls = {mention.name for text in texts for mention in urls_of(text.mentions)}
    verdicts, is_done = check_urls(urls, BUDGET_S)
    ledger = Ledger(release.project, release.version, 0)
    found = ledger.compare([f for text in texts for f in judge_urls(text, verdicts)], part="urls")
    if not found.is_empty:
        ledger.keep(found, "addresses")
    if found.new or found.fixed:
        add_point(release, weighty(found.new), weighty(found.fixed))
        renew_pages()
    return is_done


def _texts_with_urls(release: Release) -> list[Symbol | Page]:
    found: list[Symbol | Page] = []
    for _, block in iter_blocks(release.pk):
        for _, symbol in read_symbols(block.entries):
            if symbol.visibility != "private" and any(m.origin == "url" for m in symbol.mentions):
                found.append(symbol)
    pages = (read_page(ref) for ref in list_page_refs(release.pk))
    return found + [page for page in pages if any(m.origin == "url" for m in page.mentions)]


def check_again() -> None:
    """Put every judged release whose addresses are due into the queue."""
    from zarbek.service.findings.tasks import check_urls_of  # The tasks import this module.

    due = timezone.now() - timedelta(seconds=settings.URL_AGAIN_S)
    if UrlCheck.objects.filter(checked_at__lt=due).exists():
        for release in list_judged():
            check_urls_of.enqueue(release.pk)
