"""``zarbek call``"""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TextIO

from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal, split_release
from zarbek.cli.terminal import console_for
from zarbek.client import PortalError
from zarbek.client.values.interfaces import Operation
from zarbek.client.values.sources import CallResult

EXAMPLE = "zarbek call quayside getSailing --path id=S-2041"


class NoServer(PortalError):
    """A project allows no server that an operation could be called on."""

    def __init__(self, project: str, operation: str) -> None:
        super().__init__(project, operation)
        self.project, self.operation = project, operation

    def __str__(self) -> str:
        return f"{self.project} allows no server that {self.operation} could be asked at. Name one with --server."


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project, or PROJECT@VERSION")
    parser.add_argument("operation", help="the operation: its id, or method and path")
    parser.add_argument("--server", default="", help="one that the project allows; the first if left out")
    for place in ("path", "query", "header", "cookie"):
        parser.add_argument(f"--{place}", action="append", default=[], metavar="NAME=VALUE", help=f"a {place} value")
    parser.add_argument("--body", default="", help="the body, or @FILE; the example if left out")
    parser.add_argument(
        "--as",
        default="",
        dest="form",
        metavar="FORM",
        help="send nothing; print the request as curl, HTTP, Python, JavaScript, Java, Go or C#",
    )
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Send a request through the portal, and print the answer and where it differs from what is described."""
    slug, version = split_release(options.project)
    with open_portal(options) as portal:
        view = portal.symbol(slug, options.operation, version or "latest").interface
        operation = view.operation if view is not None else None
        server = options.server or next(iter(operation.callable if operation is not None else ()), "")
        if not server:
            raise NoServer(slug, options.operation)
        body, media_type = _body(options.body, operation)
        found = portal.call(
            slug,
            options.operation,
            server,
            version=version or "latest",
            values=_values(options, operation),
            body=body,
            media_type=media_type,
            send=not options.form,
        )
    if options.form:
        wanted = next((s for s in found.snippets if s.label.lower() == options.form.lower()), None)
        if wanted is None:
            out.write(f"There is no form {options.form}.\n")
            return Exit.USAGE
        out.write(wanted.text + "\n")
        return Exit.FINE
    if options.json:
        write_json(found, out)
    else:
        _print(found, out)
    answer = found.answer
    return Exit.COULD_NOT if answer is None else Exit.FINDINGS if answer.faults else Exit.FINE


def _values(options: argparse.Namespace, operation: Operation | None) -> dict[str, dict[str, str]]:
    """What was given, with the examples of what must be given and was not."""
    made: dict[str, dict[str, str]] = {}
    for slot in operation.parameters if operation is not None else ():
        if slot.required and slot.value:
            made.setdefault(slot.place, {})[slot.name] = slot.value
    for place in ("path", "query", "header", "cookie"):
        for pair in getattr(options, place):
            name, _, value = pair.partition("=")
            made.setdefault(place, {})[name] = value
    return made


def _body(given: str, operation: Operation | None) -> tuple[str, str]:
    body = operation.body if operation is not None else None
    media = next(iter(body.media if body is not None else ()), None)
    if media is None:
        return given, "application/json" if given else ""
    if given.startswith("@"):
        given = Path(given[1:]).read_text(encoding="utf-8")
    examples = media.examples
    return given or (examples[0].raw if examples else ""), media.type


def _print(found: CallResult, out: TextIO) -> None:
    console = console_for(out)
    console.print(Text(f"{found.method} {found.url}", style="bold"))
    answer = found.answer
    if answer is None:
        console.print(Text(found.problem, style="red"))
        return
    console.print(Text(f"{answer.status} {answer.reason} after {answer.time_ms} ms"))
    fits = {True: "It fits its description.", False: "It does not fit its description.", None: ""}[answer.fits]
    if fits:
        console.print(Text(fits, style="" if answer.fits else "red"))
    for fault in answer.faults:
        console.print(Text(f"  {fault}", style="red"))
    console.print(Text("\n" + answer.body))
