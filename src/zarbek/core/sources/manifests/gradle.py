"""What a Gradle build script declares where it can be read as text. Source: Gradle user manual,
"Declaring dependencies". A build script is a program: what it computes is not known."""

from __future__ import annotations

import re

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts
from zarbek.core.sources.manifests.maven import maven_purl

_DEPENDENCY = re.compile(
    r"^[ \t]*(?:api|implementation|compileOnly|compileOnlyApi|runtimeOnly)\s*\(?\s*"
    r"[\"']([\w.\-]+):([\w.\-]+)(?::([^\"':@]+))?[^\"']*[\"']",
    re.MULTILINE,
)
_GROUP = re.compile(r"^[ \t]*group\s*=?\s*[\"']([^\"']+)[\"']", re.MULTILINE)
_VERSION = re.compile(r"^[ \t]*version\s*=?\s*[\"']([^\"']+)[\"']", re.MULTILINE)
_DESCRIPTION = re.compile(r"^[ \t]*description\s*=?\s*[\"']([^\"']+)[\"']", re.MULTILINE)
_NAME = re.compile(r"rootProject\.name\s*=\s*[\"']([^\"']+)[\"']")


def read_gradle(text: str, settings: str) -> PackageFacts:
    """settings: text of the settings script, which names the project."""

    def first(pattern: re.Pattern[str], where: str) -> str:
        match = pattern.search(where)
        return match[1] if match else ""

    name, group = first(_NAME, settings), first(_GROUP, text)
    found = {
        maven_purl(m[1], m[2]): Dependency(maven_purl(m[1], m[2]), "" if "$" in (m[3] or "") else m[3] or "")
        for m in _DEPENDENCY.finditer(text)
    }
    return PackageFacts(
        name, first(_VERSION, text), first(_DESCRIPTION, text), "", maven_purl(group, name) if name and group else "",
        sorted(found.values(), key=lambda d: d.purl), [], "build.gradle",
    )  # fmt: skip
