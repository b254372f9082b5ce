"""``zarbek releases``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.client.values.projects import Release
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek releases tidebook"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--retire", metavar="VERSION", help="judge a release's references no longer; it stays readable")
    what.add_argument("--support", metavar="VERSION", help="judge a release's references although newer ones are out")
    what.add_argument("--undecide", metavar="VERSION", help="leave it to the rule again")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print a project's releases; first decide whether one is supported, where told to."""
    with open_portal(options) as portal:
        for version, support in ((options.retire, "retired"), (options.support, "supported"), (options.undecide, "")):
            if version:
                portal.set_support(options.project, version, support)
        project = portal.project(options.project)
    if options.json:
        write_json(project.releases, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for release in project.releases:
        when = f"{release.published_at:%d %B %Y, %H:%M}" if release.published_at else ""
        notes = ", ".join([*release.aliases, *_notes(release)])
        table.add_row(
            titled(release.version),
            when,
            count(release.symbols, "symbol"),
            count(release.pages, "guide"),
            notes,
        )
    console_for(out).print(table)
    return Exit.FINE


def _notes(release: Release) -> list[str]:
    found = ["preview"] if release.is_preview else []
    if release.held_for:
        found.append("held back from latest")
    if release.support:
        return [*found, release.support]
    return found if release.is_judged or release.is_preview else [*found, "superseded"]
