"""What ``package.json`` declares. Source: npm documentation, "package.json"."""

from __future__ import annotations

import json

from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts


def npm_purl(name: str) -> str:
    """The package URL of a package of npm, its scope as the namespace (ECMA-427, type npm)."""
    namespace, _, last = name.rpartition("/")
    return PackageURL(type="npm", namespace=namespace or None, name=last).to_string()


def read_package_json(text: str) -> PackageFacts:
    """What a package.json says."""
    try:
        data = json.loads(text)
    except ValueError as error:
        return PackageFacts(unreadable=[f"it is no JSON: {error}"], file="package.json")
    if not isinstance(data, dict):
        return PackageFacts(unreadable=["it is no JSON object"], file="package.json")
    found = {}
    for group in ("peerDependencies", "dependencies"):
        declared = data.get(group)
        for name, wanted in declared.items() if isinstance(declared, dict) else ():
            plain = wanted.removeprefix("workspace:") if isinstance(wanted, str) else ""
            found[name] = Dependency(npm_purl(name), "" if ":" in plain else plain)
    repository = data.get("repository", "")
    address = repository.get("url", "") if isinstance(repository, dict) else repository
    name = str(data.get("name", ""))
    return PackageFacts(
        name.rpartition("/")[2], str(data.get("version", "")), str(data.get("description", "")),
        str(address).removeprefix("git+").removesuffix(".git"), npm_purl(name) if name else "",
        sorted(found.values(), key=lambda d: d.purl), [], "package.json",
    )  # fmt: skip
