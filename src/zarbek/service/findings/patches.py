"""Patches for what a project's newest release says wrong."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable

import msgspec

from zarbek.core.errors import GitRefused
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.link_rules import PATCHED_RULES, Fix, fixes_of
from zarbek.core.findings.patches import Edit, patch_files, replacement_for
from zarbek.core.linking.linker import Link
from zarbek.core.material.git_repository import export_commit
from zarbek.core.model.mention import Mention
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.allowed_repositories import reach_repository
from zarbek.service.common.problems import Conflict
from zarbek.service.common.workplaces import workplace
from zarbek.service.content.queries import read_text
from zarbek.service.findings.models import FindingRecord
from zarbek.service.findings.queries import alive
from zarbek.service.links.linking import Linking
from zarbek.service.links.queries import get_link_map, links_of_text, with_versions


class Patch(msgspec.Struct, frozen=True):
    """diff: for ``git apply`` at the root of the repository. made: names that it mends; left: edits
    that it does not make, each with the reason."""

    project: str
    version: str
    commit: str
    diff: str
    made: int
    left: list[str]


def list_edits(
    project: Project, *, likely: bool = False, fingerprints: Collection[str] = ()
) -> tuple[Release, list[Edit]]:
    """What to write instead, where that is beyond doubt; with likely, also where more than spelling speaks for it.

    fingerprints: of findings whose suggestion someone has accepted; only theirs, if any.
    """
    release = get_release(project.slug, "")
    rows = alive(project).filter(rule__in=[*PATCHED_RULES, "stale/redirect"])
    if fingerprints:
        rows = rows.filter(fingerprint__in=list(fingerprints))
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
        file, mentions, links = _text(release, kind, subject)
        for mention, link in zip(mentions, links, strict=True):
            fixes = [m for m in fixes_of(mention, link, judging.rule_context)
                     if fingerprint(m.rule, f"{kind}:{subject}", mention.name) in computed
                     and (fingerprints or m.suggestion.certain
                          or (likely and not m.suggestion.looks_alike))]  # fmt: skip
            edits += _edits(fixes, file, mention)
    return release, sorted(edits)


def _redirected(row: FindingRecord) -> list[Edit]:
    found = row.document
    new = found.get("suggestion", "")
    if not new or not found.get("certain") or not found.get("file"):
        return []
    return [Edit(found["file"], found.get("line", 0), found.get("column", 0), found["target"], new, True, row.rule)]


def _text(release: Release, kind: str, path: str) -> tuple[str, list[Mention], list[Link]]:
    links = with_versions(release, links_of_text(release, get_link_map(release), kind, path))
    text = read_text(release.pk, kind, path)
    return (text.file, text.mentions, links) if text is not None else ("", [], [])


def _edits(fixes: Iterable[Fix], file: str, mention: Mention) -> list[Edit]:
    for fix in fixes:
        replacement = replacement_for(mention.text, fix.old, fix.suggestion.name)
        if replacement is not None and replacement != mention.text:
            return [Edit(file, mention.line, mention.column, mention.text, replacement,
                         fix.suggestion.certain, fix.rule, fix.suggestion.why)]  # fmt: skip
    return []


def make_patch(project: Project, *, likely: bool = False, fingerprints: Collection[str] = ()) -> Patch:
    """Against the gathered commit, which is fetched again. Raises Conflict where the portal does not
    know the repository or cannot read it."""
    release, edits = list_edits(project, likely=likely, fingerprints=fingerprints)
    source = project.sources.first()
    if source is None or not release.commit:
        raise Conflict(
            f"The portal does not gather {project.slug} from a repository itself. Run zarbek patch {project.slug} "
            "with --source and the folder of a checkout."
        )
    with workplace("patch") as folder:
        try:
            export_commit(reach_repository(source.address), release.commit, folder)
        except GitRefused as error:
            raise Conflict(f"The gathered commit cannot be read again: {error}") from error
        root = folder / source.folder
        diff, made, left = patch_files(edits, lambda file: (root / file).read_bytes(), source.folder)
    return Patch(project.slug, release.version, release.commit, diff, made, left)
