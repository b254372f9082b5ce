"""``zarbek follow``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled

EXAMPLE = "zarbek follow tidebook"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="have mail of what is new in it")
    parser.add_argument("--team", default="", metavar="NAME", help="have mail of what is its turn")
    parser.add_argument("--stop", type=int, metavar="ID", help="have mail of it no longer")
    pause = parser.add_mutually_exclusive_group()
    pause.add_argument("--pause", action="store_true", help="no mail for now; what is new meanwhile is not told later")
    pause.add_argument("--resume", action="store_true", help="mail again, from now on")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print what one has mail of, once that is changed as asked."""
    with open_portal(options) as portal:
        if options.project or options.team:
            portal.follow(project=options.project, owner=options.team)
        if options.stop:
            portal.unfollow(options.stop)
        if options.pause or options.resume:
            portal.pause_mail(options.pause)
        mail = portal.mail()
    if options.json:
        write_json(mail, out)
        return Exit.FINE
    console = console_for(out)
    where = mail.address or "nowhere: the account has no address"
    console.print(f"Mail goes to {where}{', and is paused' if mail.is_paused else ''}.", markup=False)
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for one in mail.subscriptions:
        what = "what is new in it" if one.project else "what is its turn"
        table.add_row(str(one.id), titled(one.project or f"team {one.owner}"), what)
    console.print(table if mail.subscriptions else "You follow nothing yet. zarbek follow PROJECT begins.")
    return Exit.FINE
