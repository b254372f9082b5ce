"""The supplements of a source, and what they are for in it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import partial
from pathlib import PurePosixPath

from zarbek.core.gathering.guide_pages import read_bounded
from zarbek.core.material.folder import Folder
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENTS, How, Supplement, pattern_of, place_of
from zarbek.core.sources.supplements.reader import is_supplement, read_supplement
from zarbek.core.sources.supplements.settings import SupplementSettings


def read_supplements(
    folder: Folder, files: list[str], settings: SupplementSettings
) -> tuple[list[Page], list[Finding]]:
    """A page for each, by its path without suffix; those that cannot be read are told."""
    base = settings.folder.strip("/")
    pages: list[Page] = []
    findings: list[Finding] = []
    for file in files:
        if not file.startswith(base + "/") or PurePosixPath(file).suffix.lower() not in (".md", ".markdown"):
            continue
        path = SUPPLEMENTS + str(PurePosixPath(file).relative_to(base).with_suffix(""))
        read = partial(_read, file=file, path=path, how=settings.how)
        page, wrong = read_bounded(folder, file, path, "supplement", read)
        pages += [page] if page is not None else []
        findings += wrong
    return pages, findings


def _read(raw: str, *, file: str, path: str, how: How) -> Page | None:
    return read_supplement(raw, file=file, path=path, how=how) if is_supplement(raw) else None


def own_targets(supplement: Supplement, slug: str) -> Iterator[str]:
    """Paths of elements of the project that has a supplement, or patterns of such, for which it is."""
    for target in supplement.targets:
        project, _, path = place_of(target, slug)
        if project == slug:
            yield path


def described_by(pages: Iterable[Page], slug: str) -> Callable[[str], bool]:
    """Whether supplements of a project say what one of its elements is, by path."""
    plain: set[str] = set()
    patterns = []
    for page in pages:
        said = page.supplement
        if said is None or said.language or not any(part.kind in ("summary", "text", "remarks") for part in said.parts):
            continue
        for path in own_targets(said, slug):
            pattern = pattern_of(path)
            if pattern is None:
                plain.add(path)
            else:
                patterns.append(pattern)
    return lambda path: path in plain or any(pattern.fullmatch(path) for pattern in patterns)
