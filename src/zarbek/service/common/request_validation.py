"""What comes in is of the form, length, characters and range that the API's description says, before
anything is done with it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

import msgspec
from rest_framework.parsers import BaseParser

from zarbek.service.common.problems import NotFound, Problem

#: Of a text that nothing narrower is said of, and of a number in a database.
MAX_TEXT = 1000
MAX_NUMBER = 2**63 - 1
MAX_DEPTH = 100
#: What no text of ours may hold: control characters but tab and line ends, halves of characters, and
#: what Unicode has set apart as no characters (section 23.7).
_UNFIT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff]")
_NUMBER = re.compile(r"[0-9]{1,19}")


def check_text(name: str, value: str, most: int = MAX_TEXT, pattern: str = "") -> None:
    """Raises Problem for a text that is too long, or holds what it may not."""
    if len(value) > most:
        raise Problem(f"{name} has {len(value)} characters; at most {most} are taken.")
    if _UNFIT.search(value):
        raise Problem(f"{name} holds a character that is none of a text.")
    if pattern and not re.fullmatch(pattern, value):
        raise Problem(f"{name} is not of the form {pattern}.")


def read_number(name: str, raw: str, least: int, most: int) -> int:
    """A number in decimal digits of ASCII. Raises Problem for anything else."""
    if not _NUMBER.fullmatch(raw) or not least <= int(raw) <= most:
        raise Problem(f"{name} must be a number from {least} to {most}, not {raw[:40]!r}.")
    return int(raw)


def check_path(values: Mapping[str, Any]) -> None:
    """The parts of an address. Raises NotFound for a number that no row has, Problem for an unfit text."""
    for name, value in values.items():
        if isinstance(value, int) and value > MAX_NUMBER:
            raise NotFound(f"There is nothing under the number {str(value)[:40]}.")
        if isinstance(value, str):
            check_text(name, value)


def check_query(given: Iterable[tuple[str, list[str]]], described: Mapping[str, Any]) -> None:
    """Every parameter of a query, those that are not described too. Raises Problem.

    described: name to the Parameter of the operation.
    """
    for name, values in given:
        check_text("The name of a parameter", name, 100)
        parameter = described.get(name)
        for value in values:
            if parameter is None:
                check_text(name, value)
            elif parameter.type == "integer" and value:
                read_number(name, value, parameter.least, parameter.most_number)
            else:
                check_text(name, value, parameter.most, parameter.pattern if value else "")


class StrictJson(BaseParser):
    """JSON (RFC 8259) as it is written: no halves of characters, no depth without end, no text that
    cannot be kept."""

    media_type = "application/json"

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """The body as JSON (RFC 8259). Raises Problem with the place of what is wrong."""
        raw = stream.read()
        try:
            value = msgspec.json.decode(raw)
        except RecursionError as error:
            raise Problem("The body is nested too deeply.") from error
        except (msgspec.DecodeError, UnicodeDecodeError) as error:
            raise Problem(f"The body is no JSON: {error}") from error
        _check_value(value, 0)
        return value


def _check_value(value: Any, depth: int) -> None:
    if depth > MAX_DEPTH:
        raise Problem("The body is nested too deeply.")
    if isinstance(value, str):
        if _UNFIT.search(value):
            raise Problem("The body holds a character that is none of a text.")
    elif isinstance(value, int) and not -MAX_NUMBER <= value <= MAX_NUMBER:
        raise Problem("The body holds a number that is out of all bounds.")
    elif isinstance(value, dict):
        for key, inner in value.items():
            _check_value(key, depth + 1)
            _check_value(inner, depth + 1)
    elif isinstance(value, list):
        for inner in value:
            _check_value(inner, depth + 1)
