"""Everything that links decide, computed afresh and held against what is kept."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

import msgspec

from zarbek.core.linking.link import Link
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import iter_symbols, list_page_refs, read_page
from zarbek.service.findings.actions.finding_history import FindingHistory, branch_of, is_from_links
from zarbek.service.findings.queries import alive
from zarbek.service.links.affected import list_judged
from zarbek.service.links.linking import Linking, Tally, targets_of
from zarbek.service.links.own_referrers import OwnReferrers
from zarbek.service.links.queries import get_link_map, links_of_text, read_document


@dataclass(frozen=True, slots=True)
class Difference:
    """release: ``SLUG VERSION``. place: a text, or what else differs."""

    release: str
    place: str
    kept: str
    computed: str


def list_differences(projects: Collection[str] | None = None) -> Iterator[Difference]:
    """Of every judged release, what is kept and what a full recomputation gives, where they differ.

    projects: slugs, None for all.
    """
    for release in list_judged():
        if projects is None or release.project.slug in projects:
            yield from _differences_of(release)


def _differences_of(release: Release) -> Iterator[Difference]:
    name = f"{release.project.slug} {release.version}"
    judging, tally, findings = Linking(release), Tally(), list[Finding]()
    link_map, within = get_link_map(release), OwnReferrers(release)
    for kind, path, links, found, counts in _judge_all(release, judging):
        within.add((kind, path), targets_of(links))
        kept = links_of_text(release, link_map, kind, path)
        if kept != links:
            yield Difference(name, f"{kind} {path}", _told(kept), _told(links))
        findings += found
        if counts:
            tally.add(links)
    for unit, document in within.documents().items():
        if read_document(link_map.referrers.get(unit, 0)) != document:
            yield Difference(name, f"referrers of {unit}", "", "")
    if release.health != tally.to_health():
        yield Difference(name, "health", str(release.health), str(tally.to_health()))
    edges = tally.to_edges(release.project.slug)
    if release.edges != edges:
        yield Difference(name, "edges", str(release.edges), str(edges))
    choices = {n: judging.portal.choice_of(n) for n in release.choices}
    if choices != release.choices:
        yield Difference(name, "choices", str(release.choices), str(choices))
    findings += judging.judge_dependencies()
    if not release.is_preview:
        yield from _finding_differences(release, name, findings)


def _judge_all(release: Release, judging: Linking) -> Iterator[tuple[str, str, list[Link], list[Finding], bool]]:
    for _, symbols in iter_symbols(release.pk):
        for _, symbol in symbols:
            if judging.concerns(symbol):
                judged = judging.judge_symbol(symbol)
                yield "symbol", symbol.path, judged.links, judged.findings, symbol.visibility != "private"
    for ref in list_page_refs(release.pk):
        judged = judging.judge_page(read_page(ref))
        yield "page", ref.entry.path, judged.links, judged.findings, True


def _finding_differences(release: Release, name: str, findings: list[Finding]) -> Iterator[Difference]:
    history = FindingHistory(release.project, release.version, 0)
    computed = {f.fingerprint: msgspec.to_builtins(f) for f in history.owned(findings)}
    rows = alive(release.project, branch_of(release.project, release.version))
    kept = {
        row.computed: row.document for row in rows
        if is_from_links(msgspec.convert(row.document, Finding))
    }  # fmt: skip
    for fingerprint in sorted(kept.keys() | computed.keys()):
        # Of several equal mentions in one text the first is told; which one that is does not matter.
        left, right = kept.get(fingerprint), computed.get(fingerprint)
        if left is None or right is None or _sense(left) != _sense(right):
            yield Difference(name, f"finding {fingerprint}", str(left), str(right))


def _sense(document: dict[str, object]) -> tuple[object, ...]:
    names = ("rule", "subject", "message", "target", "suggestion", "certain", "why", "was", "now", "owner")
    return tuple(document.get(name) for name in names)


def _told(links: list[Link]) -> str:
    return "; ".join(f"{k.outcome} {k.project} {k.version} {k.path or k.wanted} {','.join(k.stale)}" for k in links)
