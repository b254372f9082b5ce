"""Descriptions of tables beside their SQL: our own form, ``*.model.yaml``, and others that a project says how to read.

Its JSON Schema is made from the types below. Source of the paths into other forms: RFC 9535 (JSONPath).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, NamedTuple

import jsonpath_rfc9535 as jsonpath
import msgspec

from zarbek.core.errors import UnreadableText
from zarbek.core.model.datamodel import Check, Feed
from zarbek.core.sources.datamodels.settings import DescriptionPaths
from zarbek.core.sources.interfaces.documents import Document, Pointer

#: How msgspec tells of a key that is no part of a form.
_UNKNOWN = re.compile(r"unknown field `(.+?)`")
Words = str | int | float | bool
MAX_DESCRIBED = 20_000


class CheckForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A condition that every row fulfils, as an expression of SQL or in words."""

    text: str
    name: str = ""
    columns: list[str] = []


class FeedForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where rows come from that no query makes. address: an api: reference, or a URL."""

    name: str = ""
    text: str = ""
    address: str = ""


class ColumnForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True, rename={"feeds": "from"}):
    """A column. deprecated: true, or what to use in its place. feeds: columns (TABLE.COLUMN) or api: references that
    its values come from."""

    description: str = ""
    type: str = ""
    required: bool | None = None
    checks: list[str | CheckForm] = []
    tags: list[str] = []
    meta: dict[str, Words] = {}
    deprecated: bool | str = False
    feeds: list[str] = []


class TableForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True, rename={"feeds": "from"}):
    """A table. row: what one row is. deprecated: true, or what to use in its place."""

    description: str = ""
    row: str = ""
    owner: str = ""
    tags: list[str] = []
    meta: dict[str, Words] = {}
    deprecated: bool | str = False
    checks: list[str | CheckForm] = []
    columns: dict[str, str | ColumnForm] = {}
    feeds: list[str | FeedForm] = []


class ModelForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A file of descriptions. tables: by name, with database or schema where that is not the project's own. blocks:
    texts that descriptions use by name, as {block NAME}."""

    tables: dict[str, TableForm] = {}
    blocks: dict[str, str] = {}


class DescribedColumn(NamedTuple):
    """What a description says of a column, and where its text begins."""

    name: str
    form: ColumnForm
    line: int


class DescribedTable(NamedTuple):
    """What a description says of a table, and where its text begins."""

    name: str
    form: TableForm
    columns: list[DescribedColumn]
    line: int


class Descriptions(NamedTuple):
    """A file of descriptions. blocks: name to text and line."""

    file: str
    tables: list[DescribedTable]
    blocks: dict[str, tuple[str, int]]


def read_descriptions(document: Document) -> Descriptions:
    """A file in our own form. Raises UnreadableText, with the line: what is no part of the form."""
    form = _checked(document)
    tables = [
        DescribedTable(
            name, table,
            [DescribedColumn(c, _column(given), _text_line(document, ("tables", name, "columns", c), given))
             for c, given in table.columns.items()],
            _text_line(document, ("tables", name), table),
        )
        for name, table in form.tables.items()
    ]  # fmt: skip
    blocks = {name: (text, document.line(("blocks", name)) + 1) for name, text in form.blocks.items()}
    return Descriptions(document.file, tables, blocks)


def _checked(document: Document) -> ModelForm:
    """The form of a whole file; each table and column is looked at by itself, for only so the place of what is wrong
    with it is known."""
    raw = document.value if isinstance(document.value, dict) else {"tables": document.value}
    whole = _convert({**raw, "tables": {}} if isinstance(raw.get("tables", {}), dict) else raw, ModelForm, document, ())
    tables: dict[str, TableForm] = {}
    for name, held in raw.get("tables", {}).items():
        at: Pointer = ("tables", name)
        given = held if isinstance(held, dict) else {}
        inner = given.get("columns", {})
        apart = {**given, "columns": {}} if isinstance(inner, dict) else given
        table = _convert(held if not isinstance(held, dict) else apart, TableForm, document, at)
        columns = {
            called: _convert(said, str | ColumnForm, document, (*at, "columns", called))
            for called, said in (inner.items() if isinstance(inner, dict) else ())
        }  # fmt: skip
        tables[name] = msgspec.structs.replace(table, columns=columns)
    return ModelForm(tables, whole.blocks)


