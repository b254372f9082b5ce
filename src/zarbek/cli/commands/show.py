"""``zarbek show``"""

from __future__ import annotations

import argparse
import re
from typing import TextIO

from rich.console import Console
from rich.text import Text

from zarbek.cli.exampletext import print_example, print_examples
from zarbek.cli.exits import Exit
from zarbek.cli.interfacetext import pieces, plain, print_interface
from zarbek.cli.json_output import write_json
from zarbek.cli.lookup import NameNotFound, exact_hit
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.tabletext import print_data
from zarbek.cli.terminal import console_for, print_indented
from zarbek.client import Hit, Portal, PortalProblem
from zarbek.client.values.pages import Field, GuidePage, Member, Signature, SymbolPage
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek show tidebook.windows.find_windows"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("name", help="a symbol or guide: its name or its path")
    parser.add_argument("--project", default="", help="only of this project")
    parser.add_argument("--version", default="", help="in this release of --project instead of the newest")
    parser.add_argument("--markdown", action="store_true", help="of a table: as Markdown")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print the page of a symbol or guide."""
    with open_portal(options) as portal:
        hit = exact_hit(portal, options.name, options.project, options.version)
        if options.markdown and hit is not None:
            out.write(portal.table_text(hit.project, hit.path, hit.version).text)
            return Exit.FINE
        page = _read(portal, hit, options.name) if hit is not None else _by_other_name(portal, options)
    if options.json:
        write_json(page, out)
    elif isinstance(page, SymbolPage):
        _print_symbol(page, console_for(out))
    else:
        console_for(out).print(Text(plain(page.html)))
    return Exit.FINE


def _read(portal: Portal, hit: Hit, name: str) -> SymbolPage | GuidePage:
    if hit.kind == "guide":
        return portal.guide(hit.project, hit.path, hit.version)
    # The best hit for a method and path is its operation, which answers to that name as well.
    return portal.symbol(hit.project, name if " /" in name else hit.path, hit.version)


def _by_other_name(portal: Portal, options: argparse.Namespace) -> SymbolPage:
    """A symbol by another of its public names, of any project that has something of its last name. Raises
    NameNotFound."""
    name, wanted = options.name, options.name.lower()
    last = re.split(r"[.:/#]+", name)[-1]
    hits = portal.search(last, project=options.project, version=options.version, limit=50)
    for project, version in dict.fromkeys((h.project, h.version) for h in hits):
        try:
            return portal.symbol(project, name, version)
        except PortalProblem as problem:
            if problem.status != 404:
                raise
    alike = next((h.path for h in hits if wanted in (h.name.lower(), h.path.lower())), "")
    raise NameNotFound(name, alike)


def signature_text(page: SymbolPage, signature: Signature) -> str:
    """The signature in its language's own form; in Python's where it has none."""
    if signature.text:
        return pieces(signature.text).replace("\n", "\n  ")
    parts: list[str] = []
    kinds = [p.kind for p in signature.parameters]
    for index, parameter in enumerate(signature.parameters):
        kind = parameter.kind
        if kind == "keyword-only" and "variadic" not in kinds and kinds.index("keyword-only") == index:
            parts.append("*")
        text = {"variadic": "*", "keywords": "**"}.get(kind, "") + parameter.name
        type_text = pieces(parameter.type)
        default = parameter.default
        text += (f": {type_text}" if type_text else "") + ((" = " if type_text else "=") + default if default else "")
        parts.append(text)
        if kind == "positional-only" and "positional-only" not in kinds[index + 1 :]:
            parts.append("/")
    returns = pieces(signature.returns)
    return f"{page.name}({', '.join(parts)})" + (f" -> {returns}" if returns else "")


_FIELDS = (("What goes in", "parameters"), ("What comes out", "returns"), ("What comes out, one by one", "yields"),
           ("What can go wrong", "raises"), ("Attributes", "attributes"))  # fmt: skip
_SECTIONS = {"examples": "Examples", "notes": "Notes", "note": "Note", "warning": "Warning", "references": "Sources"}


def _print_fields(title: str, fields: list[Field], console: Console) -> None:
    if not fields:
        return
    console.print(Text(f"\n{title}", style="bold"))
    for field in fields:
        name, kind = pieces(field.name), pieces(field.type)
        head = [part for part in ((name, "bold"), (kind, "cyan")) if part[0]]
        print_indented(Text("  ").join(Text(*part) for part in head), 2, console)
        if text := plain(field.html):
            print_indented(Text(text), 6, console)


def _print_text(title: str, html: str, console: Console) -> None:
    console.print(Text(f"\n{title}", style="bold"))
    if html:
        print_indented(Text(plain(html)), 2, console)


def _print_symbol(page: SymbolPage, console: Console) -> None:
    _print_head(page, console)
    for html in (page.summary, page.body):
        if html:
            console.print(Text("\n" + plain(html)))
    if page.interface is not None:
        print_interface(page.interface, console)
    if page.data is not None:
        print_data(page.data, console)
    if page.example is not None:
        print_example(page.example, page.exercises, console)
    for title, key in _FIELDS:
        _print_fields(title, getattr(page, key), console)
    for section in page.sections:
        _print_text(_SECTIONS.get(section.kind, section.title or "Note"), section.html, console)
    print_examples(page.examples, page.navigation.project, console)
    _print_fields("See also", page.see, console)
    _print_changes(page, console)
    if page.data is None or page.data.table is None:
        _print_members(page.members, console)
    if page.referrers.total:
        where = ", ".join(page.referrers.projects)
        console.print(f"\n{count(page.referrers.total, 'referrer')} in {where}.")
    for finding in page.findings:
        style = "red" if finding.rule.startswith("dangling") else "yellow"
        console.print(Text(f"{finding.rule}  {finding.message}", style=style))
    if page.file:
        console.print(f"{page.file}, line {page.line}", style="dim")


def _print_head(page: SymbolPage, console: Console) -> None:
    place = page.navigation
    name = page.name if page.kind == "topic" else page.path
    console.print(Text(name, style="bold"), Text(f"{page.kind}, {place.project} {place.version}", style="dim"))
    for signature in page.signatures:
        console.print(Text("  " + signature_text(page, signature), style="cyan"))
    if (page.type or page.value) and not any(s.text for s in page.signatures):
        typed = ": ".join(filter(None, (page.name, pieces(page.type))))
        console.print(Text(f"  {typed}" + (f" = {page.value}" if page.value else "")))
    if page.deprecated:
        since = f" since {page.deprecated.since}" if page.deprecated.since else ""
        console.print(Text(f"Deprecated{since}. {plain(page.deprecated.html)}", style="yellow"))


def _print_changes(page: SymbolPage, console: Console) -> None:
    told = [f"Since {page.since}."] if page.since else []
    told += [f"{c.version}: {plain(c.html)}".strip() for c in page.changes]
    if told:
        _print_text("Changes", "", console)
        for line in told:
            print_indented(Text(line), 2, console)


def _print_members(members: list[Member], console: Console) -> None:
    if members:
        console.print(Text("\nMembers", style="bold"))
    for member in members:
        mark = Text("  deprecated." if member.deprecated else "", style="yellow")
        summary = plain(member.summary)
        console.print(Text.assemble("  ", (member.name, "bold"), "  ", summary, mark))
