"""``zarbek tokens``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for

EXAMPLE = "zarbek tokens --make 'tidebook build' --project tidebook --days 90"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("--make", metavar="NAME", help="make a token and print its text, once")
    parser.add_argument("--project", default="", help="with --make: is for this project only")
    parser.add_argument(
        "--scope", choices=("read", "publish", "manage"), help="with --make: what for; to publish, with --project"
    )
    parser.add_argument("--days", type=int, help="with --make: lives so long")
    parser.add_argument("--rotate", type=int, metavar="ID", help="make one in its place and print its text, once")
    parser.add_argument(
        "--hours", type=int, default=24, help="with --rotate: the old one goes on so long; 24 if left out"
    )
    parser.add_argument("--revoke", type=int, metavar="ID", help="revoke a token at once")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print one's own tokens; or make, rotate or revoke one."""
    console = console_for(out)
    with open_portal(options) as portal:
        if options.make or options.rotate:
            token = (
                portal.rotate_token(options.rotate, hours=options.hours)
                if options.rotate
                else portal.create_token(options.make, project=options.project, scope=options.scope, days=options.days)
            )
            if options.json:
                write_json(token, out)
            else:
                out.write(token.text + "\n")
            return Exit.FINE
        if options.revoke:
            portal.revoke_token(options.revoke)
            console.print(f"Token {options.revoke} is revoked.")
            return Exit.FINE
        tokens = portal.tokens()
    if options.json:
        write_json(tokens, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for token in tokens:
        until = f"until {token.expires_at:%d %B %Y}" if token.expires_at else "for good"
        used = f"last used {token.last_used_at:%d %B %Y}" if token.last_used_at else "never used"
        table.add_row(
            str(token.id), token.name, token.project or "every project", f"to {token.scope}", token.maker, until, used
        )
    console.print(table)
    return Exit.FINE
