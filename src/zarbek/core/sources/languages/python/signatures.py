"""Signatures and expressions of Python, as source text. Source: Python 3.11 reference, 8.7."""

from __future__ import annotations

import ast
import re

from zarbek.core.model.symbol import Parameter, Signature

_SPACE = re.compile(r"(?<!\s)\s*\n\s*")
MAX_VALUE_CHARS = 300


class SourceText:
    """Source text of nodes; ast counts columns in UTF-8 bytes."""

    def __init__(self, source: str) -> None:
        self._source = source
        self.lines = source.split("\n")
        self._ascii = source.isascii()

    def has_once(self, word: str) -> bool:
        """Whether a word stands in the text, and nowhere again."""
        found = 0
        at = self._source.find(word) if word else -1
        while at >= 0 and found < 2:
            end = at + len(word)
            found += not (_is_of_word(self._source[at - 1 : at]) or _is_of_word(self._source[end : end + 1]))
            at = self._source.find(word, end)
        return found == 1

    def of(self, node: ast.expr) -> str:
        """The node's text on one line."""
        kind = type(node)
        if kind is ast.Name:
            return str(node.id)  # type: ignore[attr-defined]
        start, end = node.lineno - 1, (node.end_lineno or node.lineno) - 1
        if start == end:
            return self._cut(start, node.col_offset, node.end_col_offset)
        parts = [
            self._cut(start, node.col_offset, None),
            *self.lines[start + 1 : end],
            self._cut(end, 0, node.end_col_offset),
        ]
        return _SPACE.sub(" ", "\n".join(parts)).replace("[ ", "[").replace("( ", "(")

    def _cut(self, line: int, start: int, end: int | None) -> str:
        text = self.lines[line]
        if self._ascii:
            return text[start:end]
        return text.encode()[start:end].decode(errors="replace")

    def annotation(self, node: ast.expr | None) -> str:
        """An annotation as it is written, without the quotes of a forward reference (PEP 484)."""
        if node is None:
            return ""
        if type(node) is ast.Constant and isinstance(node.value, str):
            return " ".join(node.value.split())
        return self.of(node)

    def value(self, node: ast.expr) -> str:
        """A default or constant; long ones are cut, for they are for reading."""
        text = self.of(node)
        return text if len(text) <= MAX_VALUE_CHARS else text[:MAX_VALUE_CHARS] + "…"


def read_signature(node: ast.FunctionDef | ast.AsyncFunctionDef, text: SourceText, *, skip_first: bool) -> Signature:
    """The parameters and return annotation of a function; skip_first drops self or cls."""
    args = node.args
    parameters: list[Parameter] = []
    plain = args.posonlyargs + args.args
    defaults = [None] * (len(plain) - len(args.defaults)) + list(args.defaults)
    positional_only = len(args.posonlyargs)
    for index, (arg, default) in enumerate(zip(plain, defaults, strict=True)):
        if skip_first and index == 0:
            continue
        kind = "positional-only" if index < positional_only else "positional"
        parameters.append(_parameter(arg, kind, default, text))
    if args.vararg:
        parameters.append(_parameter(args.vararg, "variadic", None, text))
    for arg, default in zip(args.kwonlyargs, args.kw_defaults, strict=True):
        parameters.append(_parameter(arg, "keyword-only", default, text))
    if args.kwarg:
        parameters.append(_parameter(args.kwarg, "keywords", None, text))
    return Signature(parameters, text.annotation(node.returns) if node.returns else "")


def _parameter(arg: ast.arg, kind: str, default: ast.expr | None, text: SourceText) -> Parameter:
    return Parameter(
        arg.arg,
        kind,
        text.annotation(arg.annotation) if arg.annotation else "",
        text.value(default) if default is not None else "",
    )


def _is_of_word(sign: str) -> bool:
    return sign == "_" or sign.isalnum()
