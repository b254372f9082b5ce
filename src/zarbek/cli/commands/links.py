"""``zarbek links``"""

from __future__ import annotations

import argparse
import json
from collections import Counter
from typing import Any, TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.terminal import console_for
from zarbek.client import Portal

EXAMPLE = "zarbek links crewroster --outcome dangling"
OUTCOMES = ("linked", "outside", "dangling", "ambiguous", "hidden")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("release", metavar="SLUG[@VERSION]", help="the project, and a release other than the newest")
    parser.add_argument("--outcome", choices=OUTCOMES, help="only mentions that came out like this")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print every mention of a release with what it links to."""
    slug, version = split_release(options.release)
    outcomes: Counter[str] = Counter()
    suggestions: dict[tuple[str, int, int], str] | None = None
    console = console_for(out)
    with open_portal(options) as portal:
        for line in portal.links(slug, version):
            if not line:
                continue
            if options.json and not options.outcome:
                out.write(line + "\n")
                continue
            row = json.loads(line)
            outcomes[row["outcome"]] += 1
            if options.outcome and row["outcome"] != options.outcome:
                continue
            if options.json:
                out.write(line + "\n")
                continue
            if row["outcome"] == "dangling" and suggestions is None:
                suggestions = _suggestions(portal, slug)
            console.print(_text(row, suggestions or {}))
    if not options.json:
        console.print(", ".join(f"{n:,} {name}" for name, n in outcomes.most_common()) or "No mentions.")
    return Exit.FINE


def _suggestions(portal: Portal, slug: str) -> dict[tuple[str, int, int], str]:
    """What the report suggests, by place."""
    found = (f.finding for f in portal.findings(project=slug, family="dangling"))
    return {(f.file, f.line, f.column): f.suggestion for f in found if f.suggestion}


def _text(row: dict[str, Any], suggestions: dict[tuple[str, int, int], str]) -> str:
    likely = suggestions.get((row["file"], row["line"], row["column"]), "")
    target = row["target"] or {}
    to = (
        target.get("symbol")
        or target.get("page")
        or target.get("url")
        or target.get("asset")
        or target.get("project")
        or (f"nothing, likely {likely}" if likely else "nothing")
    )
    stale = f" ({', '.join(row['stale'])})" if row["stale"] else ""
    return f"{row['file']}:{row['line']}: {row['text']} -> {row['outcome']}: {to}{stale}"
