"""``zarbek fetch``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.runs import PublishFailed, follow
from zarbek.cli.terminal import console_for

EXAMPLE = "zarbek fetch tidebook --tags 'v2.*'"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    parser.add_argument(
        "--from",
        dest="address",
        default="",
        help="register this repository first: an https or ssh address, or a folder that the portal allows",
    )
    parser.add_argument("--folder", default="", help="the folder inside the repository")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--tag", default="", help="publish this tag")
    what.add_argument("--tags", default="", help="publish all new tags of a pattern (v*)")
    what.add_argument("--branch", default="", help="publish this branch as a preview")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Have the portal gather and publish by itself, and follow it until that is done."""
    with open_portal(options) as portal:
        if options.address:
            portal.add_source(options.project, options.address, options.folder)
        runs = portal.fetch(options.project, tag=options.tag, tags=options.tags, branch=options.branch)
        finished = [follow(portal, run) for run in runs]
    for run_ in finished:
        if run_.state == "failed":
            raise PublishFailed(run_)
    if options.json:
        write_json(finished, out)
        return Exit.FINE
    console = console_for(out)
    for run_ in finished:
        console.print(f"{run_.project} {run_.version} is live, run {run_.id}.")
    if not finished:
        console.print("Nothing new: every tag of that pattern is published.")
    return Exit.FINE
