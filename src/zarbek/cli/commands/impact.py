"""``zarbek impact``"""

from __future__ import annotations

import argparse
import tempfile
from pathlib import Path
from typing import TextIO

import msgspec
from rich.console import Console
from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.gathering import add_catalog_argument, bundle_of
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.reporttext import print_report
from zarbek.cli.runs import PublishFailed, follow
from zarbek.cli.terminal import console_for, titled
from zarbek.client.values.changes import Impact, Place
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek impact tidebook tidebook.windows.find_windows"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("release", metavar="SLUG[@VERSION]", help="the project that is asked about")
    parser.add_argument("name", nargs="?", default="",
                        help="a symbol, or a pattern with *; what the release breaks if left out")  # fmt: skip
    parser.add_argument("--path", type=Path, help="a folder or bundle: what would break if it went out")
    parser.add_argument("--version", default="", help="with --path: the version that it would have")
    add_catalog_argument(parser)
    parser.add_argument("--all", action="store_true", help="show every finding, notes too")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print who refers to a symbol, or who is affected by a release, published or not."""
    slug, version = split_release(options.release)
    if options.path is not None:
        return _run_dry(options, slug, out)
    with open_portal(options) as portal:
        if options.name:
            found = portal.impact(slug, options.name, version=version)
        else:
            found = portal.impact(slug, release=version or "latest")
    if options.json:
        write_json(found, out)
    else:
        print_impact(found, console_for(out))
    return Exit.FINE


def _run_dry(options: argparse.Namespace, slug: str, out: TextIO) -> Exit:
    with open_portal(options) as portal, tempfile.TemporaryDirectory(prefix="zarbek-") as folder:
        bundle = bundle_of(options.path, slug, options.version, Path(folder), with_catalog=options.catalog)
        started = portal.publish(bundle, project=slug, version=options.version, dry=True)
        finished = started if started.is_over else follow(portal, started)
        if finished.state == "failed":
            raise PublishFailed(finished)
        report = portal.run_report(finished.id)
    if options.json:
        write_json(report.elsewhere, out)
    else:
        print_report(msgspec.structs.replace(report, new=[], open=[], fixed=[]), console_for(out), whole=options.all)
    return Exit.FINDINGS if report.elsewhere else Exit.FINE


def print_impact(found: Impact, console: Console) -> None:
    """Print who is affected, project by project, with whom to ask."""
    what = "symbol" if found.targets == 1 else "symbols"
    console.print(titled(found.project, f" {found.asked}"))
    if not found.places:
        console.print(f"Nobody refers to {'it' if found.targets == 1 else 'them'}.")
        return
    total, releases = count(found.places, "reference"), count(len(found.referring), "release")
    owners = f", owned by {', '.join(found.owners)}" if found.owners else ""
    others = count(found.projects, "other project")
    console.print(f"{total} to {found.targets} {what}, in {releases}; {others}{owners}.")
    for referring in found.referring:
        owner = f", owned by {referring.owner}" if referring.owner else ""
        console.print(titled(f"\n{referring.project} {referring.version}", owner))
        for place in referring.places:
            via = f", through {place.via}" if place.via else ""
            console.print(Text.assemble(
                (f"  {place.file}:{place.line}", "dim"), f"  {place.path}  ", (place.text, "bold"),
                _target_words(place, found.asked), via,
            ))  # fmt: skip


def _target_words(place: Place, asked: str) -> str:
    """The target, where neither the question nor the text says it."""
    is_told = place.target in (asked, place.text.removeprefix("api:"))
    return "" if is_told else f"  {place.target}"
