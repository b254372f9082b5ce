"""``zarbek database``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.client.values.sources import Database

EXAMPLE = "zarbek database logbook --look"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project")
    parser.add_argument("--set", metavar="ADDRESS", dest="address", default="",
                        help="mariadb://USER@HOST:PORT/DATABASE or postgresql://…, without a password")  # fmt: skip
    parser.add_argument("--password-from", metavar="NAME", default="",
                        help="the variable of the portal's environment that has it: ZARBEK_CATALOG_…")  # fmt: skip
    parser.add_argument("--schema", metavar="NAME[=PLACE]", action="append", default=[], dest="schemas",
                        help="a schema to look at, and where its tables lie in the model")  # fmt: skip
    parser.add_argument("--every", type=int, default=0, metavar="MINUTES", help="how often it is asked; never if 0")
    parser.add_argument("--look", action="store_true", help="ask it what it has now")
    parser.add_argument("--remove", action="store_true", help="ask it no more")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the database that a project is gathered with; first set, remove or ask it, where told to."""
    with open_portal(options) as portal:
        if options.remove:
            portal.remove_database(options.project)
            console_for(out).print(f"{options.project} is gathered with no database any more.")
            return Exit.FINE
        if options.address:
            given = (written.partition("=") for written in options.schemas)
            portal.set_database(
                options.project, options.address, password_from=options.password_from,
                schemas={name: place or name for name, _, place in given}, poll_minutes=options.every,
            )  # fmt: skip
        found = portal.poll_database(options.project) if options.look else portal.database(options.project)
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    console.print(titled(options.project, f"  {found.address}  {state_of(found)}"))
    for name, place in sorted(found.schemas.items()):
        console.print(f"  {name} lies in {place}")
    return Exit.FINE


def state_of(database: Database) -> str:
    """What is known of a database, in words."""
    if database.problem:
        return f"did not say what it has: {database.problem}"
    if database.fetched_at is None:
        return "was not asked yet"
    changed = f", changed {database.changed_at:%Y-%m-%d %H:%M}" if database.changed_at else ""
    every = f", every {database.poll_minutes} min" if database.poll_minutes else ""
    return f"answered {database.fetched_at:%Y-%m-%d %H:%M}{changed}{every}"
