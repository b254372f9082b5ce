"""What answers of addresses mean for the releases that have them."""

from __future__ import annotations

from zarbek.core.findings.url_rules import judge_urls
from zarbek.core.model.finding import Finding
from zarbek.service.addresses.queries import read_wishes, wrong_uses
from zarbek.service.addresses.rounds import verdict_of
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import read_text
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.publishing.actions.cache_epoch import renew_pages


def judge_addresses(release: Release) -> None:
    """Keep what is wrong with the addresses of a release, as far as it is known; only texts that have such are
    read."""

    def found() -> list[Finding]:
        wrong, wishes = wrong_uses(release), read_wishes([release.project_id])
        verdicts = {
            row.url: verdict_of(row) for rows in wrong.values() for row in rows
            if wishes.asks(release.project_id, row.host.name if row.host else "")
        }  # fmt: skip
        texts = (read_text(release.pk, kind, path) for kind, path in wrong)
        return [finding for text in texts if text is not None for finding in judge_urls(text, verdicts)]

    if release.is_preview or not release.is_judged:
        return
    compared = FindingHistory(release.project, release.version, 0).judge(found, part="urls", cause="addresses")
    if compared.new or compared.fixed:
        renew_pages([release.project.slug])
