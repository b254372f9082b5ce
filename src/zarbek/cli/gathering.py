"""A source's folder as a bundle, for the verbs that take either."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from zarbek.cli.extras import load_extra
from zarbek.cli.progress import progress_bar
from zarbek.core.errors import SourceNotFound
from zarbek.core.material.archives import is_archive

if TYPE_CHECKING:
    from zarbek.core.gathering.gather import Gathered


def gather_with_progress(path: Path, out: Path, *, slug: str, version: str, use_cache: bool = True) -> Gathered:
    """Raises ExtraMissing where the readers are not installed, and what ``gather`` raises."""
    gathering = load_extra("gather", "zarbek.core.gathering.gather")
    options = gathering.GatherOptions(slug=slug, version=version, use_cache=use_cache)
    with progress_bar() as bar:
        task = bar.add_task("reading", total=None)
        gathered: Gathered = gathering.gather(
            path, out, options, progress=lambda _stage, done, total: bar.update(task, completed=done, total=total)
        )
        return gathered


def bundle_of(path: Path, project: str, version: str, folder: Path) -> Path:
    """A bundle as it is, or what a source's folder or archive gathers to, in a folder for what passes."""
    if path.is_file() and not is_archive(path):
        return path
    if not path.exists():
        raise SourceNotFound(str(path))
    bundle = folder / "release.bundle"
    gather_with_progress(path, bundle, slug=project, version=version)
    return bundle
