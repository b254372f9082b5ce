"""``zarbek lineage``"""

from __future__ import annotations

import argparse
from typing import TextIO

from rich.console import Console
from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.lookup import find_hit
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, print_indented, titled
from zarbek.client.values.lineage import Lineage, LineageNode
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek lineage tally.week_figures.cars --up"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("name", metavar="TABLE[.COLUMN]", help="a table or column, by its name")
    parser.add_argument("--up", action="store_true", help="only what its data come from")
    parser.add_argument("--down", action="store_true", help="only where its data go")
    parser.add_argument("--depth", type=int, default=0, help="so many steps at most; all if left out")
    parser.add_argument("--project", default="", help="only of this project")
    parser.add_argument("--version", default="", help="in this release of --project instead of the newest")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the way of the data of a table or column."""
    direction = "up" if options.up and not options.down else "down" if options.down and not options.up else "both"
    with open_portal(options) as portal:
        hit = find_hit(portal, options.name, options.project, options.version)
        found = portal.lineage(hit.project, hit.path, hit.version, direction=direction, depth=options.depth)
    if options.json:
        write_json(found, out)
    else:
        _print(found, direction, console_for(out))
    return Exit.FINE


def _print(found: Lineage, direction: str, console: Console) -> None:
    first = found.nodes[0]
    console.print(titled(first.path, f"  {first.kind}, {found.project} {found.version}"))
    above = {(edge.target, edge.source): edge.how for edge in found.edges}
    below = {(edge.source, edge.target): edge.how for edge in found.edges}
    for title, ways, sign in (("Comes from", above, -1), ("Goes to", below, 1)):
        if direction in ("both", "up" if sign < 0 else "down"):
            console.print(Text(f"\n{title}", style="bold"))
            shown: set[int] = {0}
            _print_below(found, 0, ways, shown, 1, console)
            if len(shown) == 1:
                print_indented(Text("nothing that is known here"), 2, console)
    for node in found.nodes:
        for why in node.unknown:
            console.print(Text(f"\nNot known of {node.path}: {why}."))
    if found.more:
        console.print(Text("\nThere is more than is shown."))
    projects = {node.project for node in found.nodes}
    console.print(Text(f"\n{count(len(found.nodes) - 1, 'other')} in {count(len(projects), 'project')}."))


def _print_below(
    found: Lineage, at: int, ways: dict[tuple[int, int], str], shown: set[int], depth: int, console: Console
) -> None:
    for (begin, end), how in ways.items():
        if begin != at:
            continue
        print_indented(_line(found.nodes[end], how, is_again=end in shown), 2 * depth, console)
        if end not in shown:
            shown.add(end)
            _print_below(found, end, ways, shown, depth + 1, console)


def _line(node: LineageNode, how: str, *, is_again: bool) -> Text:
    place = f"{node.project} {node.version}".strip()
    told = [how, node.kind, place, "is not there" if node.is_missing else "", "as above" if is_again else ""]
    style = "bold red" if node.is_missing else "bold"
    return Text.assemble((node.path, style), f"  {', '.join(filter(None, told))}")
