"""What a bundle holds besides symbols and pages."""

from __future__ import annotations

import msgspec

FORMAT_VERSION = 1


class Dependency(msgspec.Struct, frozen=True, omit_defaults=True):
    """purl: package URL (ECMA-427) without version. range: in the ecosystem's own notation,
    empty for any. exact: the version that a lock file names, or empty."""

    purl: str
    range: str = ""
    exact: str = ""


class Scope(msgspec.Struct, frozen=True, omit_defaults=True):
    """What names mean in one file. module: its qualified name. imports: local name to the
    qualified name that it stands for. wildcards: modules, or types with static members, whose
    public names are in scope. Names are keys: parts with ``.`` between, whatever the language."""

    file: str
    module: str
    imports: dict[str, str] = {}
    wildcards: list[str] = []
    language: str = "python"


class Alias(msgspec.Struct, frozen=True, array_like=True):
    """Another name of a symbol. public: whether its authors mean it to be used."""

    name: str
    path: str
    public: bool = True


class Manifest(msgspec.Struct, frozen=True, omit_defaults=True):
    """The first member of a bundle.

    namespaces: names below which all symbols are this project's. provides: the same, by
    language. prefixes: what a leading name in
    a mention stands for. outside: namespace to address pattern with ``{name}``. supported: lines of
    releases besides the newest that are cared for. owners: pattern of files to their team. servers: those that
    readers may send requests to.
    counts and digests are by member; digests are SHA-256 in hexadecimal.
    """

    format: int
    project: str
    version: str = ""
    title: str = ""
    summary: str = ""
    owner: str = ""
    purl: str = ""
    commit: str = ""
    repository: str = ""
    languages: list[str] = []
    namespaces: list[str] = []
    provides: dict[str, list[str]] = {}
    dependencies: list[Dependency] = []
    prefixes: dict[str, str] = {}
    outside: dict[str, str] = {}
    supported: list[str] = []
    owners: dict[str, str] = {}
    servers: list[str] = []
    options: dict[str, str] = {}
    counts: dict[str, int] = {}
    digests: dict[str, str] = {}
