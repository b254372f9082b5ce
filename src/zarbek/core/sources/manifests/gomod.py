"""What ``go.mod`` declares. Source: Go Modules Reference, "go.mod files"."""

from __future__ import annotations

import re

from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts

_REQUIRE = re.compile(r"^[ \t]*(?:require\s++)?([^\s()\"]++)\s++(v\d\S*+)", re.MULTILINE)
_BLOCK = re.compile(r"^require\s*\((.*?)^\)", re.MULTILINE | re.DOTALL)
_LINE = re.compile(r"^require\s+[^\s(].*$", re.MULTILINE)


def go_purl(module: str) -> str:
    """The package URL of a Go module (ECMA-427, type golang)."""
    namespace, _, name = module.rpartition("/")
    return PackageURL(type="golang", namespace=namespace or None, name=name).to_string()


def read_go_mod(text: str) -> PackageFacts:
    """A required version is the least one that will do (minimal version selection)."""
    match = re.search(r"^[ \t]*module\s+\"?([^\s\"]+)", text, re.MULTILINE)
    module = match[1] if match else ""
    lines = "\n".join([*(m[1] for m in _BLOCK.finditer(text)), *(m[0] for m in _LINE.finditer(text))])
    found = {
        m[1]: Dependency(go_purl(m[1]), m[2]) for m in _REQUIRE.finditer(re.sub(r"//[^\n]*", "", lines)) if "." in m[1]
    }
    last = re.sub(r"/v\d+$", "", module).rpartition("/")[2]
    return PackageFacts(
        last, "", "", f"https://{module}" if module.startswith(("github.com/", "gitlab.com/")) else "",
        go_purl(module) if module else "", sorted(found.values(), key=lambda d: d.purl), [], "go.mod",
    )  # fmt: skip