def _convert(value: Any, form: Any, document: Document, at: Pointer) -> Any:
    try:
        return msgspec.convert(value, form)
    except msgspec.ValidationError as error:
        message, _, where = str(error).partition(" - at ")
        inner = [part for part in where.strip("`$.").split("[")[0].split(".") if part]
        unknown = _UNKNOWN.search(message)
        pointer = (*at, *inner, *([unknown[1]] if unknown else []))
        told = ".".join(map(str, (*at, *inner))) or "the file"
        raise UnreadableText(f"{told}: {message}", document.line(pointer)) from error


def _text_line(document: Document, pointer: Pointer, given: Any) -> int:
    is_text = isinstance(given, str)
    at = document.line(pointer if is_text or not given.description else (*pointer, "description"))
    written = document.lines[at - 1] if at <= len(document.lines) else ""
    return at + 1 if written.rstrip().endswith(("|", ">", "|-", ">-", "|+", ">+")) else at


def _column(given: str | ColumnForm) -> ColumnForm:
    return ColumnForm(description=given) if isinstance(given, str) else given


def checks_of(given: list[str | CheckForm], column: str = "") -> list[Check]:
    """Checks as the model has them. column: that under which they stand."""
    return [
        Check(c, columns=[column] if column else []) if isinstance(c, str)
        else Check(c.text, c.name, c.columns or ([column] if column else []))
        for c in given
    ]  # fmt: skip


def feeds_of(given: list[str | FeedForm]) -> list[Feed]:
    """Where rows come from, as the model has it; a text alone is an address, or a name."""
    found = []
    for feed in given:
        if isinstance(feed, FeedForm):
            found.append(Feed(feed.name or feed.address, feed.text, feed.address))
        else:
            found.append(Feed(feed, address=feed if ":" in feed else ""))
    return found


def read_described(document: Document, paths: DescriptionPaths) -> Descriptions:
    """A file of another form. Raises UnreadableText: a path that is no JSONPath, or what is no text in its place."""
    tables: list[DescribedTable] = []
    for key, table, pointer in _found(paths.tables, document.value):
        name = _one(paths.name, table, key)
        if not name:
            continue
        columns = []
        for inner_key, column, at in _found(paths.columns, table):
            called = _one(paths.column_name, column, inner_key)
            if called:
                form = ColumnForm(
                    _one(paths.column_description, column, ""), _one(paths.column_type, column, ""),
                    checks=list(_texts(paths.column_checks, column)), tags=list(_texts(paths.column_tags, column)),
                )  # fmt: skip
                columns.append(DescribedColumn(called, form, document.line((*pointer, *at))))
        described = TableForm(
            _one(paths.description, table, ""), _one(paths.row, table, ""), _one(paths.owner, table, ""),
            list(_texts(paths.tags, table)), checks=list(_texts(paths.checks, table)),
            feeds=list(_texts(paths.feeds, table)),
        )  # fmt: skip
        tables.append(DescribedTable(name, described, columns, document.line(pointer)))
        if len(tables) > MAX_DESCRIBED:
            raise UnreadableText(f"it describes more than {MAX_DESCRIBED:,} tables", 1)
    return Descriptions(document.file, tables, {})


def _found(path: str, value: Any) -> Iterator[tuple[str, Any, Pointer]]:
    """What a path leads to, each with its key and its place."""
    try:
        nodes = jsonpath.find(path, value) if path else []
        for node in nodes:
            location = tuple(node.location)
            yield str(location[-1]) if location else "", node.value, location
    except (jsonpath.JSONPathError, RecursionError) as error:
        raise UnreadableText(f"{path} cannot be looked for: {error}", 1) from error


def _texts(path: str, value: Any) -> Iterator[str]:
    for key, found, _ in _found(path, value):
        held = found if isinstance(found, list) else [found]
        for item in held:
            if isinstance(item, dict):  # A check with settings is named by its key.
                yield next(iter(item), key)
            elif item is not None:
                yield str(item)


def _one(path: str, value: Any, key: str) -> str:
    if path == "key":
        return key
    return next((str(found) for _, found, _ in _found(path, value) if isinstance(found, Words)), "")
