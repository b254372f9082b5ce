"""Version order and ranges. Sources: PEP 440 (PyPI), Semantic Versioning 2.0.0 (others)."""

from __future__ import annotations

from collections.abc import Iterable

import semver
from packaging.specifiers import InvalidSpecifier, SpecifierSet
from packaging.version import InvalidVersion, Version

from zarbek.core.errors import VersionError


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


def check_version(version: str) -> str:
    """The version, if it can stand in an address. Raises VersionError otherwise."""
    if not version:
        raise VersionError(version, "is empty. Say which version this is: --version 1.0.0")
    if len(version) > 100 or any(c in "/\\@#?%\0" or c.isspace() for c in version):
        raise VersionError(version, "cannot be a version: it holds a blank or one of / \\ @ # ? %")
    if version in (".", ".."):
        raise VersionError(version, "cannot be a version")
    return version


def choose(versions: Iterable[str], range_text: str, exact: str = "") -> str:
    """The version that a dependency means: exact if published, else the newest in range.

    Pre-releases satisfy a range only when it names one or nothing else does. Empty for none.
    Raises VersionError if the range cannot be read.
    """
    known = list(versions)
    if exact and exact in known:
        return exact
    if not range_text or range_text in ("*", "latest"):
        return newest(known)
    if range_text in known:
        return range_text
    try:
        wanted = SpecifierSet(range_text)
    except InvalidSpecifier:
        try:
            wanted = SpecifierSet(f"=={range_text.rstrip('.x*')}.*")
        except InvalidSpecifier as error:
            raise VersionError(range_text, "is no version range (PEP 440)") from error
    readable = [v for v in known if sort_key(v)[0]]
    inside = list(wanted.filter(readable))
    return newest(inside)
