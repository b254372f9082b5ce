"""Which release has which addresses: written down once, when it begins to be judged."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.db.transaction import atomic
from django.utils import timezone

from zarbek.core.findings.url_rules import urls_of
from zarbek.service.addresses.models import AddressHost, AddressList, AddressUse, UrlCheck
from zarbek.service.addresses.queries import host_of, judged_releases
from zarbek.service.catalog.models import Release
from zarbek.service.common.batches import BATCH, batched
from zarbek.service.common.packing import digest_of
from zarbek.service.content.queries import iter_symbols, list_page_refs, read_page

MAX_URL = 2_000
#: What was last asked so long ago and stands nowhere is forgotten.
KEPT_FOR = timedelta(days=90)


def list_addresses(release: Release) -> int:
    """Write down a release's addresses, unless that is done; how many texts lead to any."""
    if AddressList.objects.filter(release=release).exists():
        return 0
    found = _urls_by_text(release)
    ids = _ids_of({url for urls in found.values() for url in urls})
    with atomic():
        if not Release.objects.select_for_update().filter(pk=release.pk).exists():
            return 0  # It has gone meanwhile.
        made = AddressList.objects.create(release=release)
        AddressUse.objects.bulk_create(
            (AddressUse(list=made, address_id=ids[url], kind=kind, path=path)
             for (kind, path), urls in found.items() for url in urls),
            batch_size=BATCH,
        )  # fmt: skip
    return len(found)


def _urls_by_text(release: Release) -> dict[tuple[str, str], list[str]]:
    found: dict[tuple[str, str], list[str]] = {}
    for _, symbols in iter_symbols(release.pk):
        for _, symbol in symbols:
            if symbol.visibility != "private":
                found["symbol", symbol.path] = _unique(mention.name for mention in urls_of(symbol.mentions))
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        found["page", page.path] = _unique(mention.name for mention in urls_of(page.mentions))
    return {text: urls for text, urls in found.items() if urls}


def _unique(urls: Iterable[str]) -> list[str]:
    return list(dict.fromkeys(url for url in urls if len(url) < MAX_URL))


def _ids_of(urls: set[str]) -> dict[str, int]:
    """Ids of addresses by address; new ones are due at once."""
    found: dict[str, int] = {}
    for batch in batched(sorted(urls)):
        by_digest = {digest_of(url.encode()): url for url in batch}
        known = UrlCheck.objects.filter(digest__in=list(by_digest))
        missing = by_digest.keys() - set(known.values_list("digest", flat=True))
        hosts = _host_ids({host_of(by_digest[d]) for d in missing})
        UrlCheck.objects.bulk_create(
            [UrlCheck(digest=d, url=by_digest[d], host_id=hosts[host_of(by_digest[d])]) for d in sorted(missing)],
            ignore_conflicts=True,  # Another release may bring the same address at this moment.
        )
        found |= {by_digest[d]: pk for d, pk in known.values_list("digest", "pk")}
    return found


def _host_ids(names: set[str]) -> dict[str, int]:
    AddressHost.objects.bulk_create([AddressHost(name=name) for name in sorted(names)], ignore_conflicts=True)
    return dict(AddressHost.objects.filter(name__in=names).values_list("name", "pk"))


def forget_lists() -> None:
    """Releases that nobody judges any longer have no addresses, and what stands nowhere is forgotten after a while;
    some at a time."""
    past = AddressList.objects.exclude(release__in=judged_releases())
    AddressList.objects.filter(pk__in=list(past.values_list("pk", flat=True)[:20])).delete()
    lost = UrlCheck.objects.filter(uses=None, due_at__lt=timezone.now() - KEPT_FOR)
    UrlCheck.objects.filter(pk__in=list(lost.values_list("pk", flat=True)[:BATCH])).delete()
