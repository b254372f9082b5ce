"""``zarbek gather``"""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.gathering import add_catalog_argument, gather_with_progress
from zarbek.cli.json_output import write_json
from zarbek.cli.terminal import console_for
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek gather .zarbek/demo/tidebook --out tidebook.bundle"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("path", type=Path, help="the source's folder, or a ZIP or tar archive of it")
    parser.add_argument("--out", type=Path, help="the bundle to write; SLUG-VERSION.bundle here if left out")
    parser.add_argument("--project", default="", help="slug, instead of the project file's")
    parser.add_argument("--version", default="", help="version, instead of the manifest's")
    add_catalog_argument(parser)
    parser.add_argument("--no-cache", action="store_true", help="read every file anew")


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Write the bundle of a folder, and print what it holds."""
    target = options.out or Path("zarbek.bundle.part")
    gathered = gather_with_progress(
        options.path,
        target,
        slug=options.project,
        version=options.version,
        use_cache=not options.no_cache,
        with_catalog=options.catalog,
    )
    if options.out is None:
        manifest = gathered.manifest
        target = target.replace(f"{manifest.project}-{manifest.version or 'unversioned'}.bundle")
    if options.json:
        write_json({"bundle": str(target), "counts": gathered.manifest.counts, "findings": len(gathered.findings)}, out)
        return Exit.FINE
    counts = gathered.manifest.counts
    console = console_for(out)
    parts = (
        count(counts["symbols"], "symbol"),
        count(counts["pages"], "guide"),
        count(len(gathered.findings), "finding"),
    )
    console.print(f"{target}: {', '.join(parts)}.")
    for finding in gathered.findings[:20]:
        where = f"{finding.file}:{finding.line}" if finding.file else finding.subject
        console.print(f"  {where}: {finding.message}")
    if len(gathered.findings) > 20:
        console.print(f"  and {len(gathered.findings) - 20} more; --json counts them, the report lists them.")
    return Exit.FINE
