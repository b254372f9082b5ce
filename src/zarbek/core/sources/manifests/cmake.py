"""What builds of C and C++ declare: CMake's project and packages, pkg-config names, and the lists
of the Conan and vcpkg package managers. Sources: cmake-commands(7); pkg-config(1); Conan 2
documentation, "conanfile.txt"; vcpkg documentation, "vcpkg.json"."""

from __future__ import annotations

import json
import re

from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts

_PROJECT = re.compile(r"^[ \t]*project\s*\(\s*([\w\-]+)([^()]*)\)", re.MULTILINE | re.IGNORECASE)
_PACKAGE = re.compile(
    r"^[ \t]*find_package\s*\(\s*([\w\-]+)(?:\s+(\d+(?:\.\d+)*)(\.\.\.<?\d+(?:\.\d+)*)?)?([^()]*)\)",
    re.MULTILINE | re.IGNORECASE,
)
_PKG_CONFIG = re.compile(r"pkg_(?:check_modules|search_module)\s*\(\s*\w+([^()]*)\)", re.IGNORECASE)
_CONAN = re.compile(r"^[ \t]*([\w.+\-]+)/([^\s@#]+)", re.MULTILINE)


def generic_purl(name: str) -> str:
    """The package URL of what no registry of its own has (ECMA-427, type generic)."""
    return PackageURL(type="generic", name=name.lower()).to_string()


def read_cmake(text: str) -> PackageFacts:
    """What the project and find_package calls of a CMakeLists.txt say."""
    text = re.sub(r"#[^\n]*", "", text)
    project = _PROJECT.search(text)
    version = re.search(r"VERSION\s+([\w.\-]+)", project[2]) if project else None
    summary = re.search(r"DESCRIPTION\s+\"([^\"]*)\"", project[2]) if project else None
    found = {match[1].lower(): Dependency(generic_purl(match[1]), _package_range(match))
             for match in _PACKAGE.finditer(text)}  # fmt: skip
    for match in _PKG_CONFIG.finditer(text):
        for name, sign, number in re.findall(r"([a-z][\w.+\-]*)\s*(?:(>=|<=|=|<|>)\s*(\d[\w.]*))?", match[1]):
            wanted = f"{'==' if sign == '=' else sign}{number}" if number else ""
            found.setdefault(name.lower(), Dependency(generic_purl(name), wanted))
    name = project[1] if project else ""
    return PackageFacts(
        name, version[1] if version else "", summary[1] if summary else "", "", generic_purl(name) if name else "",
        sorted(found.values(), key=lambda d: d.purl), [], "CMakeLists.txt",
    )  # fmt: skip


def _package_range(match: re.Match[str]) -> str:
    """``find_package(Name 1.2...<2 EXACT)``: the least, or the only one, and what is above it."""
    upper = (match[3] or "").removeprefix("...")
    wanted = f"{'==' if 'EXACT' in match[4] else '>='}{match[2]}" if match[2] else ""
    if not upper:
        return wanted
    return f"{wanted},<{upper[1:]}" if upper.startswith("<") else f"{wanted},<={upper}"


def read_conan(text: str) -> PackageFacts:
    """The ``[requires]`` section of a conanfile.txt; ``name/[>=1 <2]`` is a range."""
    section = re.search(r"^\[requires\]\s*$(.*?)(?=^\[|\Z)", text, re.MULTILINE | re.DOTALL)
    found = []
    for match in _CONAN.finditer(section[1]) if section else ():
        wanted = match[2]
        rest = section[1][match.start(2) :].split("\n", 1)[0] if section else ""
        if wanted.startswith("["):
            wanted = ",".join(rest.strip().strip("[]").replace(",", " ").split())
        else:
            wanted = f"=={wanted}"
        found.append(Dependency(generic_purl(match[1]), wanted))
    return PackageFacts(dependencies=sorted(found, key=lambda d: d.purl), file="conanfile.txt")


def read_vcpkg(text: str) -> PackageFacts:
    """What a vcpkg.json says."""
    try:
        data = json.loads(text)
    except ValueError as error:
        return PackageFacts(unreadable=[f"it is no JSON: {error}"], file="vcpkg.json")
    found = []
    for entry in data.get("dependencies", []) if isinstance(data, dict) else ():
        table = entry if isinstance(entry, dict) else {"name": entry}
        least = table.get("version>=", "")
        found.append(Dependency(generic_purl(str(table.get("name", ""))), f">={least}" if least else ""))
    name = str(data.get("name", "")) if isinstance(data, dict) else ""
    version = str(data.get("version", data.get("version-semver", ""))) if isinstance(data, dict) else ""
    return PackageFacts(name, version, purl=generic_purl(name) if name else "",
                        dependencies=sorted(found, key=lambda d: d.purl), file="vcpkg.json")  # fmt: skip
