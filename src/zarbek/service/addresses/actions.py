"""Addresses of the web: which are asked, and what comes of it."""

from __future__ import annotations

from collections.abc import Iterable
from fnmatch import fnmatchcase

from django.db.transaction import atomic
from django.utils import timezone

from zarbek.core.findings.url_rules import judge_urls, urls_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.addresses.models import ProjectAddresses, QuietHost
from zarbek.service.addresses.queries import host_of, list_unreachable, quiet_hosts
from zarbek.service.addresses.rounds import check_urls
from zarbek.service.catalog.models import Project, Release
from zarbek.service.content.queries import iter_symbols, list_page_refs, read_page
from zarbek.service.findings.actions import add_point, weighty
from zarbek.service.findings.finding_history import FindingHistory
from zarbek.service.publishing.cache_epoch import renew_pages

#: Seconds for which one job asks; what is left waits for its next turn, and others have theirs.
BUDGET_S = 60.0


def check_release_urls(release_id: int) -> bool:
    """Ask for the addresses that a judged release links to, and keep what is wrong; whether none is left."""
    release = Release.objects.filter(pk=release_id, is_live=True, is_judged=True).select_related("project").first()
    if release is None or release.is_preview:
        return True
    texts = _texts_with_urls(release)
    urls = {mention.name for text in texts for mention in urls_of(text.mentions)}
    wanted = ProjectAddresses.objects.get_or_create(project=release.project)[0]
    asked = urls_asked(wanted, urls)
    verdicts, is_done = check_urls(asked, BUDGET_S)
    keep_unreachable(wanted, asked)
    finding_history = FindingHistory(release.project, release.version, 0)
    found = finding_history.compare([f for text in texts for f in judge_urls(text, verdicts)], part="urls")
    if not found.is_empty:
        finding_history.keep(found, "addresses")
    if found.new or found.fixed:
        add_point(release, weighty(found.new), weighty(found.fixed))
        renew_pages()
    return is_done


def _texts_with_urls(release: Release) -> list[Symbol | Page]:
    found: list[Symbol | Page] = []
    for _, symbols in iter_symbols(release.pk):
        for _, symbol in symbols:
            if symbol.visibility != "private" and any(m.origin == "url" for m in symbol.mentions):
                found.append(symbol)
    pages = (read_page(ref) for ref in list_page_refs(release.pk))
    return found + [page for page in pages if any(m.origin == "url" for m in page.mentions)]


def urls_asked(wanted: ProjectAddresses, urls: Iterable[str]) -> set[str]:
    """Those of a project's addresses that neither it nor the portal leaves alone."""
    quiet = [*quiet_hosts(), *wanted.quiet]
    return {u for u in urls if wanted.asks and not any(fnmatchcase(host_of(u), q) for q in quiet)}


def keep_unreachable(wanted: ProjectAddresses, urls: set[str]) -> None:
    """Write down, for those who read it, what could not be reached."""
    wanted.known, wanted.unreachable, wanted.checked_at = len(urls), list_unreachable(urls), timezone.now()
    wanted.save(update_fields=["known", "unreachable", "checked_at"])


def set_wishes(project: Project, *, asks: bool, quiet: list[str]) -> ProjectAddresses:
    """What of a project's addresses is asked from now on; the next look at them tells the rest."""
    wanted = ProjectAddresses.objects.get_or_create(project=project)[0]
    wanted.asks, wanted.quiet = asks, sorted({q.lower() for q in quiet})
    wanted.save(update_fields=["asks", "quiet"])
    return wanted


def set_quiet(hosts: list[str]) -> list[str]:
    """The hosts that nobody asks from now on."""
    wanted = {h.lower() for h in hosts}
    with atomic():
        QuietHost.objects.exclude(host__in=wanted).delete()
        known = set(QuietHost.objects.values_list("host", flat=True))
        QuietHost.objects.bulk_create(QuietHost(host=h) for h in sorted(wanted - known))
    return quiet_hosts()
