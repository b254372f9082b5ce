"""A JSON or YAML document: its value, and the line of every part of it.

Pointers are tuples of keys and indexes from the root (RFC 6901 without the escapes).
"""

from __future__ import annotations

import re
from functools import cached_property
from pathlib import PurePosixPath
from typing import Any

import msgspec
import tree_sitter_json
from tree_sitter import Language, Parser

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.interfaces.yaml_parsing import MAX_DEPTH, Lines, read_yaml
from zarbek.core.sources.source_text import decode_text

Pointer = tuple[str | int, ...]
_LONG_LINE = 5000
_OFFSET = re.compile(r"\(byte (\d+)\)")


class Document:
    """file: where it comes from. value: what it holds. text: as written."""

    def __init__(self, file: str, text: str) -> None:
        """Raises UnreadableText with the line where reading it failed."""
        self.file, self.text = file, text
        self._yaml: Lines | None = None
        self.is_json = is_json(file, text)
        if self.is_json:
            self.value = _read_json(text)
        else:
            self.value, self._yaml = read_yaml(text)

    @cached_property
    def lines(self) -> list[str]:
        """The lines, to find words in; those too long to be read by people are empty."""
        return [line if len(line) <= _LONG_LINE else "" for line in self.text.split("\n")]

    def at(self, pointer: Pointer) -> Any:
        """What a pointer leads to; raises KeyError where there is nothing."""
        found = self.value
        for part in pointer:
            found = _step(found, part)
        return found

    def line(self, pointer: Pointer) -> int:
        """The line, from 1, of the key or item that a pointer leads to; of its nearest known part."""
        return self._json_places.line(pointer) if self._yaml is None else self._yaml_line(pointer)

    def _yaml_line(self, pointer: Pointer) -> int:
        found, line = self.value, 1
        for part in pointer:
            known = self._yaml.get(id(found)) if self._yaml is not None else None
            try:
                line = known[part] if known is not None else line
                found = found[part]
            except (KeyError, IndexError, TypeError):
                break
        return line

    @cached_property
    def _json_places(self) -> _JsonPlaces:
        return _JsonPlaces(self.text)


def _step(value: Any, part: str | int) -> Any:
    if isinstance(value, dict):
        return value[str(part)]
    if isinstance(value, list):
        try:
            return value[int(part)]
        except (ValueError, IndexError):
            raise KeyError(part) from None
    raise KeyError(part)


def is_json(file: str, text: str) -> bool:
    """Whether a file is JSON by its name, or by its text where the name does not tell; otherwise it is YAML."""
    suffix = PurePosixPath(file).suffix.lower()
    return suffix == ".json" or (suffix not in (".yaml", ".yml") and text.lstrip()[:1] in ("{", "["))


def _read_json(text: str) -> Any:
    data = text.encode("utf-8", errors="surrogatepass")
    try:
        return msgspec.json.decode(data)
    except msgspec.MsgspecError as error:
        match = _OFFSET.search(str(error))
        line = data.count(b"\n", 0, int(match[1])) + 1 if match else 1
        reason = str(error).replace("JSON is malformed: ", "").partition(" (byte")[0]
        raise UnreadableText(f"it is no JSON: {reason}", line) from error
    except RecursionError as error:
        raise UnreadableText(f"it nests deeper than {MAX_DEPTH} levels", 1) from error


class _JsonPlaces:
    """Lines of the parts of a JSON text, found when asked for: most parts never are."""

    def __init__(self, text: str) -> None:
        tree = Parser(Language(tree_sitter_json.language())).parse(text.encode("utf-8", errors="surrogatepass"))
        root = tree.root_node
        self._tree = tree
        self._known: dict[Pointer, tuple[Any, int]] = {(): (root.named_child(0) or root, 1)}
        self._opened: set[Pointer] = set()

    def line(self, pointer: Pointer) -> int:
        for end in range(len(pointer) + 1):
            head = pointer[:end]
            if head not in self._known:
                return self._known[pointer[: end - 1]][1]
            if end < len(pointer) and head not in self._opened:
                self._open(head)
        return self._known[pointer][1]

    def _open(self, pointer: Pointer) -> None:
        node = self._known[pointer][0]
        self._opened.add(pointer)
        if node.type == "object":
            for pair in node.named_children:
                if pair.type == "pair" and pair.named_child_count == 2:
                    key, value = pair.named_children
                    name = key.text.decode(errors="replace")[1:-1]
                    if "\\" in name:
                        name = _unescaped(name)
                    self._known[*pointer, name] = (value, pair.start_point[0] + 1)
        elif node.type == "array":
            for index, item in enumerate(node.named_children):
                self._known[*pointer, index] = (item, item.start_point[0] + 1)


def _unescaped(name: str) -> str:
    try:
        return msgspec.json.decode(f'"{name}"', type=str)
    except msgspec.MsgspecError:
        return name


def read_document(file: str, data: bytes) -> Document:
    """Raises UnreadableText."""
    return Document(file, decode_text(data))
