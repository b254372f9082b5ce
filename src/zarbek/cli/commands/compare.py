"""``zarbek compare``"""

from __future__ import annotations

import argparse
from typing import TextIO

import msgspec
from rich.console import Console
from rich.text import Text

from zarbek.cli.exits import Exit
from zarbek.cli.json_output import write_json
from zarbek.cli.remote import add_portal_arguments, open_portal
from zarbek.cli.terminal import console_for, print_indented, titled
from zarbek.client.values.changes import Change, Comparison, PageChange, PageWords
from zarbek.core.findings.formats.wording import count

EXAMPLE = "zarbek compare tidebook 1.1.0 2.0.0"
_PAGE_TITLES = {
    "removed": "Pages gone", "moved": "Pages moved", "text": "Pages that say something else",
    "places": "Pages with other places", "added": "New pages",
}  # fmt: skip
#: So many places of a page are named.
_PLACES = 8
_TITLES = {
    "removed": "Removed", "moved": "Moved", "signature": "Changed", "deprecated": "Deprecated", "added": "New",
    "text": "Says something else",
}  # fmt: skip


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """Add what the verb understands."""
    parser.add_argument("project", help="the project's slug")
    parser.add_argument("old", nargs="?", default="", help="a version; the release before the newer one if left out")
    parser.add_argument("new", nargs="?", default="", help="a version; latest if left out")
    parser.add_argument("--page", metavar="PATH", default="", help="what this page says differently, word by word")
    parser.add_argument("--breaking", action="store_true", help="only what breaks callers")
    parser.add_argument("--fail-on-break", action="store_true", help="end with exit code 1 if a number hides a break")
    add_portal_arguments(parser)


def run(options: argparse.Namespace, out: TextIO) -> Exit:
    """Print what changed between two releases. FINDINGS where a number hides a break and --fail-on-break is given."""
    if options.page:
        return _run_page(options, out)
    with open_portal(options) as portal:
        found = portal.compare(options.project, options.old, options.new)
    shown = [c for c in found.changes if c.breaks] if options.breaking else found.changes
    if options.json:
        write_json(msgspec.structs.replace(found, changes=shown), out)
    else:
        print_comparison(found, shown, console_for(out))
    return Exit.FINDINGS if options.fail_on_break and found.hides_break else Exit.FINE


def _run_page(options: argparse.Namespace, out: TextIO) -> Exit:
    with open_portal(options) as portal:
        found = portal.compare_page(options.project, options.page, options.old, options.new)
    if options.json:
        write_json(found, out)
    else:
        print_words(found, console_for(out))
    return Exit.FINE


def print_comparison(found: Comparison, shown: list[Change], console: Console) -> None:
    """shown: those of the changes that are listed; all are counted."""
    console.print(titled(found.project, f" {found.old} to {found.new}"))
    console.print(summary_of(found))
    for kind, title in _TITLES.items():
        changes = [c for c in shown if c.kind == kind]
        if changes:
            console.print(titled(f"\n{title}"))
        for change in changes:
            _print_change(change, console)
    for kind, title in _PAGE_TITLES.items() if shown is found.changes else ():
        pages = [page for page in found.pages if page.kind == kind]
        if pages:
            console.print(titled(f"\n{title}"))
        for page in pages:
            _print_page(page, console)


_SIGNS = {"same": ("", ""), "gone": ("(was: ", ")"), "come": ("(now: ", ")")}
_COLOURS = {"same": "dim", "gone": "red", "come": "green"}


def print_words(found: PageWords, console: Console) -> None:
    """What a page says differently: ``(was: gone)``, ``(now: new)``, so that it can be told without colours, too."""
    console.print(titled(found.page, f" {found.old} to {found.new}"))
    if not found.sections:
        console.print("It says the same.")
    for section in found.sections:
        word = {"removed": " (gone)", "added": " (new)"}.get(section.kind, "")
        console.print(titled(f"\n{section.title or found.page}", word))
        told = (
            (before + p.text + after, _COLOURS[p.sign]) for p in section.passages for before, after in [_SIGNS[p.sign]]
        )
        print_indented(Text(" ").join(Text(*each) for each in told), 2, console)
    if found.more:
        console.print("\nMore sections differ; the console shows both pages.")


def summary_of(found: Comparison) -> str:
    """``12 changes, 3 of them breaking. They ask for 2.0.0; the number says otherwise.``"""
    total, breaking = len(found.changes), found.counts.get("breaking", 0)
    pages = (
        f"{count(len(found.pages), 'page')} {'differs' if len(found.pages) == 1 else 'differ'}." if found.pages else ""
    )
    if not total:
        return pages or "Nothing that a reader sees has changed."
    told = f"{count(total, 'change')}, {breaking or 'none'} of them breaking."
    if found.suggested:
        told += f" By Semantic Versioning the next number is {found.suggested}"
        told += f"; {found.new} hides the break." if found.hides_break else "."
    return f"{told} {pages}".strip()


def _print_page(page: PageChange, console: Console) -> None:
    name = f"{page.was} → {page.path}" if page.was else page.path
    console.print(Text.assemble("          ", (name, "bold"), f"  {page.title}"))
    for places, word in ((page.gone, "gone"), (page.come, "new")):
        if places:
            more = f" and {len(places) - _PLACES} more" if len(places) > _PLACES else ""
            print_indented(Text(f"{word}: {', '.join(places[:_PLACES])}{more}", "dim"), 10, console)


def _print_change(change: Change, console: Console) -> None:
    mark = ("  breaks  ", "red") if change.breaks else ("          ", "")
    name = f"{change.was} → {change.path}" if change.was else change.path
    console.print(Text.assemble(mark, (name, "bold"), f"  {change.symbol_kind}"))
    if change.kind == "moved":
        sure = "" if change.certain else "likely: "
        print_indented(Text(f"{sure}{change.why}", "dim"), 10, console)
    if change.kind == "signature" and change.before != change.after:
        print_indented(Text.assemble(("was ", "dim"), change.before), 10, console)
        print_indented(Text.assemble(("now ", "dim"), change.after), 10, console)
    for detail in change.details:
        shown = f" ({detail.before} → {detail.after})" if detail.before and detail.after else ""
        text = detail.text + (shown if detail.kind not in ("text",) else "")
        print_indented(Text(text, "red" if detail.breaks else ""), 10, console)
