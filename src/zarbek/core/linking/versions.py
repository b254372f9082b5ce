"""Version order and ranges of each ecosystem: PyPI (PEP 440), npm, Cargo and Go (Semantic Versioning 2.0.0),
Maven ("Version Order Specification"), NuGet ("Package versioning"). ecosystem is always the type of a package URL
(purl, ECMA-427), empty for a project that has none."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from functools import lru_cache
from typing import Any

import semantic_version
from packaging.specifiers import InvalidSpecifier, SpecifierSet
from packaging.version import InvalidVersion, Version
from univers.version_range import MavenVersionRange, NugetVersionRange
from univers.versions import MavenVersion, NugetVersion, SemverVersion

from zarbek.core.errors import VersionError

_NUMBERS = re.compile(r"v?(\d+)(?:\.(\d+))?(?:\.(\d+))?")
#: Semantic Versioning 2.0.0, item 9, with the ``v`` that tags have.
_SEMVER_PRE = re.compile(r"v?(\d+)\.(\d+)\.(\d+)-([0-9A-Za-z.-]+)(?:\+.*)?")
#: Versions of univers by ecosystem.
_SCHEMES: dict[str, Callable[[str], Any]] = {
    "npm": SemverVersion, "cargo": SemverVersion, "golang": SemverVersion, "maven": MavenVersion,
    "nuget": NugetVersion,
}  # fmt: skip


@lru_cache(maxsize=2**14)
def sort_key(version: str, ecosystem: str = "") -> tuple[int, Any, str]:
    """Orders versions of one project; what its ecosystem cannot read comes first, by text."""
    try:
        return (1, _parsed(version, ecosystem), version)
    except ValueError:  # InvalidVersion of packaging and of univers are such.
        return (0, version, version)


def _parsed(version: str, ecosystem: str) -> Any:
    """Raises ValueError for what is no version there."""
    scheme = _SCHEMES.get(ecosystem)
    if scheme is not None:
        if not any(c.isdigit() for c in version):
            raise ValueError(version)  # Maven orders any words.
        return scheme(version)
    return Version(version) if ecosystem == "pypi" else _plain_key(version)


def _plain_key(version: str) -> tuple[Any, ...]:
    """The order of versions of no ecosystem: by numbers, then what is before a release, it, and what is after it.
    A hyphen after three numbers begins a pre-release (Semantic Versioning 2.0.0, items 9 and 11); else as PEP 440."""
    match = _SEMVER_PRE.fullmatch(version)
    if match is not None:
        numbers = [int(match[n]) for n in (1, 2, 3)]
        identifiers = match[4].split(".")
        return (_trimmed(numbers), 1, tuple((0, int(i), "") if i.isdigit() else (1, 0, i) for i in identifiers))
    parsed = Version(version)
    release = _trimmed([parsed.epoch, *parsed.release] if parsed.epoch else list(parsed.release))
    if parsed.pre is not None:
        return (release, 1, ((1, 0, parsed.pre[0]), (0, parsed.pre[1], "")))
    if parsed.dev is not None and parsed.post is None:
        return (release, 0, ((0, parsed.dev, ""),))
    return (release, 2, ((0, parsed.post if parsed.post is not None else -1, parsed.local or ""),))


def _trimmed(numbers: list[int]) -> tuple[int, ...]:
    """Without zeros at the end: 1.0 is 1."""
    return tuple(numbers[: max((at + 1 for at, number in enumerate(numbers) if number), default=0)])


def is_prerelease(version: str, ecosystem: str = "") -> bool:
    """Whether a version comes before the release that its numbers name; one that cannot be read is one if it has a
    hyphen."""
    if ecosystem == "maven":
        numbers = re.match(r"v?[\d.]*\d", version)
        is_before = numbers is not None and bool(MavenVersion(version) < MavenVersion(numbers[0]))
        return is_before or version.upper().endswith("SNAPSHOT")  # Whatever stands before that.
    if ecosystem in _SCHEMES:
        return "-" in version.partition("+")[0]
    if ecosystem != "pypi" and _SEMVER_PRE.fullmatch(version):
        return True
    return Version(version).is_prerelease if _is_pep440(version) else "-" in version


def _is_pep440(version: str) -> bool:
    try:
        Version(version)
    except InvalidVersion:
        return False
    return True


def newest(versions: Iterable[str], ecosystem: str = "") -> str:
    """The newest version, a final one if there is any; empty for none."""
    ordered = sorted(versions, key=lambda v: sort_key(v, ecosystem))
    final = [v for v in ordered if not is_prerelease(v, ecosystem)]
    return (final or ordered or [""])[-1]


def upto(versions: Iterable[str], version: str, ecosystem: str = "") -> list[str]:
    """The versions up to and with one of them, oldest first."""
    last = sort_key(version, ecosystem)
    return sorted((v for v in versions if sort_key(v, ecosystem) <= last), key=lambda v: sort_key(v, ecosystem))


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


def supported_versions(
    published: Iterable[str], lines: Iterable[str] = (), retired: Iterable[str] = (), ecosystem: str = ""
) -> list[str]:
    """The versions that somebody still cares for, newest first.

    published: in order of their publication. Of the newest line the newest release; of an older
    line too, if it is named in lines or has had a release after a newer line had its first.
    Retired versions are never among them.
    """

    def key(version: str) -> tuple[int, Any, str]:
        return sort_key(version, ecosystem)

    kept = set(lines)
    gone = set(retired)
    newest_of: dict[str, list[str]] = {}
    highest = ""
    for version in published:
        line, is_final = line_of(version), not is_prerelease(version, ecosystem)
        if highest and is_final and key(version) < key(highest) and line != line_of(highest):
            kept.add(line)
        if not highest or (is_final and key(version) > key(highest)):
            highest = version
        if version not in gone:
            newest_of.setdefault(line, []).append(version)
    found = [newest(vs, ecosystem) for line, vs in newest_of.items() if line in kept]
    top = newest((v for vs in newest_of.values() for v in vs), ecosystem)
    return sorted({*found, *([top] if top else [])}, key=key, reverse=True)


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
        return newest(known, ecosystem)
    named = range_text.removeprefix("v") if ecosystem == "golang" and range_text not in known else range_text
    if named in known:
        return named
    readable = [v for v in known if sort_key(v, ecosystem)[0]]
    return newest(_IN_RANGE.get(ecosystem, _in_python_range)(readable, range_text), ecosystem)


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
