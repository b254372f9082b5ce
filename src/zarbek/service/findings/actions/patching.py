"""Patches against the gathered commit: asked for by readers, made by jobs, kept."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import msgspec
from django.utils import timezone

from zarbek.core.errors import GitRefused
from zarbek.core.findings.patches import patch_files
from zarbek.core.material.git_repository import export_commit
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.allowed_repositories import reach_repository
from zarbek.service.common.packing import digest_of
from zarbek.service.common.problems import Conflict, TooMany
from zarbek.service.common.workplaces import workplace
from zarbek.service.findings.models import PatchRecord
from zarbek.service.findings.patches import Patch, find_mendable, list_edits

#: Patches that wait to be made, in the whole portal.
MOST_WAITING = 50
#: What nobody has made by then was lost.
_LOST_AFTER = timedelta(minutes=10)
#: A repository that could not be read is tried again when somebody asks so long after.
_AGAIN_AFTER = timedelta(minutes=1)
_KEPT_FOR = timedelta(days=7)


def ask_patch(project: Project, *, likely: bool, fingerprints: list[str]) -> tuple[PatchRecord, bool]:
    """The patch of what stands in a project's newest release, or of the findings that somebody has chosen; whether it
    is to be made. It mends what its asker sees. Raises Conflict where the portal knows no repository, TooMany where
    many wait."""
    release = get_release(project.slug, "")
    source = _source_of(release)
    rows = list(find_mendable(project, fingerprints).order_by("pk"))
    said = [[r.fingerprint, r.document.get("suggestion", ""), r.document.get("certain", False)] for r in rows]
    accepted = bool(fingerprints)
    of = [release.pk, release.commit, source.address, source.folder, likely, accepted, said]
    now, digest = timezone.now(), digest_of(msgspec.json.encode(of))
    known = PatchRecord.objects.filter(project=project, digest=digest).first()
    if known is None:
        if (
            PatchRecord.objects.filter(document__isnull=True, problem="", asked_at__gt=now - _LOST_AFTER).count()
            > MOST_WAITING
        ):
            raise TooMany("Many patches are being made at this moment. Try again in a minute.", retry_after=60)
        values = {"asked_at": now, "is_likely": likely, "is_accepted": accepted, "findings": [s[0] for s in said]}
        return PatchRecord.objects.get_or_create(project=project, digest=digest, defaults=values)
    return known, _take_up(known)


def _take_up(record: PatchRecord) -> bool:
    """Whether it is to be made once more. Of several who ask, one does it."""
    now, asked = timezone.now(), record.asked_at
    rows = PatchRecord.objects.filter(pk=record.pk, asked_at=asked)
    if record.problem and asked < now - _AGAIN_AFTER:
        if rows.update(asked_at=now, problem=""):
            record.problem = ""
            return True
    elif record.document is None and not record.problem and asked < now - _LOST_AFTER:
        record.problem = "Nobody has made the patch within ten minutes; ask for it again in a minute."
        rows.update(asked_at=now, problem=record.problem)
    return False


def make_patch(number: int) -> None:
    """Make one that was asked for, unless that is done. The gathered commit is fetched again for it."""
    record = PatchRecord.objects.filter(pk=number, document__isnull=True).select_related("project").first()
    if record is None:
        return
    rows, values = PatchRecord.objects.filter(pk=number), {"problem": "The patch could not be made; the log says why."}
    try:
        values = {"document": msgspec.to_builtins(_patch(record)), "problem": ""}
    except Conflict as error:
        values = {"problem": str(error)}
    finally:
        rows.update(**values)


def _patch(record: PatchRecord) -> Patch:
    release = get_release(record.project.slug, "")
    rows = find_mendable(record.project, record.findings) if record.findings else []
    edits = list_edits(release, rows, likely=record.is_likely, accepted=record.is_accepted)
    source = _source_of(release)
    with workplace("patch") as folder:
        try:
            export_commit(reach_repository(source.address), release.commit, folder)
        except GitRefused as error:
            raise Conflict(f"The gathered commit cannot be read again: {error}") from error
        root = folder / source.folder
        diff, made, left = patch_files(edits, lambda file: (root / file).read_bytes(), source.folder)
    return Patch(record.project.slug, release.version, release.commit, "made", diff, made, left)


def _source_of(release: Release) -> Any:
    """Where the portal itself gathers the project: address and folder."""
    source = release.project.sources.first()
    if source is None or not release.commit:
        slug = release.project.slug
        raise Conflict(
            f"The portal does not gather {slug} from a repository itself. Run zarbek patch {slug} "
            "with --source and the folder of a checkout."
        )
    return source


def forget_patches() -> None:
    """Remove what was asked for long ago."""
    PatchRecord.objects.filter(asked_at__lt=timezone.now() - _KEPT_FOR).delete()
