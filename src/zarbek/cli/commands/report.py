"""``zarbek report``"""

from __future__ import annotations

import argparse
from typing import TextIO

import msgspec

from zarbek.cli.exits import Exit
from zarbek.cli.gates import add_gate, exceeds
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.reporttext import print_report
from zarbek.cli.terminal import console_for
from zarbek.client.values.findings import Report as Answered
from zarbek.core.findings.formats import FORMATS, write_report
from zarbek.core.findings.formats.wording import count, without_notes
from zarbek.core.findings.report import Report
from zarbek.core.model.finding import Finding

EXAMPLE = "zarbek report crewroster --format sarif"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("release", metavar="SLUG[@VERSION]", help="the project, and a release other than the newest")
    parser.add_argument("--format", choices=["text", *FORMATS, "html"], default="text", help="how to print it")
    add_gate(parser)
    parser.add_argument("--all", action="store_true", help="show every finding, notes too")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the report of a release, in one of several forms. FINDINGS where the gate says so."""
    slug, version = split_release(options.release)
    with open_portal(options) as portal:
        report = portal.report(slug, version)
        is_asked = not version and not options.json and options.format == "text"
        page = portal.report_as("html", slug, version) if options.format == "html" else ""
        standing = {f.finding.fingerprint for f in portal.findings(project=slug, least="warning")} if is_asked else None
    if options.json or options.format == "json":
        write_json(report, out)
    elif options.format == "text":
        print_report(report, console_for(out), whole=options.all)
        if standing is not None and (gone := _mended_since(report, standing)):
            told = f"{count(gone, 'of these has', 'of these have')} been mended since"
            console_for(out).print(f"\n{told}. zarbek findings {slug} shows what stands now.")
    elif page:
        out.write(page)
    else:
        out.write(write_report(msgspec.convert(report, Report, from_attributes=True), options.format))
    return Exit.FINDINGS if exceeds(report, options) else Exit.FINE


def _mended_since(report: Answered, standing: set[str]) -> int:
    found = without_notes(msgspec.convert([*report.new, *report.open], list[Finding], from_attributes=True))
    return sum(f.fingerprint not in standing for f in found)
