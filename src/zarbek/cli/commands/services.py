"""``zarbek services``"""

from __future__ import annotations

import argparse
import os
import tomllib
from pathlib import Path
from typing import Any, TextIO

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, titled
from zarbek.client.values.sources import RunningService
from zarbek.core.errors import ProjectFileError

EXAMPLE = "zarbek services quayside --look"
_KNOWN = frozenset(("address", "server", "strip", "headers", "every"))


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project")
    parser.add_argument(
        "--set", type=Path, metavar="FILE", dest="file",
        help="a TOML file with one table a service: address, server, strip, headers, every (minutes); "
        "a header's value that begins with $ is read from the environment",
    )  # fmt: skip
    parser.add_argument("--look", action="store_true", help="ask the services for their descriptions now")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the running services of a project; first set or ask them, where told to."""
    with open_portal(options) as portal:
        if options.file:
            portal.set_services(options.project, read_services(options.file.read_text(encoding="utf-8"), os.environ))
        found = portal.poll_services(options.project) if options.look else portal.services(options.project)
    if options.json:
        write_json(found, out)
        return Exit.FINE
    console = console_for(out)
    for service in found:
        console.print(titled(service.name, f"  {service.address}  {state_of(service)}"))
    if not found:
        console.print(f"{options.project} is gathered from no running service.")
    return Exit.FINE


def read_services(text: str, environment: Any) -> list[dict[str, Any]]:
    """The services of a TOML file as the portal takes them. Raises ProjectFileError with the key that is wrong."""
    try:
        tables = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise ProjectFileError("the list of services", f"is no TOML: {error}") from error
    return [_service(name, table, environment) for name, table in tables.items()]


def _service(name: str, table: Any, environment: Any) -> dict[str, Any]:
    if not isinstance(table, dict) or not isinstance(table.get("address"), str):
        raise ProjectFileError(name, "must be a table with the address of its description")
    unknown = sorted(table.keys() - _KNOWN)
    if unknown:
        raise ProjectFileError(f"{name}.{unknown[0]}", f"is not a known key; known are {', '.join(sorted(_KNOWN))}")
    headers = {}
    for header, value in table.get("headers", {}).items():
        held = environment.get(value[1:]) if str(value).startswith("$") else str(value)
        if held is None:
            raise ProjectFileError(f"{name}.headers.{header}", f"names {value}, which the environment does not have")
        headers[header] = held
    return {
        "name": name,
        "address": table["address"],
        "server": table.get("server", ""),
        "strip": table.get("strip", ""),
        "headers": headers if "headers" in table else None,
        "poll_minutes": int(table.get("every", 0)),
    }


def state_of(service: RunningService) -> str:
    """What is known of a service, in words."""
    if service.problem:
        return f"gave no description: {service.problem}"
    if service.fetched_at is None:
        return "was not asked yet"
    changed = f", changed {service.changed_at:%Y-%m-%d %H:%M}" if service.changed_at else ""
    return f"answered {service.fetched_at:%Y-%m-%d %H:%M}{changed}"
