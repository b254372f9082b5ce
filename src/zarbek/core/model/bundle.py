"""What a bundle holds besides symbols and pages."""

from __future__ import annotations

import msgspec

from zarbek.core.model.edition import Edition
from zarbek.core.model.limits import (
    Address,
    Commit,
    Count,
    File,
    Fingerprint,
    Label,
    Namespace,
    Owner,
    Path,
    Purl,
    Title,
)

FORMAT_VERSION = 1


class Dependency(msgspec.Struct, frozen=True, omit_defaults=True):
    """purl: package URL (ECMA-427) without version. range: in the ecosystem's own notation,
    empty for any. exact: the version that a lock file names, or empty."""

    purl: Purl
    range: str = ""
    exact: str = ""


class Scope(msgspec.Struct, frozen=True, omit_defaults=True):
    """What names mean in one file. module: its qualified name. imports: local name to the
    qualified name that it stands for. wildcards: modules, or types with static members, whose
    public names are in scope. Names are keys: parts with ``.`` between, whatever the language. made: words
    that are handed to macros where declarations stand: names that these may declare."""

    file: File
    module: Path
    imports: dict[str, str] = {}
    wildcards: list[str] = []
    language: str = "python"
    made: list[str] = []


class Alias(msgspec.Struct, frozen=True, array_like=True):
    """Another name of a symbol. public: whether others may use it. is_origin: whether it is the place of
    the definition, where that is not the name. is_offered: whether its authors mean it to be used: it is
    listed, or a package hands it on."""

    name: Path
    path: Path
    public: bool = True
    is_origin: bool = False
    is_offered: bool = False


class TreeFacts(msgspec.Struct, frozen=True, omit_defaults=True):
    """A tree of HTML. folder: below the source's root, with a ``/`` at its end, or empty. address: where it is
    published, or empty. first: the page that readers come to first. frame: digests, in hexadecimal, of the blocks that
    its program puts around every page. body: selector of CSS for a page's content, or empty. language: of the code that
    it describes, or empty."""

    folder: File
    address: Address = ""
    first: File = ""
    frame: list[Fingerprint] = []
    body: Label = ""
    language: Label = ""


NO_TREE = TreeFacts("")


class Manifest(msgspec.Struct, frozen=True, omit_defaults=True):
    """The first member of a bundle.

    namespaces: names below which all symbols are this project's. provides: the same, by
    language. prefixes: what a leading name in
    a mention stands for. outside: namespace to address pattern with ``{name}``. supported: lines of
    releases besides the newest that are cared for. owners: pattern of files to their team. servers: those that
    readers may send requests to. editions: views of the release, in the order in which readers have them.
    counts and digests are by member; digests are SHA-256 in hexadecimal.
    """

    format: int
    project: Label
    version: Label = ""
    title: Title = ""
    summary: str = ""
    owner: Owner = ""
    purl: Purl = ""
    commit: Commit = ""
    repository: Address = ""
    languages: list[Label] = []
    namespaces: list[Namespace] = []
    provides: dict[Label, list[Namespace]] = {}
    dependencies: list[Dependency] = []
    prefixes: dict[str, str] = {}
    outside: dict[str, str] = {}
    supported: list[str] = []
    owners: dict[str, Owner] = {}
    servers: list[str] = []
    trees: list[TreeFacts] = []
    editions: dict[Label, Edition] = {}
    options: dict[str, str] = {}
    counts: dict[str, Count] = {}
    digests: dict[str, str] = {}

    def tree_of(self, file: str) -> TreeFacts:
        """The tree that a page belongs to, by its file; the innermost of several."""
        return max((t for t in self.trees if file.startswith(t.folder)), key=lambda t: len(t.folder), default=NO_TREE)
