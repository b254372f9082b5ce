"""Operations and schemas as text for a terminal."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from html import unescape
from typing import Any

from rich.console import Console
from rich.text import Text

from zarbek.client.values.interfaces import Answer, Example, Interface, Media, Operation, Row, Service, Slot
from zarbek.client.values.pieces import Piece

_TAG = re.compile(r"<[^>]+>")
_PLACES = {"path": "In the path", "query": "In the query", "header": "Headers", "cookie": "Cookies"}


def plain(html: str) -> str:
    """The words of a page's HTML."""
    text = re.sub(r"</(p|li|h\d|pre|tr)>", "\n", html)
    return re.sub(r"\n{3,}", "\n\n", unescape(_TAG.sub("", text))).strip()


def pieces(found: Iterable[Piece]) -> str:
    """A type or declaration as plain text."""
    return "".join(piece.text for piece in found)


def print_interface(view: Interface, console: Console) -> None:
    """What an interface description says of a symbol, after its text."""
    for key, show in _SECTIONS.items():
        if part := getattr(view, key):
            show(part, console)
    for example in view.examples:
        _example(example, console)


def _title(text: str, console: Console) -> None:
    console.print(Text(f"\n{text}", style="bold"))


def _operation(operation: Operation, console: Console) -> None:
    for needs in operation.security or []:
        console.print(Text("  " + " and ".join(n.words for n in needs), style="dim"))
    slots = operation.parameters
    for place, title in _PLACES.items():
        own = [s for s in slots if s.place == place]
        if own:
            _title(title, console)
            for slot in own:
                _slot(slot, console)
    if operation.body:
        _title("Body", console)
        _media(operation.body.media, console)
    for answer in operation.answers:
        _answer(answer, console)


def _slot(slot: Slot, console: Console) -> None:
    told = ["must be given"] if slot.required else []
    told += slot.words
    said = plain(slot.html)
    console.print(
        Text.assemble(
            "  ",
            (slot.name, "bold"),
            "  ",
            pieces(slot.type),
            (f"  {', '.join(told)}" if told else "", "dim"),
            f"  {said}" if said else "",
        )
    )


def _answer(answer: Answer, console: Console) -> None:
    _title(f"{answer.status} {answer.words}".strip(), console)
    if answer.html:
        console.print(Text("  " + plain(answer.html)))
    for header in answer.headers:
        _slot(header, console)
    _media(answer.media, console)


def _media(media: list[Media], console: Console) -> None:
    for entry in media:
        console.print(Text("  " + (entry.name or entry.type), style="dim"))
        _rows(entry.rows, console)
        for example in entry.examples[:1]:
            _example(example, console)


def _rows(rows: list[Row], console: Console) -> None:
    for row in rows:
        told = ["must be there"] if row.required else []
        told += row.words
        console.print(Text.assemble(
            "  " * (row.depth + 1), (row.name or row.label or "", "bold"), "  ", pieces(row.type),
            (f"  {', '.join(told)}" if told else "", "dim"),
        ))  # fmt: skip


def _example(example: Example, console: Console) -> None:
    word = "Example, made from the schema" if example.made else "Example"
    console.print(Text(f"\n  {word}", style="dim"))
    console.print(Text("\n".join("    " + line for line in example.raw.split("\n"))))
    for fault in example.faults:
        console.print(Text(f"  It does not fit: {fault}", style="yellow"))


def _schema(rows: list[Row], console: Console) -> None:
    _title("What it holds", console)
    _rows(rows, console)


def _service(service: Service, console: Console) -> None:
    for group in service.groups:
        _title(group.name or "Operations", console)
        for operation in group.operations:
            console.print(Text.assemble("  ", (operation.kind, "bold"), "  ", plain(operation.text)))


_SECTIONS: dict[str, Callable[[Any, Console], None]] = {"operation": _operation, "rows": _schema, "service": _service}
