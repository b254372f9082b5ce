"""``zarbek runs``"""

from __future__ import annotations

import argparse
from itertools import islice
from typing import TextIO

from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.client import Run

EXAMPLE = "zarbek runs crewroster"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="only runs of this project")
    parser.add_argument("--state", choices=["queued", "running", "done", "failed"], default="", help="only such runs")
    parser.add_argument("--most", type=int, default=20, metavar="N", help="list so many at most (20)")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--cancel", type=int, metavar="RUN", help="end a run that waits or goes")
    what.add_argument("--retry", type=int, metavar="RUN", help="try again what a failed run was to publish")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print runs, newest first; first end one or try one again, where told to."""
    with open_portal(options) as portal:
        if options.cancel:
            found = [portal.cancel_run(options.cancel)]
        elif options.retry:
            found = [portal.retry_run(options.retry)]
        else:
            found = list(islice(portal.runs(options.project, options.state), options.most))
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    for one in found:
        console.print(_line(one))
    if not found:
        console.print("No runs.")
    return Exit.FINE


def _line(one: Run) -> Text:
    style = {"failed": "red", "running": "yellow", "queued": "dim"}.get(one.state, "")
    stage = f" at {one.stage}" if one.state == "running" and one.stage else ""
    line = Text.assemble(f"{one.id}  {one.project} {one.version}  ", (one.state + stage, style))
    return line.append(f"  {one.problem}" if one.problem else "")
