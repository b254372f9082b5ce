"""``zarbek audit``"""

from __future__ import annotations

import argparse
import itertools
import json
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled

EXAMPLE = "zarbek audit tidebook --limit 20"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="only what was done to this project")
    parser.add_argument("--by", default="", metavar="NAME", help="only what this account did")
    parser.add_argument("--action", default="", help="only what was done so, as in release.published")
    parser.add_argument("--lines", action="store_true", help="all of it, oldest first, a line of JSON each")
    parser.add_argument("--limit", type=int, default=50, help="so many of the last; 50 if left out")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print what was done, newest first."""
    with open_portal(options) as portal:
        if options.lines:
            out.writelines(f"{line}\n" for line in portal.audit_lines(options.project))
            return Exit.FINE
        found = portal.audit(project=options.project, action=options.action, actor=options.by)
        entries = list(itertools.islice(found, options.limit))
    if options.json:
        write_json(entries, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for entry in entries:
        who = entry.actor or "nobody"
        by = f"{who} by {entry.token}" if entry.token else who
        what = " ".join(filter(None, (entry.project, entry.subject)))
        change = _told(entry.before, entry.after)
        table.add_row(f"{entry.at:%Y-%m-%d %H:%M}", titled(entry.action), what, change, by, entry.address)
    console_for(out).print(table if entries else "Nothing of that kind was done yet.")
    return Exit.FINE


def _told(before: object, after: object) -> str:
    told = [json.dumps(value, ensure_ascii=False) if not isinstance(value, str) else value for value in (before, after)
            if value not in (None, "", {}, [])]  # fmt: skip
    return " → ".join(told)
