"""``zarbek members``"""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled

if TYPE_CHECKING:
    from zarbek.client import Portal, ProjectMember

EXAMPLE = "zarbek members tidebook --team harbour --role maintainer"
_FOR_WHOM = {"public": "all who reach the portal", "inside": "who is signed in", "teams": "its members"}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="a project; left out for parts in all projects")
    parser.add_argument("--visible", choices=tuple(_FOR_WHOM), help="say who may read the project")
    who = parser.add_mutually_exclusive_group()
    who.add_argument("--user", default="", metavar="NAME", help="whose part is set or taken away")
    who.add_argument("--team", default="", metavar="NAME", help="the same for a team")
    part = parser.add_mutually_exclusive_group()
    part.add_argument("--role", choices=("reader", "maintainer", "owner"), help="give this part")
    part.add_argument("--remove", action="store_true", help="take the part away")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print who may read a project and who has which part in it, once that is changed as asked."""
    console = console_for(out)
    if (options.role or options.remove) and not (options.user or options.team):
        console.print("Say whose part it is: --user NAME or --team NAME.")
        return Exit.USAGE
    if options.visible and not options.project:
        console.print("Say which project is to be visible so.")
        return Exit.USAGE
    with open_portal(options) as portal:
        if options.visible:
            portal.set_visibility(options.project, options.visible)
        _change(portal, options)
        members = portal.project_members(options.project) if options.project else portal.portal_members()
        visibility = portal.visibility(options.project).visibility if options.project else ""
    if options.json:
        write_json(members, out)
        return Exit.FINE
    if visibility:
        console.print(f"{options.project} is for {_FOR_WHOM.get(visibility, visibility)}.", markup=False)
    console.print(_table(members) if members else "Nobody has a part in it; administrators may do everything.")
    return Exit.FINE


def _change(portal: Portal, options: argparse.Namespace) -> None:
    who = {"user": options.user, "team": options.team}
    if options.role and options.project:
        portal.set_project_member(options.project, options.role, **who)
    elif options.role:
        portal.set_portal_member(options.role, **who)
    elif options.remove and options.project:
        portal.remove_project_member(options.project, **who)
    elif options.remove:
        portal.remove_portal_member(**who)


def _table(members: list[ProjectMember]) -> Table:
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for member in members:
        name = member.user or f"team {member.team}"
        table.add_row(titled(name), member.role, "in all projects" if member.is_everywhere else "")
    return table
