"""``zarbek teams``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled

EXAMPLE = "zarbek teams --set harbour --people mara,ivo"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--set", metavar="TEAM", help="say who is in a team; it is made where there is none")
    what.add_argument("--remove", metavar="TEAM", help="remove a team, with the parts that its members had by it")
    parser.add_argument("--people", default="", metavar="NAME,…", help="with --set: exactly these accounts")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the teams, once they are changed as asked."""
    with open_portal(options) as portal:
        if options.set:
            portal.set_team(options.set, [name.strip() for name in options.people.split(",") if name.strip()])
        elif options.remove:
            portal.remove_team(options.remove)
        teams = portal.teams()
    if options.json:
        write_json(teams, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for team in teams:
        table.add_row(titled(team.name), ", ".join(team.people), "of the provider" if team.is_from_provider else "")
    console_for(out).print(table if teams else "There are no teams yet. zarbek teams --set NAME makes one.")
    return Exit.FINE
