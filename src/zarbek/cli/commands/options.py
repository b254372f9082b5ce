"""``zarbek options``"""

from __future__ import annotations

import argparse
from dataclasses import asdict
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.terminal import console_for, titled
from zarbek.core.sources.project_file import OPTIONS

EXAMPLE = "zarbek options guide"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("words", nargs="*", help="list only options that mention these words")


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the options of the project file."""
    words = [word.lower() for word in options.words]
    found = [o for o in OPTIONS if all(w in f"{o.key} {o.meaning} {o.type}".lower() for w in words)]
    if options.json:
        write_json([asdict(option) for option in found], out)
        return Exit.FINE
    console = console_for(out)
    for option in found:
        console.print(titled(option.key, f"  {option.type}; {option.default} if left out"))
        console.print(f"    {option.meaning}")
        for line in option.example.splitlines():
            console.print(f"    {line}", style="dim")
    if not found:
        console.print("No option mentions that.")
    return Exit.FINE
