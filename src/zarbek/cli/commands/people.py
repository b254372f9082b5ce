"""``zarbek people``"""

from __future__ import annotations

import argparse
import getpass
import sys
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled

EXAMPLE = "zarbek people --add mara --mail mara@halmere.example"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--add", metavar="NAME", help="a new account; its password is asked for, or read from a pipe")
    what.add_argument("--password", metavar="NAME", help="a new password for an account; it is signed out everywhere")
    what.add_argument("--disable", metavar="NAME", help="nobody signs in under the account, and its tokens end")
    what.add_argument("--enable", metavar="NAME", help="the account is of use again")
    what.add_argument("--promote", metavar="NAME", help="make an administrator")
    what.add_argument("--demote", metavar="NAME", help="an administrator no longer")
    what.add_argument("--sign-out", metavar="NAME", help="end all sessions of an account")
    parser.add_argument("--mail", default="", metavar="ADDRESS", help="with --add: where mail to it goes")
    add_portal_arguments(parser)


_CHANGES = {
    "disable": {"is_active": False}, "enable": {"is_active": True}, "promote": {"is_administrator": True},
    "demote": {"is_administrator": False},
}  # fmt: skip


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the accounts, once they are changed as asked."""
    with open_portal(options) as portal:
        if options.add:
            portal.add_person(options.add, _read_password(), email=options.mail)
        elif options.password:
            portal.change_person(options.password, password=_read_password())
        elif options.sign_out:
            portal.end_sessions_of(options.sign_out)
        for name, change in _CHANGES.items():
            if person := getattr(options, name):
                portal.change_person(person, **change)
        people = list(portal.people())
    if options.json:
        write_json(people, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for person in people:
        facts = ["administrator"] if person.is_administrator else []
        facts += [] if person.is_active else ["disabled"]
        last = f"last signed in {person.last_login:%d %B %Y}" if person.last_login else "never signed in"
        table.add_row(titled(person.name), ", ".join(facts), ", ".join(person.teams), person.email, last)
    console_for(out).print(table)
    return Exit.FINE


def _read_password() -> str:
    if sys.stdin.isatty():
        return getpass.getpass("Password: ")
    return sys.stdin.readline().rstrip("\n")
