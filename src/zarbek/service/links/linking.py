"""One pass over texts of a release: their links, what these rest on, and what is wrong with them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import TypeVar

import msgspec

from zarbek.core.editions.visibility import audience_of
from zarbek.core.findings.link_rules import judge_dependency, judge_page, judge_symbol
from zarbek.core.findings.report import Counted
from zarbek.core.findings.type_rules import check_types
from zarbek.core.linking.dependency_trace import NOBODY, RELEASES, Asked
from zarbek.core.linking.inheritance import Base, Inheritance, bases_of, inheritance_of_all
from zarbek.core.linking.link import Link
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.linking.versions import newest
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_SLUG
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import get_manifest, load_index
from zarbek.service.links.models import waited_for
from zarbek.service.links.resolution_context import DatabaseResolutionContext, dependency_on, fitting_version
from zarbek.service.links.rule_context import DatabaseRuleContext

Versioned = TypeVar("Versioned", Link, Base)


@dataclass(slots=True)
class Tally:
    """References of a release by how they came out; dangling and stale are those that count against it. edges: the
    same by the other project that they lead to: all, dangling, stale."""

    total: int = 0
    outside: int = 0
    dangling: int = 0
    stale: int = 0
    edges: dict[str, list[int]] = field(default_factory=dict)

    @classmethod
    def of(cls, release: Release) -> Tally:
        """As a release has it."""
        return cls(**release.health, edges={project: list(counts) for project, counts in release.edges.items()})

    def add(self, links: Iterable[Link], times: int = 1) -> None:
        """Count links; times: how often the text that has them stands in the release."""
        for link in links:
            self.total += times
            if link.outcome == "outside":
                self.outside += times
            self.dangling += times * (link.fault == "dangling")
            self.stale += times * (link.fault == "stale")
            if link.project and link.outcome != "outside":
                edge = self.edges.setdefault(link.project, [0, 0, 0])
                edge[0] += times
                edge[1] += times * (link.fault == "dangling")
                edge[2] += times * (link.fault == "stale")

    def counted(self) -> Counted:
        """How the references came out, for people."""
        judged = self.total - self.outside
        return Counted(judged, judged - self.dangling - self.stale, self.dangling, self.stale, self.outside)

    def to_edges(self, own: str) -> dict[str, list[int]]:
        """The edges to other projects, as they are kept."""
        return {project: counts for project, counts in sorted(self.edges.items()) if project != own and counts[0]}

    def to_health(self) -> dict[str, int]:
        """How the references came out, as it is kept."""
        return {"total": self.total, "outside": self.outside, "dangling": self.dangling, "stale": self.stale}


@dataclass(frozen=True, slots=True)
class Judged:
    """What one text gave. targets: where its links lead, as (project, path); asked: names of other
    projects on which that rests, targets left out."""

    links: list[Link]
    findings: list[Finding]
    targets: set[Asked] = field(default_factory=set)
    asked: set[Asked] = field(default_factory=set)


class Linking:
    """Links and judges texts of one release, as the portal is now."""

    def __init__(self, release: Release, trial: Release | None = None) -> None:
        """trial: a release of another project that is taken as if it were live."""
        self.release = release
        self.own = load_index(release.pk)
        tried = (trial.project.slug, get_manifest(trial.pk).version, trial.pk) if trial is not None else None
        self.portal = DatabaseResolutionContext(
            get_manifest(release.pk), self.own, tried, is_preview=release.is_preview
        )
        self.linker = Linker(self.own, self.portal)
        self.rule_context = DatabaseRuleContext(release, self.portal)

    def concerns(self, symbol: Symbol) -> bool:
        """Whether there is anything to link or judge about a symbol's text."""
        return bool(symbol.mentions) or _has_types(symbol)

    def judge_symbol(self, symbol: Symbol) -> Judged:
        """The links of a symbol, what is wrong with them, and what they rest on."""
        text = self.linker.link_symbol(symbol)
        judged = judge_symbol(symbol, text.links, self.rule_context)
        return self._judged(judged.links, judged.findings + self._stale_types(symbol), text.asked)

    def _stale_types(self, symbol: Symbol) -> list[Finding]:
        if not _has_types(symbol):
            return []
        then = self.rule_context.as_written(symbol.path)
        if then is None:
            return []
        return check_types(
            symbol, then, self.rule_context.text_history[symbol.path], self.rule_context.portal.own_aliases
        )

    def inheritance_of_all(self) -> dict[str, Inheritance]:
        """Path of each type that has any to its bases and heirs."""
        audience = audience_of(self.own.manifest.options)
        return {
            path: self._kept_inheritance(inheritance)
            for path, inheritance in inheritance_of_all(self.linker, audience.sees).items()
        }

    def inheritance_again(self, symbol: Symbol, known: Inheritance) -> Inheritance:
        """The bases and heirs of a symbol after others have published: its own heirs stay what they are."""
        if symbol.kind not in TYPE_KINDS:
            return known
        return self._kept_inheritance(Inheritance(bases_of(self.linker, symbol.path), known.heirs))

    def _kept_inheritance(self, inheritance: Inheritance) -> Inheritance:
        return msgspec.structs.replace(inheritance, bases=[self._kept(base) for base in inheritance.bases])

    def judge_page(self, page: Page) -> Judged:
        """The same for a guide."""
        text = self.linker.link_page(page)
        return self._judged(*judge_page(page, text.links, self.rule_context), text.asked)

    def judge_dependencies(self) -> list[Finding]:
        """Declared dependencies on projects of the portal whose range no release fits."""
        found = []
        manifest = get_manifest(self.release.pk)
        for project in self.portal.projects.values():
            wanted = dependency_on(manifest, project)
            versions = self.portal.versions(project.slug) if wanted is not None else {}
            if wanted is not None and versions and wanted.range and not fitting_version(wanted, versions):
                found.append(judge_dependency(project.slug, wanted, newest(versions, project.ecosystem)))
        return found

    def _judged(self, links: list[Link], findings: list[Finding], asked: Iterable[Asked]) -> Judged:
        own = self.own.project
        targets = targets_of(links)
        known = {(project, key_of(path)) for project, path in targets}
        rest = {a for a in asked if a not in known and a not in targets and a[0] != own}
        # What is said of a fault depends on the releases of whoever it is about.
        rest |= {(f.about, RELEASES) for f in findings if f.about and f.about != own}
        possible = {(project, name) for project, name in rest if len(project) <= MAX_SLUG}
        return Judged([self._kept(link) for link in links], findings, targets, possible)

    def _kept(self, link: Versioned) -> Versioned:
        """A link or base without its version where that is the one that counts: so it stays as it is when
        another release comes to count."""
        if link.version and link.version == self.portal.choice_of(link.project):
            return msgspec.structs.replace(link, version="")
        return link


def _has_types(symbol: Symbol) -> bool:
    doc = symbol.doc
    return (
        doc is not None and symbol.visibility != "private" and any(f.type for f in (*doc.parameters, *doc.returns))
    )  # fmt: skip


def targets_of(links: Iterable[Link]) -> set[Asked]:
    """Where links lead, or would, as (project, path or wanted name)."""
    return {target for link in links if (target := _target_of(link)) is not None}


def _target_of(link: Link) -> Asked | None:
    if link.outcome in ("linked", "hidden") and link.kind in ("symbol", "page", "project"):
        return (link.project, link.path)
    if link.outcome in ("dangling", "hidden", "ambiguous") and 0 < len(link.project) <= MAX_SLUG:
        return (link.project, link.wanted[:600])
    return None


def projects_asked(judged: Iterable[Asked]) -> set[str]:
    """Slugs and, after ``?``, beginnings of names that nobody owns."""
    return {waited_for(key) if project == NOBODY else project for project, key in judged}
