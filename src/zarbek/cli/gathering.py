"""A source's folder as a bundle, for the verbs that take either."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING

from zarbek.cli.extras import load_extra
from zarbek.cli.progress import progress_bar
from zarbek.core.errors import SourceNotFound
from zarbek.core.material.archives import is_archive

if TYPE_CHECKING:
    from zarbek.core.gathering.gather import Gathered


def gather_with_progress(
    path: Path, out: Path, *, slug: str, version: str, use_cache: bool = True, with_catalog: bool = False
) -> Gathered:
    """with_catalog: ask the database that the project file names, too. Raises ExtraMissing where the readers are not
    installed, and what ``gather`` and ``read_own_catalog`` raise."""
    gathering = load_extra("gather", "zarbek.core.gathering.gather")
    catalog = None
    if with_catalog:
        catalog = load_extra("catalog", "zarbek.core.gathering.own_catalog").read_own_catalog(path)
    options = gathering.GatherOptions(slug=slug, version=version, use_cache=use_cache, catalog=catalog)
    with progress_bar() as bar:
        task = bar.add_task("reading", total=None)
        gathered: Gathered = gathering.gather(
            path, out, options, progress=lambda _stage, done, total: bar.update(task, completed=done, total=total)
        )
        return gathered


def add_catalog_argument(parser: argparse.ArgumentParser) -> None:
    """Add the option of verbs that gather."""
    parser.add_argument(
        "--catalog", action="store_true", help="ask the database that zarbek.toml names for its catalogue, too"
    )


def bundle_of(path: Path, project: str, version: str, folder: Path, *, with_catalog: bool = False) -> Path:
    """A bundle as it is, or what a source's folder or archive gathers to, in a folder for what passes."""
    if path.is_file() and not is_archive(path):
        return path
    if not path.exists():
        raise SourceNotFound(str(path))
    bundle = folder / "release.bundle"
    gather_with_progress(path, bundle, slug=project, version=version, with_catalog=with_catalog)
    return bundle
