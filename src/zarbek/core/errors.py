"""Errors of the core.

ZarbekError
├── MaterialError            a source or bundle cannot be read
│   ├── SourceNotFound
│   ├── GitRefused
│   ├── SourceRefused        a source that may not be gathered, or takes more than it may
│   └── BundleRefused
├── ProjectFileError         zarbek.toml is wrong
├── VersionError             a version or range cannot be read
└── QueryError               a search cannot be understood
"""

from __future__ import annotations


class ZarbekError(Exception):
    """Something is wrong that a person can mend. ``code`` is stable; ``str()`` is for people."""

    code = "error"


class MaterialError(ZarbekError):
    """What is to be gathered cannot be read."""

    code = "material"


class SourceNotFound(MaterialError):
    """path: a file or folder that is not there."""

    code = "source-not-found"

    def __init__(self, path: str) -> None:
        super().__init__(path)
        self.path = path

    def __str__(self) -> str:
        return f"{self.path}: no such folder or file. Give the folder that holds the sources."


class GitRefused(MaterialError):
    """A repository that git cannot fetch. reason: what git said, or why it was not asked."""

    code = "git-refused"

    def __init__(self, address: str, reason: str) -> None:
        super().__init__(address, reason)
        self.address, self.reason = address, reason

    def __str__(self) -> str:
        return f"{self.address}: {self.reason}"


class CatalogRefused(MaterialError):
    """A database whose catalogue cannot be read, or is not believed. reason: what it said, or why it was not asked."""

    code = "catalog-refused"

    def __init__(self, address: str, reason: str) -> None:
        super().__init__(address, reason)
        self.address, self.reason = address, reason

    def __str__(self) -> str:
        return f"{self.address}: {self.reason}"


class SourceRefused(MaterialError):
    """A source that is not read, for a reason of bounds or safety."""

    code = "source-refused"

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason

    def __str__(self) -> str:
        return self.reason


class BundleRefused(MaterialError):
    """A bundle that breaks the format or a bound. ``member`` and ``line`` say where."""

    code = "bundle-refused"

    def __init__(self, reason: str, *, member: str = "", line: int = 0) -> None:
        super().__init__(reason, member, line)
        self.reason, self.member, self.line = reason, member, line

    def __str__(self) -> str:
        where = self.member + (f", line {self.line}" if self.line else "")
        return f"The bundle was refused: {self.reason}" + (f" ({where})" if where else "")


class ProjectFileError(ZarbekError):
    """A project file that says what it may not. key: where in it."""

    code = "project-file"

    def __init__(self, key: str, reason: str) -> None:
        super().__init__(key, reason)
        self.key, self.reason = key, reason

    def __str__(self) -> str:
        return f"zarbek.toml: {self.key}: {self.reason}"


class VersionError(ZarbekError):
    """A version or range of versions that is none. text: as it is written."""

    code = "version"

    def __init__(self, text: str, reason: str) -> None:
        super().__init__(text, reason)
        self.text, self.reason = text, reason

    def __str__(self) -> str:
        return f"{self.text!r} {self.reason}"


class QueryError(ZarbekError):
    """A search query that cannot be understood."""

    code = "query"

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason

    def __str__(self) -> str:
        return self.reason


class TakesTooLong(Exception):
    """Reading had to be ended. It is no UnreadableText: who goes on where a part cannot be read must not go on then."""


class UnreadableText(Exception):
    """Bytes that are no text. ``line`` is where it was noticed, from 1."""

    def __init__(self, reason: str, line: int) -> None:
        super().__init__(reason)
        self.reason, self.line = reason, line

    def __str__(self) -> str:
        return self.reason
