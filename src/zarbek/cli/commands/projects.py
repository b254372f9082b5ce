"""``zarbek projects``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek projects"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print every project with its newest release."""
    with open_portal(options) as portal:
        projects = list(portal.projects())
    if options.json:
        write_json(projects, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for project in projects:
        table.add_row(
            titled(project.slug),
            project.latest,
            count(len(project.releases), "release"),
            project.owner or "nobody's",
            project.summary,
        )
    console = console_for(out)
    console.print(table if projects else "The portal has no projects yet. zarbek publish PATH makes one.")
    return Exit.FINE
