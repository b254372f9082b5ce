"""Addresses of the web: which are asked, and what comes of it."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from fnmatch import fnmatchcase

from django.conf import settings
from django.db.transaction import atomic
from django.utils import timezone

from zarbek.core.findings.url_rules import Round, UrlVerdict, judge_answer, judge_urls, urls_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.addresses.models import ProjectAddresses, QuietHost, UrlCheck
from zarbek.service.addresses.queries import host_of, list_unreachable, quiet_hosts
from zarbek.service.addresses.rounds import A_TURN, MAX_URLS, Asked, UrlChecker, rows_of, verdict_of, witnesses
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.egress import beside
from zarbek.service.content.queries import iter_symbols, list_page_refs, read_page
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.findings.actions.judging import add_point, weighty
from zarbek.service.publishing.actions.cache_epoch import renew_pages

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
    found = FindingHistory(release.project, release.version, 0).judge(
        lambda: [f for text in texts for f in judge_urls(text, verdicts)], part="urls", cause="addresses"
    )
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


def check_urls(urls: Iterable[str], budget_s: float) -> tuple[dict[str, UrlVerdict], bool]:
    """(verdicts by address, whether all that are due were asked). Hosts are asked beside one another.

    Those that were asked for lately are not asked again; after so many seconds none is begun any more. What
    an answer means depends on what others answered in the same round.
    """
    until = time.monotonic() + budget_s
    rows = rows_of(sorted({u for u in urls if len(u) < 2000})[:MAX_URLS])
    fresh = timezone.now() - timedelta(seconds=settings.URL_AGAIN_S)
    due: dict[str, list[UrlCheck]] = {}
    for row in rows.values():
        if row.checked_at is None or row.checked_at < fresh:
            due.setdefault(host_of(row.url), []).append(row)
    asked: list[Asked] = []
    with UrlChecker() as checker:
        while due and time.monotonic() < until:
            turns = [waiting[:A_TURN] for waiting in due.values()]
            for answers in beside(lambda turn: [checker.ask(row) for row in turn], turns):
                asked += answers
            due = {host: waiting[A_TURN:] for host, waiting in due.items() if waiting[A_TURN:]}
        asked += beside(checker.ask, witnesses(asked))
    keep_round(asked)
    known = {url: verdict_of(r) for url, r in rows.items() if r.checked_at is not None}
    return known, not due


def keep_round(asked: Sequence[Asked]) -> None:
    """Write down what each answer means beside the others."""
    now = timezone.now()
    good = Counter(a.place for a in asked if a.answer.is_good)
    for one in asked:
        scheme, host = one.place
        others = good.total() - one.answer.is_good
        is_open = any(s == scheme and h != host for s, h in good)
        _keep(one, Round(now.date(), is_genuine=others > 0, is_open=is_open), now)


def _keep(one: Asked, asked: Round, now: datetime) -> None:
    row, known = one.row, verdict_of(one.row)
    verdict = judge_answer(row.url, one.answer, known, asked)
    row.status, row.fault, row.moved_to = one.answer.status, verdict.fault[:300], verdict.moved_to
    row.failed_days, row.failed_on = verdict.failed_days, verdict.failed_on
    row.unreachable = verdict.unreachable[:300]
    row.unreachable_since = (row.unreachable_since or now) if verdict.unreachable else None
    row.etag = one.headers.get("ETag", "")[:300]
    row.last_modified = one.headers.get("Last-Modified", "")[:100]
    row.checked_at = now
    row.save()
