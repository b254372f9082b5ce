"""``zarbek addresses``"""

from __future__ import annotations

import argparse
import sys
from collections import defaultdict
from typing import Any, TextIO
from urllib.parse import urlsplit

from rich.console import Console

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.client import Portal
from zarbek.client.values.findings import Addresses, Unreachable
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek addresses harbour-handbook"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="the project; hosts that nobody asks if left out")
    which = parser.add_mutually_exclusive_group()
    which.add_argument("--on", action="store_true", help="ask for the project's addresses again")
    which.add_argument("--off", action="store_true", help="ask for none of the project's addresses")
    parser.add_argument("--leave", action="append", default=[], metavar="HOST",
                        help="leave a host alone, * for any text; for all projects without a project")  # fmt: skip
    parser.add_argument("--ask", action="append", default=[], metavar="HOST", help="ask a host again")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print which addresses of the web are asked and which could not be reached; first change that, where told to."""
    if not options.project and (options.on or options.off):
        print("zarbek: --on and --off need a project.", file=sys.stderr)
        return Exit.USAGE
    with open_portal(options) as portal:
        found: Any = _project(portal, options) if options.project else _portal(portal, options)
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    if not options.project:
        console.print("\n".join(found) or "No host is left alone.")
        return Exit.FINE
    _print(found, console)
    return Exit.FINE


def _portal(portal: Portal, options: argparse.Namespace) -> list[str]:
    hosts = portal.quiet_hosts()
    if not (options.leave or options.ask):
        return hosts
    return portal.set_quiet_hosts(_changed(hosts, options))


def _project(portal: Portal, options: argparse.Namespace) -> Addresses:
    found = portal.addresses(options.project)
    if not (options.on or options.off or options.leave or options.ask):
        return found
    asks = options.on or (found.asks and not options.off)
    return portal.set_addresses(options.project, asks=asks, quiet=_changed(found.quiet, options))


def _changed(hosts: list[str], options: argparse.Namespace) -> list[str]:
    return sorted({*hosts, *options.leave} - set(options.ask))


def _print(found: Addresses, console: Console) -> None:
    if not found.asks:
        console.print("None of its addresses is asked.")
        return
    known, unreachable = found.known, found.unreachable
    if not found.checked_at:
        console.print("Its addresses have not been asked yet.")
        return
    told = f"{count(known, 'address', 'addresses')} of the web, asked {found.checked_at:%Y-%m-%d}."
    console.print(f"{told} {len(unreachable):,} cannot be reached." if unreachable else told)
    if found.quiet:
        console.print(f"Left alone: {', '.join(found.quiet)}.")
    by_host: dict[str, list[Unreachable]] = defaultdict(list)
    for address in unreachable:
        by_host[urlsplit(address.url).netloc].append(address)
    if by_host:
        console.print(titled("\nUnreachable", ", which is no fault of the references"))
    for host, addresses in sorted(by_host.items(), key=lambda item: (-len(item[1]), item[0])):
        first = min(addresses, key=lambda a: a.since)
        console.print(
            f"  {host}  {count(len(addresses), 'address', 'addresses')}, since {first.since:%Y-%m-%d}: {first.why}"
        )
