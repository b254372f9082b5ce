"""Which files hold tests that may be examples, and who reads them."""

from __future__ import annotations

import re
from collections.abc import Callable

from zarbek.core.sources.languages.discovery import locate_sources
from zarbek.core.sources.languages.reading import SourceFile

#: Paths of files that hold tests by the customs of their languages.
CUSTOMARY = re.compile(
    r"(?:^|/)(?:tests?|__tests__)/.*\.(?:py|rs|[cm]?[jt]sx?|c|cc|cpp|cxx|java|kt|cs)$"
    r"|(?:^|/)test_[^/]*\.(?:py|c|cc|cpp|cxx)$|_tests?\.(?:py|go|rs|c|cc|cpp|cxx)$"
    r"|(?:Tests?|IT)\.(?:java|kt|cs|c|cc|cpp|cxx)$|(?:^|/)Test[^/]*\.java$"
    r"|\.(?:test|spec)\.[cm]?[jt]sx?$|\.Tests?/.*\.cs$|(?:^|/)src/\w*Test/.*\.kt$"
)
#: Folders of what is none of a project's own.
FOREIGN = frozenset({"node_modules", "venv", "vendor", "third_party", "build", "dist", "target", "__pycache__",
                     "site-packages", "bin", "obj"})  # fmt: skip
#: What stands in every file with a test that its source makes an example.
_MARKS = re.compile(
    rb"(?<![\w.])[@\\]example\b|:example:|<example[ \t]*/>|[\"'(]\s*@?example\s*[\"')]|\.example\b(?![:/])"
    rb"|\[example\]|^func Example", re.MULTILINE | re.IGNORECASE,
)  # fmt: skip
#: The word in all of them, which is found faster, and how many bytes before and after it may belong to a mark.
_WORD, _AROUND = b"example", 80
_OF_RUST = b"#[test"


def holds_marks(data: bytes) -> bool:
    """Whether there may be an example in a file of tests."""
    lowered, at = data.lower(), -1
    while (at := lowered.find(_WORD, at + 1)) >= 0:
        if _MARKS.search(data[max(at - _AROUND, 0) : at + _AROUND]):
            return True
    return False


def holds_tests(data: bytes) -> bool:
    """Whether a source of Rust has tests of its own."""
    return _OF_RUST in data


def locate_tests(
    tests: list[str], others: list[str], read: Callable[[str], str], languages: list[str]
) -> list[SourceFile]:  # fmt: skip
    """Files of tests as their languages' readers want them. tests: their paths; others: those of the sources, among
    which names of tests may lead."""
    held = set(tests)
    located = locate_sources(sorted({*tests, *others}), read, languages, {}, with_tests=True)
    return [source for source in located if source.file in held]
