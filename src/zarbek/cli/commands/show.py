"""``zarbek show``"""

from __future__ import annotations

import argparse
from typing import Any, TextIO

from rich.console import Console
from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.interfacetext import pieces, plain, print_interface
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, write_json
from zarbek.client import Hit, Portal, PortalError
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek show tidebook.windows.find_windows"


class NameNotFound(PortalError):
    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name

    def __str__(self) -> str:
        return f"Nothing in the portal is called {self.name!r}. zarbek find {self.name} looks further."


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("name", help="a symbol or guide: its name or its path")
    parser.add_argument("--project", default="", help="only of this project")
    parser.add_argument("--version", default="", help="in this release of --project instead of the newest")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    with open_portal(options) as portal:
        hit = _find(portal, options)
        read = portal.guide if hit.kind == "guide" else portal.symbol
        # The best hit for a method and path is its operation, which answers to that name as well.
        page = read(hit.project, options.name if " /" in options.name else hit.path, hit.version)
    if options.json:
        write_json(page, out)
    elif hit.kind == "guide":
        console_for(out).print(Text(plain(page["html"])))
    else:
        _print_symbol(page, console_for(out))
    return Exit.FINE


def _find(portal: Portal, options: argparse.Namespace) -> Hit:
    hits = portal.search(options.name, project=options.project, version=options.version, limit=10)
    wanted = options.name.lower()
    exact = [h for h in hits if wanted in (h.name.lower(), h.path.lower()) or h.path.lower().endswith("." + wanted)]
    if " /" in options.name:
        exact = exact or [h for h in hits if h.kind == "operation"]
    if not exact:
        raise NameNotFound(options.name)
    return exact[0]


def signature_text(page: dict[str, Any], signature: dict[str, Any]) -> str:
    """The signature in its language's own form; in Python's where it has none."""
    if signature.get("text"):
        return pieces(signature["text"]).replace("\n", "\n  ")
    parts: list[str] = []
    kinds = [p["kind"] for p in signature["parameters"]]
    for index, parameter in enumerate(signature["parameters"]):
        kind = parameter["kind"]
        if kind == "keyword-only" and "variadic" not in kinds and kinds.index("keyword-only") == index:
            parts.append("*")
        text = {"variadic": "*", "keywords": "**"}.get(kind, "") + parameter["name"]
        type_text = pieces(parameter.get("type", []))
        default = parameter.get("default", "")
        text += (f": {type_text}" if type_text else "") + ((" = " if type_text else "=") + default if default else "")
        parts.append(text)
        if kind == "positional-only" and "positional-only" not in kinds[index + 1 :]:
            parts.append("/")
    returns = pieces(signature["returns"])
    return f"{page['name']}({', '.join(parts)})" + (f" -> {returns}" if returns else "")


def _print_symbol(page: dict[str, Any], console: Console) -> None:
    place = page["place"]
    console.print(
        Text(page["path"], style="bold"), Text(f"{page['kind']}, {place['project']} {place['version']}", style="dim")
    )
    for signature in page["signatures"]:
        console.print(Text("  " + signature_text(page, signature), style="cyan"))
    if (page["type"] or page["value"]) and not any(s.get("text") for s in page["signatures"]):
        console.print(
            Text(
                "  "
                + ": ".join(filter(None, (page["name"], pieces(page["type"]))))
                + (f" = {page['value']}" if page["value"] else "")
            )
        )
    if page["deprecated"]:
        since = f" since {page['deprecated']['since']}" if page["deprecated"]["since"] else ""
        console.print(Text(f"Deprecated{since}. {plain(page['deprecated']['html'])}", style="yellow"))
    for html in (page["summary"], page["body"]):
        if html:
            console.print(Text("\n" + plain(html)))
    if page.get("interface"):
        print_interface(page["interface"], console)
    for title, key in (("What goes in", "parameters"), ("What comes out", "returns"), ("What can go wrong", "raises")):
        if page[key]:
            console.print(Text(f"\n{title}", style="bold"))
            for field in page[key]:
                name = pieces(field.get("name", [])) or pieces(field.get("type", []))
                console.print(Text.assemble("  ", (name, "bold"), "  ", plain(field.get("html", ""))))
    if page["members"]:
        console.print(Text("\nMembers", style="bold"))
        for member in page["members"]:
            console.print(Text.assemble("  ", (member["name"], "bold"), "  ", plain(member.get("summary", ""))))
    if page["referrers"]["total"]:
        where = ", ".join(page["referrers"]["projects"])
        console.print(f"\n{count(page['referrers']['total'], 'referrer')} in {where}.")
    for finding in page["findings"]:
        console.print(
            Text(
                f"{finding['rule']}  {finding['message']}",
                style="red" if finding["rule"].startswith("dangling") else "yellow",
            )
        )
    console.print(f"{page['file']}, line {page['line']}", style="dim")
