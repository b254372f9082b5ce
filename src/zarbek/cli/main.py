"""``zarbek VERB``: parse, act, and end with a named exit code."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Sequence
from typing import Protocol, TextIO, cast

from zarbek import __version__
from zarbek.cli.exits import Exit
from zarbek.cli.extras import ExtraMissing, load_extra
from zarbek.client.errors import PortalError
from zarbek.core.errors import ZarbekError

VERBS = {
    "gather": "read a source into a bundle",
    "inspect": "show and validate a bundle",
    "options": "list, explain and search the options of zarbek.toml",
    "preview": "show a working tree as the portal would, while it is written",
    "publish": "publish a folder or a bundle as a release",
    "fetch": "have the portal gather a repository by itself",
    "report": "show what the newest run of a project found, in the form that is asked for",
    "findings": "show what stands now, whichever run found it",
    "runs": "list publish runs, cancel one, or try one again",
    "compare": "show what changed between two releases, and what breaks callers",
    "lineage": "show where the data of a table or column come from, and where they go",
    "tested": "tell what is shown by examples from tests, and how they went",
    "impact": "show who refers to a symbol, or what a release breaks",
    "patch": "write a patch that mends references in the sources",
    "supplements": "list, write and export texts that people write in the portal beside the source",
    "waivers": "list, make and end decisions to live with findings",
    "policy": "show or set what holds a release back from latest",
    "sources": "show how far repositories are ahead of what is published",
    "addresses": "say which addresses of the web cannot be reached, and which are asked",
    "names": "list the names that projects own, and decide contested ones",
    "remove": "remove a source, a release or a project",
    "services": "list or set the running services that a project is gathered from",
    "database": "show or set the database that a project is gathered with",
    "call": "send a request of an operation, or write it as code",
    "find": "look up a name, a part of one, or words",
    "show": "show a symbol or a guide",
    "links": "list every mention of a release with its link",
    "projects": "list projects",
    "releases": "list the releases of a project",
    "tokens": "list, make, rotate and revoke tokens",
    "members": "say who may read a project, and who has which part in it",
    "people": "list accounts, add them, and say which are of use",
    "teams": "list teams, and say who is in them",
    "follow": "have mail of what is new in a project, or of what is a team's turn",
    "audit": "tell who did what",
}


class Command(Protocol):
    """What a module of zarbek.cli.commands offers."""

    EXAMPLE: str

    def add_arguments(self, parser: argparse.ArgumentParser) -> None:
        """Add what the verb understands."""

    def run(self, options: argparse.Namespace, out: TextIO) -> Exit:
        """Do it; what was asked for is written to out."""


def load_command(verb: str) -> Command:
    """Raises ExtraMissing for one whose packages are not installed."""
    return cast(Command, load_extra("gather", f"zarbek.cli.commands.{verb}"))


def build_parser(verb: str | None, *, is_alone: bool = False) -> argparse.ArgumentParser:
    """The parser of all verbs, with the arguments of the one that is asked for; is_alone: of that one only."""
    parser = argparse.ArgumentParser(
        prog="zarbek", description="Gather, publish, link and look up API references.",
        epilog="exit codes: 0 fine, 1 findings at or above the asked level, 2 usage, 3 could not",
    )  # fmt: skip
    parser.add_argument("--version", action="version", version=f"zarbek {__version__}")
    verbs = parser.add_subparsers(dest="verb", metavar="VERB", required=True)
    for name in [verb] if is_alone and verb in VERBS else VERBS:
        meaning, command = VERBS[name], load_command(name) if name == verb else None
        made = verbs.add_parser(
            name, help=meaning, description=meaning[0].upper() + meaning[1:] + ".",
            epilog=f"example:\n  {command.EXAMPLE}" if command else None,
            formatter_class=argparse.RawDescriptionHelpFormatter,
        )  # fmt: skip
        if command is not None:
            command.add_arguments(made)
            made.add_argument("--json", action="store_true", help="print JSON")
    return parser


def main(argv: Sequence[str], out: TextIO, err: TextIO) -> int:
    """Run a command line without its program's name; its exit code. What went wrong is told on err."""
    verb = next((word for word in argv if not word.startswith("-")), None)
    try:
        # The others are not made where nothing but the verb speaks: they take as long as much of its work.
        options = build_parser(verb, is_alone=argv[:1] == [verb]).parse_args(argv)
        return int(load_command(options.verb).run(options, out))
    except SystemExit as error:
        return int(error.code or 0)
    except (ZarbekError, PortalError, ExtraMissing) as error:
        print(f"zarbek: {error}", file=err)
        return Exit.COULD_NOT
    except BrokenPipeError:
        return Exit.FINE  # Whoever reads has enough.
    except KeyboardInterrupt:
        print("zarbek: stopped.", file=err)
        return Exit.COULD_NOT


def run_process() -> None:
    """Run the process's own command line, and end the process with its exit code."""
    code = main(sys.argv[1:], sys.stdout, sys.stderr)
    try:
        sys.stdout.flush()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # Or the end of Python flushes again.
    sys.exit(code)
