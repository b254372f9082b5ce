"""``zarbek waivers``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.table import Table
from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for

EXAMPLE = "zarbek waivers crewroster --rule stale/deprecated --until 2027-03-31 --reason 'Moves with the spring plan.'"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="only of this project; every project if left out")
    parser.add_argument("--reason", default="", help="waive, for this reason")
    parser.add_argument("--until", default="", metavar="DAY", help="the last day, as in 2027-03-31")
    parser.add_argument("--rule", default="", help="findings of this rule; * stands for any text")
    parser.add_argument("--target", default="", help="findings about this, as in tidebook/tidebook.units.*")
    parser.add_argument("--file", default="", help="findings in these files; * stands for any text")
    parser.add_argument("--finding", action="append", default=[], metavar="PRINT", help="this finding, by fingerprint")
    parser.add_argument("--end", type=int, metavar="ID", help="end a waiver now")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print waivers; first add or end one, where told to."""
    console = console_for(out)
    with open_portal(options) as portal:
        if options.end:
            portal.end_waiver(options.end)
            console.print(f"Waiver {options.end} is ended.")
            return Exit.FINE
        if options.reason or options.until:
            found = portal.waive(
                reason=options.reason, until=options.until, project=options.project, rule=options.rule,
                target=options.target, file=options.file, fingerprints=options.finding,
            )  # fmt: skip
        else:
            found = list(portal.waivers(options.project))
    if options.json:
        write_json(found, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for waiver in found:
        what = " ".join(filter(None, [waiver.rule, waiver.target, waiver.file, waiver.fingerprint]))
        ended = Text("ended", "red") if waiver.ended else f"covers {waiver.covers}"
        table.add_row(str(waiver.id), waiver.project or "every project", what, f"until {waiver.until}", ended,
                      f"{waiver.person}: {waiver.reason}")  # fmt: skip
    console.print(table if found else "No waivers.")
    return Exit.FINE
