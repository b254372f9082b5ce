"""Patches for what a project's newest release says wrong."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable

import msgspec
from django.db.models import QuerySet

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.link_rules import PATCHED_RULES, Fix, fixes_of
from zarbek.core.findings.patches import Edit, replacement_for
from zarbek.core.linking.link import Link
from zarbek.core.model.mention import Mention
from zarbek.core.model.mention_places import file_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Project, Release
from zarbek.service.content.queries import read_text
from zarbek.service.findings.models import FindingRecord
from zarbek.service.findings.queries import alive
from zarbek.service.links.linking import Linking
from zarbek.service.links.queries import get_link_map, links_of_text, with_versions


class Patch(msgspec.Struct, frozen=True):
    """state: making or made. diff: for ``git apply`` at the root of the repository. made: names that it mends; left:
    edits that it does not make, each with the reason."""

    project: str
    version: str
    commit: str
    state: str
    diff: str
    made: int
    left: list[str]


def find_mendable(project: Project, fingerprints: Collection[str] = ()) -> QuerySet[FindingRecord]:
    """Standing findings that a patch may mend; only those named, if any are."""
    rows = alive(project).filter(rule__in=[*PATCHED_RULES, "stale/redirect"])
    return rows.filter(fingerprint__in=list(fingerprints)) if fingerprints else rows


def list_edits(
    release: Release, rows: Iterable[FindingRecord], *, likely: bool = False, accepted: bool = False
) -> list[Edit]:
    """What to write instead, where that is beyond doubt; with likely, also where more than spelling speaks for it.

    accepted: somebody has chosen these findings, and with them whatever they suggest.
    """
    wanted: dict[tuple[str, str], set[str]] = defaultdict(set)
    edits: list[Edit] = []
    for row in rows:
        kind = row.document.get("subject_kind", "symbol")
        if row.rule == "stale/redirect":
            edits += _redirected(row)
        else:
            wanted[kind, row.subject].add(row.computed)
    judging = Linking(release)
    for (kind, subject), computed in sorted(wanted.items()):
        text, links = _text(release, kind, subject)
        mentions = text.mentions if text is not None else []
        for mention, link in zip(mentions, links, strict=True):
            fixes = [m for m in fixes_of(mention, link, judging.rule_context)
                     if fingerprint(m.rule, f"{kind}:{subject}", mention.name) in computed
                     and (accepted or m.suggestion.certain
                          or (likely and not m.suggestion.looks_alike))]  # fmt: skip
            edits += _edits(fixes, file_of(text, mention) if text is not None else "", mention)
    return sorted(edits)


def _redirected(row: FindingRecord) -> list[Edit]:
    found = row.document
    new = found.get("suggestion", "")
    if not new or not found.get("certain") or not found.get("file"):
        return []
    return [Edit(found["file"], found.get("line", 0), found.get("column", 0), found["target"], new, True, row.rule)]


def _text(release: Release, kind: str, path: str) -> tuple[Symbol | Page | None, list[Link]]:
    links = with_versions(release, links_of_text(release, get_link_map(release), kind, path))
    text = read_text(release.pk, kind, path)
    return (text, links) if text is not None else (None, [])


def _edits(fixes: Iterable[Fix], file: str, mention: Mention) -> list[Edit]:
    for fix in fixes:
        replacement = replacement_for(mention.text, fix.old, fix.suggestion.name)
        if replacement is not None and replacement != mention.text:
            return [Edit(file, mention.line, mention.column, mention.text, replacement,
                         fix.suggestion.certain, fix.rule, fix.suggestion.why)]  # fmt: skip
    return []
