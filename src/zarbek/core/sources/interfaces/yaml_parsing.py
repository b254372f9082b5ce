"""YAML to plain values with the lines of all keys and items.

The core schema of YAML 1.2.2 (section 10.3), as interface descriptions are written in: ``yes`` and
``on`` are text, dates are text. Keys are text. One pass over the parser's events, so that lines cost
nothing more, and nothing in a document can name a type to be made.
"""

from __future__ import annotations

import re
from typing import Any

import yaml

from zarbek.core.errors import UnreadableText

#: Values after aliases are followed; a small file that grows beyond is an attack.
MAX_VALUES = 5_000_000
MAX_DEPTH = 200
_NULL = frozenset(("", "~", "null", "Null", "NULL"))
_TRUE = frozenset(("true", "True", "TRUE"))
_FALSE = frozenset(("false", "False", "FALSE"))
_INT = re.compile(r"[-+]?[0-9]+\Z")
_OTHER_INT = re.compile(r"0o[0-7]+\Z|0x[0-9a-fA-F]+\Z")
_FLOAT = re.compile(r"[-+]?(\.[0-9]+|[0-9]+(\.[0-9]*)?)([eE][-+]?[0-9]+)?\Z")
_NUMERIC = frozenset("0123456789+-.")
#: libyaml where it is there; only its events are used, nothing of it makes objects.
_PARSER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


class Lines(dict[int, Any]):
    """Identity of a mapping or sequence to the lines (from 1) of its keys or items."""


def read_yaml(text: str) -> tuple[Any, Lines]:
    """Raises UnreadableText with the line: bad syntax, an unknown alias, too deep, too much."""
    builder = _Builder(text)
    try:
        return builder.read(), builder.lines
    except yaml.YAMLError as error:
        mark = getattr(error, "problem_mark", None)
        problem = getattr(error, "problem", "") or str(error)
        raise UnreadableText(f"it is no YAML: {problem}", mark.line + 1 if mark else 1) from error


class _Builder:
    def __init__(self, text: str) -> None:
        self.next = _PARSER(text).get_event
        self.lines = Lines()
        self.anchors: dict[str, tuple[Any, int]] = {}
        self.count = 0

    def read(self) -> Any:
        """The first document; None for an empty stream."""
        event = self.next()
        while not isinstance(event, yaml.DocumentStartEvent):
            if isinstance(event, yaml.StreamEndEvent):
                return None
            event = self.next()
        return self.value(self.next(), 0)

    def value(self, event: Any, depth: int) -> Any:
        kind = type(event)
        if kind is yaml.ScalarEvent:
            self.grow(1, event)
            found = _scalar(event)
            if event.anchor:
                self.anchors[event.anchor] = (found, 1)
            return found
        if depth > MAX_DEPTH:
            raise UnreadableText(f"it nests deeper than {MAX_DEPTH} levels", event.start_mark.line + 1)
        if kind is yaml.AliasEvent:
            return self.alias(event)
        before = self.count
        self.grow(1, event)
        made = self.mapping(depth) if kind is yaml.MappingStartEvent else self.sequence(depth)
        if event.anchor:
            self.anchors[event.anchor] = (made, self.count - before)
        return made

    def grow(self, by: int, event: Any) -> None:
        self.count += by
        if self.count > MAX_VALUES:
            raise UnreadableText(
                f"its aliases multiply it to more than {MAX_VALUES:,} values", event.start_mark.line + 1
            )

    def alias(self, event: Any) -> Any:
        known = self.anchors.get(event.anchor)
        if known is None:
            line = event.start_mark.line + 1
            raise UnreadableText(f"*{event.anchor} stands for nothing, or for what it is in", line)
        self.grow(known[1], event)
        return known[0]

    def mapping(self, depth: int) -> dict[str, Any]:
        made: dict[str, Any] = {}
        lines: dict[str, int] = {}
        merged: list[Any] = []
        while type(event := self.next()) is not yaml.MappingEndEvent:
            if type(event) is yaml.ScalarEvent:
                key = event.value
                self.count += 1
            else:
                key = str(self.value(event, depth + 1))
            line = event.start_mark.line + 1
            value = self.value(self.next(), depth + 1)
            if key == "<<" and isinstance(value, (dict, list)):
                merged.append(value)
                continue
            if key in made:
                raise UnreadableText(f"{key} stands twice in one mapping", line)
            made[key] = value
            lines[key] = line
        for value in merged:
            self.merge(made, lines, value)
        self.lines[id(made)] = lines
        return made

    def merge(self, made: dict[str, Any], lines: dict[str, int], value: Any) -> None:
        """The merge key of YAML 1.1, which many files use."""
        for other in value if isinstance(value, list) else [value]:
            if isinstance(other, dict):
                for key, inner in other.items():
                    if key not in made:
                        made[key] = inner
                        lines[key] = self.lines[id(other)].get(key, 1)

    def sequence(self, depth: int) -> list[Any]:
        made: list[Any] = []
        lines: list[int] = []
        while type(event := self.next()) is not yaml.SequenceEndEvent:
            lines.append(event.start_mark.line + 1)
            made.append(self.value(event, depth + 1))
        self.lines[id(made)] = lines
        return made


def _scalar(event: Any) -> Any:
    text: str = event.value
    if event.tag and event.tag != "!":
        return _tagged(text, event.tag)
    if event.style in ("'", '"', "|", ">") or not event.implicit[0]:
        return text
    if text[:1] in _NUMERIC:
        if _INT.match(text):
            return int(text) if len(text) < 400 else text
        if _FLOAT.match(text):
            return float(text)
        if _OTHER_INT.match(text):
            return int(text, 0)
    if text in _TRUE:
        return True
    if text in _FALSE:
        return False
    return None if text in _NULL else text


def _tagged(text: str, tag: str) -> Any:
    """Tags of the core schema; all others leave the text as it is."""
    try:
        if tag == "tag:yaml.org,2002:int":
            return int(text, 0)
        if tag == "tag:yaml.org,2002:float":
            return float(text)
    except ValueError:
        return text
    if tag == "tag:yaml.org,2002:bool":
        return text.lower() == "true"
    return None if tag == "tag:yaml.org,2002:null" else text
