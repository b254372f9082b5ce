"""What repositories, running services and databases have that the portal has not published, as findings of their
projects."""

from __future__ import annotations

from zarbek.core.findings.database_drift import find_drift
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.formats.wording import count
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST
from zarbek.service.content.queries import iter_symbols
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.findings.actions.judging import gathered_with
from zarbek.service.publishing.actions.cache_epoch import renew_pages
from zarbek.service.sources.databases import load_catalog
from zarbek.service.sources.models import Database, RunningService, Source
from zarbek.service.sources.running_services import RUNNING

#: What is said of tables where a release was gathered with a catalogue, or its own texts contradict one another.
_TOLD = frozenset({"stale/table", "stale/column", "text/type-conflict"})


def keep_ahead(project: Project) -> None:
    """Write down what of a project's repositories and services the portal has not got, and where its database is not
    as its newest release says."""
    release = Release.objects.filter(project=project, aliases__name=LATEST).first()
    if release is None:
        return

    def found() -> list[Finding]:
        ahead = [f for s in project.sources.exclude(polled_at=None) for f in _findings(s, s.ahead)]
        asked = [
            *project.services.exclude(asked_at=None),
            *Database.objects.filter(project=project, asked_at__isnull=False),
        ]
        return [*ahead, *(f for one in asked for f in _of_service(one, release)), *_drift(release)]

    history = FindingHistory(project, release.version, 0)
    if not history.judge(found, part="ahead", cause="repository").is_empty:
        renew_pages([project.slug])


def _drift(release: Release) -> list[Finding]:
    catalog = load_catalog(release.project.slug)
    if catalog is None:
        return []
    known = {f.target for f in gathered_with(release) if f.rule in _TOLD}
    symbols = (symbol for _, entries in iter_symbols(release.pk) for _, symbol in entries)
    return list(find_drift(symbols, catalog, known))


def _of_service(service: RunningService | Database, release: Release) -> list[Finding]:
    slug = service.project.slug
    is_database = isinstance(service, Database)
    name = "the database" if isinstance(service, Database) else service.name
    if service.problem:
        rule = "dangling/service"
        since = f" It was last fetched on {service.fetched_at:%Y-%m-%d}." if service.fetched_at else ""
        what = "The database does not say what it has" if is_database else f"{name} does not give its description"
        return [_project_finding(rule, slug, f"{what}: {service.problem}.{since}", name, name)]
    published = release.published_at
    is_later = service.changed_at and published and service.changed_at > published
    if not is_later or release.version == RUNNING:
        return []
    rule = "stale/source-ahead"
    what = "What the database has" if is_database else f"The description that {name} serves"
    return [_project_finding(rule, slug, f"{what} changed on {service.changed_at:%Y-%m-%d}, after {slug} "
                             f"{release.version} was published.", name, name)]  # fmt: skip


def _project_finding(rule: str, slug: str, message: str, text: str, part: str) -> Finding:
    return Finding(
        rule, SEVERITIES[rule], "", message, subject_kind="project", text=text, target=f"{slug}/",
        fingerprint=fingerprint(rule, slug, part),
    )  # fmt: skip


def _findings(source: Source, ahead: dict[str, object]) -> list[Finding]:
    tags: list[str] = ahead.get("tags") or []  # type: ignore[assignment]
    commits = ahead.get("commits")
    told = []
    if tags:
        told.append(f"{count(len(tags), 'tag')} that the portal has not published: {', '.join(tags[:5])}")
    if isinstance(commits, int) and commits:
        told.append(f"{count(commits, 'commit')} on {ahead['branch']} since {ahead['since']}")
    if not told:
        return []
    message = f"The repository has {' and '.join(told)}."
    return [
        _project_finding(
            "stale/source-ahead", source.project.slug, message, ", ".join(tags) or str(ahead["branch"]), source.folder
        )
    ]
