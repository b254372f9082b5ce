"""Version order and ranges. Sources: PEP 440 (PyPI), Semantic Versioning 2.0.0, and each
ecosystem's own rules where they differ."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

import semantic_version
import semver
from packaging.specifiers import InvalidSpecifier, SpecifierSet
from packaging.version import InvalidVersion, Version
from univers.version_range import MavenVersionRange, NugetVersionRange
from univers.versions import MavenVersion, NugetVersion

from zarbek.core.errors import VersionError

_NUMBERS = re.compile(r"v?(\d+)(?:\.(\d+))?(?:\.(\d+))?")


def sort_key(version: str) -> tuple[int, object, str]:
    """Orders versions of one project; what no scheme can read comes first, by text."""
    try:
        return (1, Version(version), version)
    except InvalidVersion:
        pass
    try:
        parsed = semver.Version.parse(version.removeprefix("v"))
    except ValueError:
        return (0, version, version)
    return (1, Version(f"{parsed.major}.{parsed.minor}.{parsed.patch}.dev0"), version)


def is_prerelease(version: str) -> bool:
    try:
        return Version(version).is_prerelease
    except InvalidVersion:
        return "-" in version


def newest(versions: Iterable[str]) -> str:
    """The newest version, a final one if there is any; empty for none."""
    ordered = sorted(versions, key=sort_key)
    final = [v for v in ordered if not is_prerelease(v)]
    return (final or ordered or [""])[-1]


def upto(versions: Iterable[str], version: str) -> list[str]:
    """The versions up to and with one of them, oldest first."""
    last = sort_key(version)
    return sorted((v for v in versions if sort_key(v) <= last), key=sort_key)


def line_of(version: str) -> str:
    """The line of releases that a version continues: ``1.x``, or ``0.4.x`` before 1.0.0 (Semantic
    Versioning 2.0.0, item 4); a version without numbers is a line of its own."""
    numbers = numbers_of(version)
    if numbers is None:
        return version
    major, minor, _ = numbers
    return f"0.{minor}.x" if major == 0 else f"{major}.x"


def numbers_of(version: str) -> tuple[int, int, int] | None:
    """Major, minor and patch number, those that are left out as 0; None for a version without any."""
    match = _NUMBERS.match(version)
    if match is None:
        return None
    return int(match[1]), int(match[2] or 0), int(match[3] or 0)


def supported_versions(published: Iterable[str], lines: Iterable[str] = (), retired: Iterable[str] = ()) -> list[str]:
    """The versions that somebody still cares for, newest first.

    published: in order of their publication. Of the newest line the newest release; of an older
    line too, if it is named in lines or has had a release after a newer line had its first.
    Retired versions are never among them.
    """
    kept = set(lines)
    gone = set(retired)
    newest_of: dict[str, list[str]] = {}
    highest = ""
    for version in published:
        line = line_of(version)
        if (
            highest
            and sort_key(version) < sort_key(highest)
            and line != line_of(highest)
            and not is_prerelease(version)
        ):
            kept.add(line)
        if not highest or (sort_key(version) > sort_key(highest) and not is_prerelease(version)):
            highest = version
        if version not in gone:
            newest_of.setdefault(line, []).append(version)
    found = [newest(vs) for line, vs in newest_of.items() if line in kept]
    top = newest(v for vs in newest_of.values() for v in vs)
    return sorted({*found, *([top] if top else [])}, key=sort_key, reverse=True)


def check_version(version: str) -> str:
    """The version, if it can stand in an address. Raises VersionError otherwise."""
    if not version:
        raise VersionError(version, "is empty. Say which version this is: --version 1.0.0")
    if len(version) > 100 or any(c in "/\\@#?%\0" or c.isspace() for c in version):
        raise VersionError(version, "cannot be a version: it holds a blank or one of / \\ @ # ? %")
    if version in (".", ".."):
        raise VersionError(version, "cannot be a version")
    return version


def choose(versions: Iterable[str], range_text: str, exact: str = "", ecosystem: str = "pypi") -> str:
    """The version that a dependency means: exact if published, else the newest in range.

    ecosystem: the type of the dependency's package URL, whose notation the range has.
    Pre-releases satisfy a range only when it names one or nothing else does. Empty for none.
    Raises VersionError if the range cannot be read.
    """
    known = list(versions)
    if exact and exact in known:
        return exact
    if not range_text or range_text in ("*", "latest"):
        return newest(known)
    named = range_text.removeprefix("v") if ecosystem == "golang" and range_text not in known else range_text
    if named in known:
        return named
    readable = [v for v in known if sort_key(v)[0]]
    return newest(_IN_RANGE.get(ecosystem, _in_python_range)(readable, range_text))


def _in_python_range(versions: list[str], range_text: str) -> list[str]:
    """PEP 440."""
    try:
        wanted = SpecifierSet(range_text)
    except InvalidSpecifier:
        try:
            wanted = SpecifierSet(f"=={range_text.rstrip('.x*')}.*")
        except InvalidSpecifier as error:
            raise VersionError(range_text, "is no version range (PEP 440)") from error
    return list(wanted.filter(versions))


def _in_npm_range(versions: list[str], range_text: str) -> list[str]:
    """npm documentation, "semver: Ranges"; versions are of Semantic Versioning 2.0.0."""
    try:
        wanted = semantic_version.NpmSpec(range_text.replace("v", "") if range_text.startswith("v") else range_text)
    except ValueError as error:
        raise VersionError(range_text, "is no version range (npm)") from error
    return [v for v in versions if (parsed := _semantic(v)) is not None and parsed in wanted]


def _in_cargo_range(versions: list[str], range_text: str) -> list[str]:
    """The Cargo Book, "Version requirement syntax": a bare version means its caret range."""
    parts = [p.strip() for p in range_text.split(",") if p.strip()]
    return _in_npm_range(versions, " ".join(f"^{p}" if p[0].isdigit() else p.replace(" ", "") for p in parts))


def _in_go_range(versions: list[str], range_text: str) -> list[str]:
    """Go Modules Reference, "Minimal version selection": at least this one, of the same major."""
    least = _semantic(range_text)
    if least is None:
        raise VersionError(range_text, "is no version of a Go module")
    found = ((v, _semantic(v)) for v in versions)
    return [v for v, parsed in found if parsed is not None and parsed >= least and parsed.major == least.major]


def _in_maven_range(versions: list[str], range_text: str) -> list[str]:
    """Maven, "Dependency Version Requirement Specification"; a bare version is the least that will do."""
    if range_text[:1] not in "[(":
        return [v for v in versions if MavenVersion(v) >= MavenVersion(range_text)]
    return _in_univers_range(versions, range_text, MavenVersionRange, MavenVersion)


def _in_nuget_range(versions: list[str], range_text: str) -> list[str]:
    """NuGet documentation, "Package versioning"; a bare version is the least that will do."""
    if range_text[:1] not in "[(":
        return _in_npm_range(versions, f">={range_text.replace('*', '0')}")
    return _in_univers_range(versions, range_text, NugetVersionRange, NugetVersion)


def _in_univers_range(versions: list[str], range_text: str, ranges: Any, version: Any) -> list[str]:
    try:
        wanted = ranges.from_native(range_text)
        return [v for v in versions if version(v) in wanted]
    except Exception as error:  # univers raises errors of many unrelated kinds for bad ranges.
        raise VersionError(range_text, "is no version range of its ecosystem") from error


def _semantic(text: str) -> semantic_version.Version | None:
    try:
        return semantic_version.Version.coerce(text.removeprefix("v"))
    except ValueError:
        return None


_IN_RANGE: dict[str, Callable[[list[str], str], list[str]]] = {
    "npm": _in_npm_range, "cargo": _in_cargo_range, "golang": _in_go_range, "maven": _in_maven_range,
    "nuget": _in_nuget_range,
}  # fmt: skip
