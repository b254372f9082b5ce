"""``zarbek findings``"""

from __future__ import annotations

import argparse
from typing import TextIO

import msgspec

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.reporttext import print_finding
from zarbek.cli.terminal import console_for, titled
from zarbek.core.findings.formats.wording import count
from zarbek.core.model.finding import Finding

EXAMPLE = "zarbek findings crewroster"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="only of this project")
    parser.add_argument("--rule", default="", help="only of this rule, as in dangling/symbol")
    parser.add_argument("--owner", default="", help="only of this team; - for nobody's")
    parser.add_argument("--state", choices=["new", "open", "back", "fixed"], default="", help="only such findings")
    parser.add_argument("--notes", action="store_true", help="notes, too")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the findings that stand."""
    asked = {"project": options.project, "rule": options.rule, "owner": options.owner, "state": options.state,
             "least": "" if options.notes else "warning"}  # fmt: skip
    with open_portal(options) as portal:
        found = list(portal.findings(**{name: value for name, value in asked.items() if value}))
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    project = ""
    for row in found:
        if row.project != project:
            project = row.project
            console.print(titled(f"{project} {row.version}"))
        print_finding(msgspec.convert(row.finding, Finding, from_attributes=True), console)
    console.print(f"{count(len(found), 'finding')} {'stands' if len(found) == 1 else 'stand'}.")
    return Exit.FINE
