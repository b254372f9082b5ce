"""Interface descriptions read without a portal."""

from __future__ import annotations

from textwrap import dedent

from tests.support.sources import gather_files
from zarbek.core.changes.comparison import compare_releases
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Symbol

HEAD = "openapi: 3.1.0\ninfo: {title: Sea, version: '1'}\n"


def described(files: dict[str, str]) -> tuple[dict[str, Symbol], list[Finding]]:
    """Symbols by path and findings of files that belong together."""
    gathered, _, symbols = gather_files(files)
    return {s.path: s for s in symbols}, list(gathered.findings)


def openapi(text: str, head: str = HEAD, file: str = "sea.yaml") -> tuple[dict[str, Symbol], list[Finding]]:
    return described({file: head + dedent(text)})


def changes(old: dict[str, str], new: dict[str, str]) -> list[tuple[str, str, bool]]:
    """(path, what is different, whether it breaks) between two releases, by place."""
    (_, before, olds), (_, after, news) = (
        gather_files(files, slug="p", version=v) for files, v in ((old, "1.0.0"), (new, "2.0.0"))
    )
    old_by, new_by = {s.path: s for s in olds}, {s.path: s for s in news}
    compared = compare_releases(
        before, after, load_old=lambda ps: {p: old_by[p] for p in ps}, load_new=lambda ps: {p: new_by[p] for p in ps}
    )
    found = []
    for change in compared.changes:
        found += [(change.path, d.text, d.breaks) for d in change.details] or [
            (change.path, change.kind, change.breaks)
        ]
    return found
