"""``zarbek releases``"""

from __future__ import annotations

import argparse
from typing import TextIO

import msgspec
from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, count, write_json

EXAMPLE = "zarbek releases tidebook"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("project", help="the project's slug")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    with open_portal(options) as portal:
        project = portal.project(options.project)
    if options.json:
        write_json(msgspec.to_builtins(project.releases), out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for release in project.releases:
        when = f"{release.published_at:%d %B %Y, %H:%M}" if release.published_at else ""
        notes = ", ".join([*release.aliases, *(["preview"] if release.is_preview else [])])
        table.add_row(
            f"[bold]{release.version}[/bold]",
            when,
            count(release.symbols, "symbol"),
            count(release.pages, "guide"),
            notes,
        )
    console_for(out).print(table)
    return Exit.FINE
