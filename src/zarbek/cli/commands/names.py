"""``zarbek names``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.client.values.projects import Claim

EXAMPLE = "zarbek names --contested"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="the project; all if left out")
    parser.add_argument("--contested", action="store_true", help="only names that several projects claim")
    parser.add_argument("--give", metavar="NAME", help="decide whose a contested name is, for administrators")
    parser.add_argument("--to", action="append", default=[], metavar="PROJECT",
                        help="with --give: whose it is; several have it together")  # fmt: skip
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print whom names belong to; first decide one, where told to."""
    with open_portal(options) as portal:
        if options.give:
            found = portal.decide_name(options.give, options.to)
        else:
            found = list(portal.names(options.project, contested=options.contested))
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    for claim in found:
        console.print(f"{claim.name}  {claim.project}  {_state(claim)}")
    if not found:
        console.print("No name is contested." if options.contested else "No project claims a name.")
    return Exit.FINE


def _state(claim: Claim) -> str:
    if claim.shared:
        return f"shared, by {claim.decided_by}"
    return "its own" if claim.held else "claimed, of another"
