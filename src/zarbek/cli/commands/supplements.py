"""``zarbek supplements``"""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TextIO

from rich.table import Table

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.client.values.supplements import Revision, Written
from zarbek.core.errors import ZarbekError
from zarbek.core.model.supplement import WRITTEN_NAME

EXAMPLE = "zarbek supplements quayside --write booking.md --reason 'Partners asked.'"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project whose elements they are for")
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--write", metavar="FILE", type=Path, help="write this file in the portal, or write it anew")
    what.add_argument("--remove", metavar="NAME", help="remove one")
    what.add_argument("--out", metavar="FOLDER", type=Path, help="save all as files")
    what.add_argument("--patch", action="store_true", help="print a patch that adds all to the project's repository")
    parser.add_argument("--reason", default="", help="why it is written or removed")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the supplements that were written in the portal; first write or remove one, where told to."""
    with open_portal(options) as portal:
        slug = options.project
        if options.patch:
            out.write(portal.supplement_patch(slug))
            return Exit.FINE
        if options.write:
            text = options.write.read_text(encoding="utf-8")
            return _say(portal.write_supplement(slug, options.write.name, text, reason=options.reason), options, out)
        if options.remove:
            return _say(portal.remove_supplement(slug, options.remove, reason=options.reason), options, out)
        found = list(portal.supplements(slug))
    if options.out:
        _save(found, options.out)
    if options.json:
        write_json(found, out)
        return Exit.FINE
    table = Table(box=None, show_header=False, padding=(0, 2, 0, 0))
    for each in found:
        table.add_row(each.name, f"{each.written_at:%Y-%m-%d}", f"{each.author}: {each.reason}")
    console_for(out).print(table if found else f"Nothing was written in the portal for {slug}.")
    return Exit.FINE


def _save(found: list[Revision], folder: Path) -> None:
    """Raises ZarbekError for a name that is none of a file in the folder, before anything is written."""
    for each in found:
        if not WRITTEN_NAME.fullmatch(each.name):
            raise ZarbekError(f"The portal has a supplement called {each.name!r}, which is no name of a file to save.")
    folder.mkdir(parents=True, exist_ok=True)
    for each in found:
        (folder / each.name).write_text(each.text, encoding="utf-8")


def _say(written: Written, options: argparse.Namespace, out: TextIO) -> Exit:
    if options.json:
        write_json(written, out)
    else:
        did = "written" if written.revision.text else "removed"
        console_for(out).print(f"{written.revision.name} is {did}; run {written.run} brings it to readers.")
    return Exit.FINE
