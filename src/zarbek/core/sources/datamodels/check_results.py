"""How checks went when they were looked at last: our own form, and the JUnit form that test runners write."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

import msgspec
from msgspec.structs import replace

from zarbek.core.errors import UnreadableText
from zarbek.core.model.datamodel import Check
from zarbek.core.model.finding import Finding
from zarbek.core.sources.datamodels.catalog import Catalog, TableDraft
from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.junit import read_cases

Verdict = Literal["passed", "failed", "skipped"]
MAX_RESULTS = 100_000
#: In characters: of what was said of a check.
_MAX_TOLD = 300


class ResultForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How a check went. check: its name, or its text. told: what was found."""

    table: str
    check: str
    verdict: Verdict
    told: str = ""
    looked_at: str = ""


class ResultsForm(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A file of results. looked_at: when (ISO 8601), of those that do not say so themselves."""

    results: list[ResultForm]
    looked_at: str = ""


@dataclass(frozen=True, slots=True)
class CheckResult:
    """One of them, and the line of its file, 0 where that is not known. table: empty where it is not said."""

    table: str
    check: str
    verdict: Verdict
    told: str
    looked_at: str
    line: int


def read_results(text: str, file: str) -> list[CheckResult]:
    """The results of a file. Raises UnreadableText: for one of neither form, or of more than anybody has."""
    found = list(_from_junit(text) if text.lstrip("\ufeff \t\r\n").startswith("<") else _from_own(text, file))
    if len(found) > MAX_RESULTS:
        raise UnreadableText(f"it has more than {MAX_RESULTS:,} results", 1)
    return found


def _from_own(text: str, file: str) -> Iterator[CheckResult]:
    document = Document(file, text)
    try:
        form = msgspec.convert(document.value, ResultsForm)
    except msgspec.ValidationError as error:
        raise UnreadableText(f"as results of checks: {error}", 1) from error
    for number, each in enumerate(form.results):
        yield CheckResult(
            each.table, each.check, each.verdict, each.told[:_MAX_TOLD], (each.looked_at or form.looked_at)[:_MAX_TOLD],
            document.line(("results", number)),
        )  # fmt: skip


def _from_junit(text: str) -> Iterator[CheckResult]:
    for case in read_cases(text, "results of checks"):
        told = case.told if case.state == "failed" else ""
        yield CheckResult(case.group, case.name, case.state, told, case.at, 0)


class Results:
    """Results given to the checks of a model."""

    def __init__(self, catalog: Catalog) -> None:
        self._catalog = catalog
        self._owners: dict[str, list[TableDraft]] = {}
        for table in catalog:
            for check in _all_of(table):
                for name in {check.name, check.text} - {""}:
                    self._owners.setdefault(_plain(name), []).append(table)

    def add(self, results: Iterable[CheckResult], file: str) -> Iterator[Finding]:
        """Keep each with its check; one that is of no check here is a finding."""
        for result in results:
            table = self._table_of(result)
            if table is None or not _give(table, result):
                where = f" of {result.table}" if result.table else ""
                yield Finding(
                    "stale/result", "note", table.path if table is not None else self._home,
                    f"The result is of the check {result.check}{where}, which is not here.", file=file,
                    line=result.line, text=result.check,
                )  # fmt: skip

    @property
    def _home(self) -> str:
        return ".".join(self._catalog.home)

    def _table_of(self, result: CheckResult) -> TableDraft | None:
        """The table that is named, as TABLE or TABLE.COLUMN; else the only one with such a check."""
        parts = result.table.split(".")
        named = self._catalog.find(self._catalog.placed(parts))
        if named is None and len(parts) > 1:
            named = self._catalog.find(self._catalog.placed(parts[:-1]))
        if named is not None:
            return named
        owners = {table.path: table for table in self._owners.get(_plain(result.check), ())}
        return next(iter(owners.values())) if len(owners) == 1 else None


def _all_of(table: TableDraft) -> list[Check]:
    return [*table.checks, *(check for column in table.columns.values() for check in column.checks)]


def _plain(text: str) -> str:
    return " ".join(text.split()).casefold()


def _give(table: TableDraft, result: CheckResult) -> bool:
    """Whether the table has such a check."""
    before = _all_of(table)
    table.checks = [_with(check, result) for check in table.checks]
    for column in table.columns.values():
        column.checks = [_with(check, result) for check in column.checks]
    return any(_is_of(result, check) for check in before)


def _with(check: Check, result: CheckResult) -> Check:
    if not _is_of(result, check):
        return check
    return replace(check, verdict=result.verdict, looked_at=result.looked_at, told=result.told)


def _is_of(result: CheckResult, check: Check) -> bool:
    return _plain(result.check) in {_plain(check.name) or None, _plain(check.text)}
