"""What ``pyproject.toml`` declares. Source: PyPA specifications, "Declaring project metadata"."""

from __future__ import annotations

import tomllib

from packageurl import PackageURL
from packaging.requirements import InvalidRequirement, Requirement
from packaging.utils import canonicalize_name

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts


def read_pyproject(text: str) -> PackageFacts:
    """Facts of the ``[project]`` table; empty facts where the file has none or is no TOML."""
    try:
        project = tomllib.loads(text).get("project", {})
    except tomllib.TOMLDecodeError as error:
        return PackageFacts(unreadable=[f"pyproject.toml is no TOML: {error}"])
    if not isinstance(project, dict):
        return PackageFacts()
    name = str(project.get("name", ""))
    urls = project.get("urls", {})
    repository = next((str(u) for k, u in urls.items() if k.lower() in ("repository", "source")), "")
    dependencies, unreadable = [], []
    for line in project.get("dependencies", []):
        try:
            requirement = Requirement(str(line))
        except InvalidRequirement:
            unreadable.append(str(line))
            continue
        dependencies.append(Dependency(pypi_purl(requirement.name), str(requirement.specifier)))
    return PackageFacts(
        name=name, version=str(project.get("version", "")), summary=str(project.get("description", "")),
        repository=repository, purl=pypi_purl(name) if name else "",
        dependencies=sorted(dependencies, key=lambda d: d.purl), unreadable=unreadable,
    )  # fmt: skip


def pypi_purl(name: str) -> str:
    """The package URL of a distribution of Python, its name normalised (ECMA-427, type pypi)."""
    return PackageURL(type="pypi", name=canonicalize_name(name)).to_string()
