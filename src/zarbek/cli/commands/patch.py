"""``zarbek patch``"""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TextIO

import msgspec

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for
from zarbek.client.values.findings import Edits, Patch
from zarbek.core.findings.formats.wording import count
from zarbek.core.findings.patches import Edit, patch_files
from zarbek.core.material.git_repository import read_file_at, root_of_checkout

EXAMPLE = "zarbek patch crewroster --out mend.diff"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    parser.add_argument("--likely", action="store_true", help="also mend what is not beyond doubt; read it before use")
    parser.add_argument("--source", type=Path, help="the source's folder in a checkout, if the portal cannot read it")
    parser.add_argument("--out", type=Path, help="write the diff there; to standard output if left out")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Write a unified diff that fixes what is beyond doubt."""
    with open_portal(options) as portal:
        if options.source is None:
            found = portal.patch(options.project, likely=options.likely)
        else:
            found = _patched_here(portal.edits(options.project, likely=options.likely), options.source)
    if options.json:
        write_json(found, out)
        return Exit.FINE
    if options.out is None:
        out.write(found.diff)
        return Exit.FINE
    options.out.write_text(found.diff, encoding="utf-8", errors="surrogateescape", newline="")
    console = console_for(out)
    console.print(f"{options.out}: mends {count(found.made, 'name')} of {found.project} {found.version}.")
    for line in found.left:
        console.print(f"  left alone: {line}")
    return Exit.FINE


def _patched_here(found: Edits, source: Path) -> Patch:
    """The same from a checkout: against the gathered commit, or the files as they are if there was none."""
    edits = msgspec.convert(found.edits, list[Edit], from_attributes=True)
    root = root_of_checkout(source)
    folder = source.resolve().relative_to(root).as_posix().removeprefix(".")

    def read(file: str) -> bytes:
        if found.commit:
            return read_file_at(root, found.commit, f"{folder}/{file}".lstrip("/"))
        return (source / file).read_bytes()

    diff, made, left = patch_files(edits, read, folder)
    return Patch(
        project=found.project, version=found.version, commit=found.commit, state="made", diff=diff, made=made, left=left
    )
