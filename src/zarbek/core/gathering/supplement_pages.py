"""The supplements of a source, and what they are for in it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from pathlib import PurePosixPath

from zarbek.core.errors import TakesTooLong
from zarbek.core.gathering.guide_pages import MAX_GUIDE_BYTES, MAX_GUIDE_S
from zarbek.core.material.folder import Folder
from zarbek.core.material.worker_pool import time_limit
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import absolute_place
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENTS, Supplement, pattern_of
from zarbek.core.sources.source_text import FALLS
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
        try:
            if folder.size(file) > MAX_GUIDE_BYTES:
                raise ValueError(f"it is larger than {MAX_GUIDE_BYTES // 2**20} MiB")
            with time_limit(MAX_GUIDE_S, TakesTooLong(f"reading it takes longer than {MAX_GUIDE_S} s")):
                raw = folder.read(file).decode("utf-8")
                if is_supplement(raw):
                    pages.append(read_supplement(raw, file=file, path=path, how=settings.how))
        except (*FALLS, TakesTooLong) as error:
            message = f"The supplement was left out: {error}."
            findings.append(
                Finding("text/unreadable", "warning", path, message, subject_kind="page", file=file, line=1)
            )
    return pages, findings


def own_targets(supplement: Supplement, slug: str) -> Iterator[str]:
    """Paths of elements of the project that has a supplement, or patterns of such, for which it is."""
    for target in supplement.targets:
        is_absolute = target.startswith("api://")
        project, _, path = absolute_place(target) if is_absolute else (slug, "", target.removeprefix("api:"))
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
