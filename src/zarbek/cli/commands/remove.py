"""``zarbek remove``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek remove tidebook --release 1.0.0 --yes"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--release", metavar="VERSION", help="one release or preview; the whole project if left out")
    what.add_argument("--source", type=int, metavar="ID", help="one repository, as zarbek sources numbers them")
    parser.add_argument("--yes", action="store_true", help="do it; without this it is only said what would go")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Remove a project, a release or a source; without --yes say what would go."""
    console = console_for(out)
    with open_portal(options) as portal:
        if options.source is not None:
            what = f"the source {options.source} of {options.project}"
        elif options.release:
            what = f"{options.project} {options.release}, with its pages and links"
        else:
            releases = len(portal.project(options.project).releases)
            what = f"{options.project} with its {count(releases, 'release')}, findings, sources and history"
        if options.yes:
            if options.source is not None:
                portal.remove_source(options.source)
            elif options.release:
                portal.remove_release(options.project, options.release)
            else:
                portal.remove_project(options.project)
    if options.json:
        write_json({"what": what, "removed": options.yes}, out)
    else:
        told = (
            f"Removed {what}." if options.yes else f"This removes {what}. Say --yes to do it; nothing brings it back."
        )
        console.print(told)
    return Exit.FINE
