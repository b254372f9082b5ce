"""``zarbek publish``"""

from __future__ import annotations

import argparse
import tempfile
from pathlib import Path
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.gates import add_gate, exceeds
from zarbek.cli.gathering import add_catalog_argument, bundle_of
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.reporttext import print_report
from zarbek.cli.runs import PublishFailed, follow
from zarbek.cli.terminal import console_for
from zarbek.client import Run
from zarbek.client.values.findings import Report

EXAMPLE = "zarbek publish .zarbek/demo/tidebook --dry-run"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("path", type=Path, help="a source's folder, a ZIP or tar archive of it, or a bundle")
    parser.add_argument("--project", default="", help="slug, instead of the project file's")
    parser.add_argument("--version", default="", help="version, instead of the manifest's")
    add_catalog_argument(parser)
    parser.add_argument("--preview", action="store_true", help="publish a preview, which the next one replaces")
    parser.add_argument("--dry-run", action="store_true", help="report only; the portal keeps nothing")
    add_gate(parser)
    parser.add_argument("--all", action="store_true", help="show every finding, notes too")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Publish a folder or bundle, follow the run, and print its report. FINDINGS where the gate says so."""
    with open_portal(options) as portal, tempfile.TemporaryDirectory(prefix="zarbek-") as folder:
        bundle = bundle_of(options.path, options.project, options.version, Path(folder), with_catalog=options.catalog)
        started = portal.publish(
            bundle, project=options.project, version=options.version, preview=options.preview, dry=options.dry_run
        )
        finished = started if started.is_over else follow(portal, started)
        if finished.state == "failed":
            raise PublishFailed(finished)
        report = portal.run_report(finished.id)
    _print(options, started, report, out)
    return Exit.FINDINGS if exceeds(report, options) else Exit.FINE


def _print(options: argparse.Namespace, started: Run, report: Report, out: TextIO) -> None:
    if options.json:
        write_json(report, out)
        return
    console = console_for(out)
    if not started.is_new:
        console.print(
            f"{report.project} {report.version} is published already, with the same content. Nothing changed."
        )
        return
    print_report(report, console, whole=options.all)
