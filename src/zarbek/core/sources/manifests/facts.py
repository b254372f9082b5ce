"""What a manifest tells of a project, whatever its ecosystem."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from zarbek.core.model.bundle import Dependency
from zarbek.core.model.limits import MAX_ADDRESS, MAX_LABEL, MAX_PURL, MAX_TITLE

#: Of what a manifest tells, the longest that can be kept, in characters.
_MOST = {"name": MAX_LABEL, "version": MAX_LABEL, "summary": MAX_TITLE, "repository": MAX_ADDRESS, "purl": MAX_PURL}


@dataclass(frozen=True, slots=True)
class PackageFacts:
    """What a manifest says of its package. file: the manifest."""

    name: str = ""
    version: str = ""
    summary: str = ""
    repository: str = ""
    purl: str = ""
    dependencies: list[Dependency] = field(default_factory=list)
    #: Requirements that could not be read, as written.
    unreadable: list[str] = field(default_factory=list)
    #: The file that tells, for findings.
    file: str = "pyproject.toml"


def bounded_facts(facts: PackageFacts) -> PackageFacts:
    """Facts as far as a portal can keep them; what is longer is told as unreadable."""
    told = [name for name, most in _MOST.items() if len(getattr(facts, name)) > most]
    kept = [d for d in facts.dependencies if max(len(d.purl), len(d.range), len(d.exact)) <= MAX_PURL]
    beyond = [f"the {name}, which is longer than {_MOST[name]} characters," for name in told]
    beyond += ["a dependency whose name or range has no end"] * (len(kept) < len(facts.dependencies))
    if not beyond:
        return facts
    return replace(facts, dependencies=kept, unreadable=[*facts.unreadable, *beyond], **dict.fromkeys(told, ""))


def merge_facts(found: list[PackageFacts]) -> PackageFacts:
    """All manifests of one source: names from the first that has them, everyone's dependencies."""

    def first(name: str) -> str:
        return next((value for facts in found if (value := getattr(facts, name))), "")

    dependencies = {d.purl: d for facts in found for d in facts.dependencies}
    own = {facts.purl for facts in found}
    return PackageFacts(
        first("name"), first("version"), first("summary"), first("repository"), first("purl"),
        sorted((d for d in dependencies.values() if d.purl not in own), key=lambda d: d.purl),
        [line for facts in found for line in facts.unreadable],
        next((facts.file for facts in found if facts.unreadable), "pyproject.toml"),
    )  # fmt: skip


def with_exact(facts: PackageFacts, locked: list[tuple[str, str]]) -> PackageFacts:
    """The facts with the exact versions that lock files and bills of materials name.

    locked: (package URL, version), surest first. A package that one source names in several
    versions has none. What is locked without being declared is a dependency of a dependency.
    """
    versions: dict[str, set[str]] = {}
    for purl, version in locked:
        versions.setdefault(purl, set()).add(version)
    exact = {purl: next(iter(found)) for purl, found in versions.items() if len(found) == 1 and purl != facts.purl}
    declared = {d.purl for d in facts.dependencies}
    found = [Dependency(d.purl, d.range, exact.get(d.purl, "")) for d in facts.dependencies]
    found += [Dependency(purl, "", version) for purl, version in exact.items() if purl not in declared]
    return replace(facts, dependencies=sorted(found, key=lambda d: d.purl))
