"""``zarbek report``"""

from __future__ import annotations

import argparse
from typing import TextIO

import msgspec

from zarbek.cli.exits import Exit
from zarbek.cli.gates import add_gate, exceeds
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.reporttext import print_report
from zarbek.cli.terminal import console_for, write_json
from zarbek.core.findings.formats import FORMATS, write_report
from zarbek.core.findings.report import Report

EXAMPLE = "zarbek report crewroster --format sarif"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("release", metavar="SLUG[@VERSION]", help="the project, and a release other than the newest")
    parser.add_argument("--format", choices=["text", *FORMATS], default="text", help="how to print it")
    add_gate(parser)
    parser.add_argument("--all", action="store_true", help="show every finding, notes too")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    slug, version = split_release(options.release)
    with open_portal(options) as portal:
        report = portal.report(slug, version)
    if options.json or options.format == "json":
        write_json(report, out)
    elif options.format == "text":
        print_report(report, console_for(out), whole=options.all)
    else:
        out.write(write_report(msgspec.convert(report, Report), options.format))
    return Exit.FINDINGS if exceeds(report, options) else Exit.FINE
