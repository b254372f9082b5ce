"""``zarbek find``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.lines import lines_for
from zarbek.cli.remote import add_portal_arguments, open_portal

EXAMPLE = "zarbek find find_windows"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("query", nargs="+", help="a name, the beginning or part of one, or words")
    parser.add_argument("--project", default="", help="only of this project")
    parser.add_argument("--kind", default="", help="only of this kind, as class or guide")
    parser.add_argument("--language", default="", help="only of this language, as java or cpp")
    parser.add_argument("--version", default="", help="in this release of --project instead of the newest")
    parser.add_argument("--limit", type=int, default=15, help="hits at most (15)")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the best hits for a query. FINDINGS where there is none."""
    query = " ".join(options.query)
    with open_portal(options) as portal:
        hits = portal.search(
            query,
            project=options.project,
            kind=options.kind,
            language=options.language,
            version=options.version,
            limit=options.limit,
        )
    if options.json:
        write_json(hits, out)
        return Exit.FINE if hits else Exit.COULD_NOT
    lines = lines_for(out)
    if not hits:
        lines.write(f"Nothing is called {query!r} or speaks of it.")
        return Exit.COULD_NOT
    for hit in hits:
        name = hit.name if hit.kind in ("guide", "topic") else hit.path
        old = ", deprecated" if hit.is_deprecated else ""
        lines.write((name, "bold"), (f"  {hit.kind}, {hit.project} {hit.version}{old}", "dim"))
        if hit.summary:
            lines.write(hit.summary, indent=4)
    return Exit.FINE
