"""``zarbek tested``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.console import Console
from rich.text import Text

from zarbek.cli.exampletext import STATES
from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.terminal import console_for, print_indented, titled
from zarbek.client.values.examples import ModuleTested, ShownBy, Tested
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek tested crewroster"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("release", metavar="SLUG[@VERSION]", help="the project, and a release other than the newest")
    parser.add_argument("--csv", action="store_true", help="as a table for a spreadsheet")
    parser.add_argument("--fail", action="store_true", help="exit with 1 where an example failed")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print what is tested of a release."""
    slug, version = split_release(options.release)
    with open_portal(options) as portal:
        if options.csv:
            out.write(portal.tested_table(slug, version))
            return Exit.FINE
        found = portal.tested(slug, version)
    if options.json:
        write_json(found, out)
    else:
        _print(found, console_for(out))
    return Exit.FINDINGS if options.fail and found.examples.get("failed") else Exit.FINE


def _print(found: Tested, console: Console) -> None:
    console.print(titled(f"{found.project} {found.version}", f"  {sentence(found)}"))
    for module in found.modules:
        if module.shown:
            _print_module(module, console)


def sentence(found: Tested) -> str:
    """What a release has, in one sentence."""
    if not found.examples:
        return f"Of {count(found.elements, 'thing')} that can be called none is shown by a test."
    went = ", ".join(f"{number} {STATES.get(state, state)}" for state, number in sorted(found.examples.items()))
    examples = count(sum(found.examples.values()), "example")
    return f"Of {count(found.elements, 'thing')} that can be called {found.shown} are shown by {examples}: {went}."


def _print_module(module: ModuleTested, console: Console) -> None:
    console.print(Text(f"\n{module.path}", style="bold"))
    for element in module.shown:
        print_indented(Text(element.name), 2, console)
        for example in element.examples:
            print_indented(_line(example), 4, console)
        if element.left:
            print_indented(Text(f"and {count(element.left, 'example')} more"), 4, console)
    if module.others:
        names = ", ".join(other.name for other in module.others) + (f" and {module.left} more" if module.left else "")
        print_indented(Text(f"Without an example: {names}"), 2, console)


def _line(example: ShownBy) -> Text:
    told = example.verdict
    said = f": {told.told}" if told.told else ""
    return Text(f"{STATES.get(told.state, told.state)}  {example.title}{said}")
