"""Operations and schemas as text for a terminal."""

from __future__ import annotations

import re
from collections.abc import Callable
from html import unescape
from typing import Any

from rich.console import Console
from rich.text import Text

_TAG = re.compile(r"<[^>]+>")
_PLACES = {"path": "In the path", "query": "In the query", "header": "Headers", "cookie": "Cookies"}


def plain(html: str) -> str:
    """The words of a page's HTML."""
    text = re.sub(r"</(p|li|h\d|pre|tr)>", "\n", html)
    return re.sub(r"\n{3,}", "\n\n", unescape(_TAG.sub("", text))).strip()


def pieces(found: list[dict[str, Any]]) -> str:
    return "".join(piece["text"] for piece in found)


def print_interface(view: dict[str, Any], console: Console) -> None:
    """What an interface description says of a symbol, after its text."""
    for key, show in _SECTIONS.items():
        if view.get(key):
            show(view[key], console)
    for example in view.get("examples") or []:
        _example(example, console)


def _title(text: str, console: Console) -> None:
    console.print(Text(f"\n{text}", style="bold"))


def _operation(operation: dict[str, Any], console: Console) -> None:
    for needs in operation.get("security") or []:
        console.print(Text("  " + " and ".join(n["words"] for n in needs), style="dim"))
    slots = operation.get("parameters") or []
    for place, title in _PLACES.items():
        own = [s for s in slots if s["place"] == place]
        if own:
            _title(title, console)
            for slot in own:
                _slot(slot, console)
    if operation.get("body"):
        _title("Body", console)
        _media(operation["body"].get("media") or [], console)
    for answer in operation.get("answers") or []:
        _answer(answer, console)


def _slot(slot: dict[str, Any], console: Console) -> None:
    told = ["must be given"] if slot.get("required") else []
    told += slot.get("words") or []
    said = plain(slot.get("html", ""))
    console.print(
        Text.assemble(
            "  ",
            (slot["name"], "bold"),
            "  ",
            pieces(slot["type"]),
            (f"  {', '.join(told)}" if told else "", "dim"),
            f"  {said}" if said else "",
        )
    )


def _answer(answer: dict[str, Any], console: Console) -> None:
    _title(f"{answer['status']} {answer.get('words', '')}".strip(), console)
    if answer.get("html"):
        console.print(Text("  " + plain(answer["html"])))
    for header in answer.get("headers") or []:
        _slot(header, console)
    _media(answer.get("media") or [], console)


def _media(media: list[dict[str, Any]], console: Console) -> None:
    for entry in media:
        console.print(Text("  " + (entry.get("name") or entry["type"]), style="dim"))
        _rows(entry["rows"], console)
        for example in entry["examples"][:1]:
            _example(example, console)


def _rows(rows: list[dict[str, Any]], console: Console) -> None:
    for row in rows:
        told = ["must be there"] if row.get("required") else []
        told += row.get("words") or []
        console.print(Text.assemble(
            "  " * (row["depth"] + 1), (row.get("name") or row.get("label") or "", "bold"), "  ", pieces(row["type"]),
            (f"  {', '.join(told)}" if told else "", "dim"),
        ))  # fmt: skip


def _example(example: dict[str, Any], console: Console) -> None:
    word = "Example, made from the schema" if example.get("made") else "Example"
    console.print(Text(f"\n  {word}", style="dim"))
    console.print(Text("\n".join("    " + line for line in example["raw"].split("\n"))))
    for fault in example.get("faults") or []:
        console.print(Text(f"  It does not fit: {fault}", style="yellow"))


def _schema(rows: list[dict[str, Any]], console: Console) -> None:
    _title("What it holds", console)
    _rows(rows, console)


def _service(service: dict[str, Any], console: Console) -> None:
    for group in service.get("groups") or []:
        _title(group["name"] or "Operations", console)
        for operation in group.get("operations") or []:
            console.print(
                Text.assemble("  ", (operation.get("kind", ""), "bold"), "  ", plain(operation.get("text", "")))
            )


_SECTIONS: dict[str, Callable[[Any, Console], None]] = {"operation": _operation, "rows": _schema, "service": _service}
