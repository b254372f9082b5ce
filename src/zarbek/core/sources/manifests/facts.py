"""What a manifest tells of a project, whatever its ecosystem."""

from __future__ import annotations

from dataclasses import dataclass, field

from zarbek.core.model.bundle import Dependency


@dataclass(frozen=True, slots=True)
class PackageFacts:
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
