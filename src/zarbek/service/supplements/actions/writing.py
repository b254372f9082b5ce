"""Writing and removing supplements."""

from __future__ import annotations

import zipfile
from hashlib import sha256
from typing import NamedTuple

import msgspec
import tomli_w
from django.db import transaction

from zarbek.core.model.mention import absolute_place
from zarbek.core.model.naming import enclosing_of
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import WRITTEN_NAME
from zarbek.core.model.visibility import kept_marks
from zarbek.core.sources.supplements.reader import read_supplement
from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.projects import ensure_companion, lock_project
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import find_release, list_releases
from zarbek.service.common.problems import Conflict, Problem
from zarbek.service.common.workplaces import workplace
from zarbek.service.content.queries import find_entry, get_manifest
from zarbek.service.publishing.actions.runs import keep_upload, start_run
from zarbek.service.publishing.models import Run
from zarbek.service.supplements.models import Revision
from zarbek.service.supplements.queries import list_revisions, list_written

MAX_TEXT = 100_000
#: Of one project.
MAX_WRITTEN = 2000


class Written(NamedTuple):
    """run: the one that brings it to readers."""

    revision: Revision
    run: Run


def read_written(project: Project, name: str, text: str) -> Page:
    """What somebody wrote, as a page. Raises Problem for what is no supplement, or for another project's elements."""
    if not WRITTEN_NAME.fullmatch(name):
        raise Problem("A supplement is called by small letters, digits and hyphens, with .md at its end.")
    if len(text) > MAX_TEXT:
        raise Problem(f"A supplement may have {MAX_TEXT:,} characters.")
    try:
        page = read_supplement(text, file=name, path=f"supplements/{name.removesuffix('.md')}")
    except ValueError as error:
        raise Problem(f"This is no supplement: {error}.") from error
    for target in page.supplement.targets if page.supplement is not None else ():
        if not target.startswith("api://") or absolute_place(target)[0] != project.slug:
            raise Problem(f"{target[:100]} is no element of {project.slug}: write api://{project.slug}/ and its path.")
    return page


def write_supplement(
    project: Project, name: str, text: str, *, author: str, reason: str, after: int | None
) -> Written:  # fmt: skip
    """Keep a new revision and publish all that is written of the project. after: the id of the revision that its
    author had before him, 0 for none. Raises Problem as above and without a reason, Conflict where somebody else has
    written meanwhile."""
    read_written(project, name, text)
    return _keep(project, name, text, author, reason, after)


def remove_supplement(project: Project, name: str, *, author: str, reason: str) -> Written:
    """Raises NotFound for one that never was, Problem without a reason."""
    list_revisions(project, name)
    return _keep(project, name, "", author, reason, None)


def _keep(project: Project, name: str, text: str, author: str, reason: str, after: int | None) -> Written:
    if len(reason.strip()) < 3:
        raise Problem("Say why, for those who read it later.")
    with transaction.atomic():
        lock_project(project.pk)
        last = Revision.objects.filter(project=project, name=name).order_by("-pk").first()
        if after is not None and after != (last.pk if last is not None and last.text else 0):
            raise Conflict(f"Somebody else has changed {name} meanwhile. Read it again, and write yours into it.")
        if last is None and len(list_written(project)) >= MAX_WRITTEN:
            raise Conflict(f"A project may have {MAX_WRITTEN:,} supplements that are written here.")
        revision = Revision.objects.create(
            project=project, name=name, text=text, author=author, reason=reason.strip()[:500]
        )
        before = {"revision": last.pk} if last is not None else None
        note("supplement.written" if text else "supplement.removed", project=project.slug, subject=name, before=before,
             after={"revision": revision.pk, "reason": revision.reason})  # fmt: skip
    return Written(revision, _publish(project, revision))


def renew_written(project: Project) -> Run | None:
    """Publish what is written of a project once more where its editions have other elements than they had; None where
    they have the same, or nothing is written."""
    last = Revision.objects.filter(project=project).order_by("-pk").first()
    if last is None:
        return None
    companion, latest = ensure_companion(project), find_release(project, "")
    kept = _keep_archive(project, companion)
    known = Run.objects.filter(project=companion.slug).order_by("-pk").first()
    if latest is None or (known is not None and known.origin.get("archive") == kept):
        return None
    return _start(companion, f"{last.pk}.{latest.pk}", kept, "")


def _publish(project: Project, revision: Revision) -> Run:
    """Start the run that publishes all that is written of a project, as its companion."""
    companion = ensure_companion(project)
    return _start(companion, str(revision.pk), _keep_archive(project, companion), revision.author)


def _start(companion: Project, version: str, archive: str, actor: str) -> Run:
    return start_run(project=companion.slug, version=version, origin={"archive": archive}, actor=actor)[0]


def _keep_archive(project: Project, companion: Project) -> str:
    """Keep all that is written of a project; the name of the archive, the same for the same."""
    rows = list_written(project)
    files = {"zarbek.toml": _project_file(project, companion, rows)}
    files |= {f"supplements/{row.name}": row.text for row in rows}
    with workplace("supplements") as folder:
        part = folder / "written.zip"
        with zipfile.ZipFile(part, "w") as archive:
            for name, text in files.items():  # Without the time: that of ZipInfo is always the same.
                archive.writestr(zipfile.ZipInfo(name), text, zipfile.ZIP_DEFLATED)
        return keep_upload(str(part), sha256(part.read_bytes()).hexdigest(), "archive")


def _project_file(project: Project, companion: Project, rows: list[Revision]) -> str:
    """Editions of the project have of what was written what is about elements that they have, as these are now."""
    releases = list_releases(project, previews=False)
    latest = find_release(project, "")
    manifest = get_manifest(latest.pk) if latest is not None else None
    flags: dict[str, list[str]] = {}
    for row in rows if latest is not None and manifest is not None and manifest.editions else ():
        page = read_written(project, row.name, row.text)
        for flag in sorted(_flags_of([latest, *releases], page)):
            flags.setdefault(flag, []).append(page.path)
    return tomli_w.dumps({
        "slug": companion.slug, "title": companion.title, "owner": project.owner,
        "summary": f"What people wrote in the portal of {project.slug}.",
        "visibility": manifest.options.get("visibility", "public") if manifest is not None else "public",
        "editions": msgspec.to_builtins(manifest.editions) if manifest is not None else {}, "flags": flags,
    })  # fmt: skip


def _flags_of(releases: list[Release], page: Page) -> frozenset[str]:
    """Those that all elements have for which a supplement is, in the first of some releases that has each."""
    targets = page.supplement.targets if page.supplement is not None else []
    found = [_flags_at(releases, absolute_place(target.partition("#")[0])[2]) for target in targets]
    return frozenset.intersection(*found) if found else frozenset()


def _flags_at(releases: list[Release], path: str) -> frozenset[str]:
    """Of an element, or of what all lies in that a pattern means; none for what never was."""
    at = enclosing_of(path) if "*" in path else path
    entries = (find_entry(release.pk, at) for release in releases)
    entry = next((entry.symbol for entry in entries if entry is not None), None)
    return frozenset(entry.variants) | kept_marks(entry.visibility) if entry is not None else frozenset()
