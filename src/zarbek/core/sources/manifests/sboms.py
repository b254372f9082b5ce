"""Exact versions from software bills of materials. Sources: CycloneDX 1.6 (ECMA-424), SPDX 2.3 and
SPDX 3.0 in JSON; package URLs: ECMA-427."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from packageurl import PackageURL

from zarbek.core.sources.manifests.locks import Locked

#: Ends of file names by which a bill of materials is known.
SBOM_ENDINGS = (".cdx.json", ".spdx.json", "bom.json", "sbom.json")
MAX_COMPONENTS = 200_000


def is_sbom(file: str) -> bool:
    """Whether a file is a bill of materials by its name."""
    return file.lower().endswith(SBOM_ENDINGS)


def read_sbom(text: str) -> list[Locked]:
    """Every component with a package URL and a version. Raises ValueError for anything else."""
    data = json.loads(text)
    if not isinstance(data, dict):
        raise ValueError("it is no bill of materials")
    if data.get("bomFormat") == "CycloneDX":
        found = _components(data.get("components"))
    elif "spdxVersion" in data:
        found = (reference for package in _dicts(data.get("packages")) for reference in _references(package))
    elif "@graph" in data:
        found = (str(e["software_packageUrl"]) for e in _dicts(data["@graph"]) if e.get("software_packageUrl"))
    else:
        raise ValueError("it is neither CycloneDX nor SPDX")
    return [locked for purl in found if (locked := _locked(purl)) is not None]


def _components(listed: Any) -> Iterator[str]:
    """Components and what they hold, without recursion: files may nest as they like."""
    pending = list(_dicts(listed))
    for _ in range(MAX_COMPONENTS):
        if not pending:
            return
        component = pending.pop()
        if isinstance(component.get("purl"), str):
            yield component["purl"]
        pending += _dicts(component.get("components"))


def _references(package: dict[str, Any]) -> Iterator[str]:
    for reference in _dicts(package.get("externalRefs")):
        if reference.get("referenceType") == "purl":
            yield str(reference.get("referenceLocator", ""))


def _dicts(listed: Any) -> Iterator[dict[str, Any]]:
    return (item for item in listed if isinstance(item, dict)) if isinstance(listed, list) else iter(())


def _locked(purl: str) -> Locked | None:
    try:
        parsed = PackageURL.from_string(purl)
    except ValueError:
        return None
    if not parsed.version:
        return None
    plain = PackageURL(type=parsed.type, namespace=parsed.namespace, name=parsed.name)
    return plain.to_string(), parsed.version
