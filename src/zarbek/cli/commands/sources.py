"""``zarbek sources``"""

from __future__ import annotations

import argparse
from typing import TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.client.values.sources import Source
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek sources tidebook --look"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", nargs="?", default="", help="the project; every one that is ahead if left out")
    parser.add_argument("--add", metavar="ADDRESS", help="register a repository, or change how it is watched")
    parser.add_argument("--folder", default="", help="with --add: the folder inside the repository")
    parser.add_argument("--every", type=int, default=0, metavar="MINUTES", help="with --add: publish new tags so often")
    parser.add_argument("--tags", default="v*", help="with --add: the pattern of tags that are releases")
    parser.add_argument("--branch", default="", help="with --add: whose commits count")
    parser.add_argument("--look", action="store_true", help="look now what the repository has")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print repositories and how far they are ahead; first register one, where told to."""
    with open_portal(options) as portal:
        if options.add:
            found = [portal.add_source(options.project, options.add, options.folder, poll_minutes=options.every,
                                       tags=options.tags, branch=options.branch)]  # fmt: skip
        else:
            found = portal.sources(options.project) if options.project else portal.ahead()
        if options.look:
            found = [portal.poll(source.id) for source in found]
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    for source in found:
        console.print(titled(source.project, f"  {source.address}  {state_of(source)}"))
        if source.secret:
            console.print(f"  calls to {source.hook} are signed with {source.secret}")
    if not found:
        console.print("No repository is registered." if options.project else "No repository is known to be ahead.")
    return Exit.FINE


def state_of(source: Source) -> str:
    """How far a repository is ahead of what the portal has published."""
    if source.problem:
        return f"could not be read: {source.problem}"
    if source.polled_at is None:
        return "was not looked at yet"
    ahead = source.ahead
    told = []
    if ahead.tags:
        told.append(f"{count(len(ahead.tags), 'tag')} unpublished ({', '.join(ahead.tags[:5])})")
    if ahead.commits:
        told.append(f"{count(ahead.commits, 'commit')} on {ahead.branch} since {ahead.since}")
    return "; ".join(told) or "nothing unpublished"
