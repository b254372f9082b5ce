"""Documentation and types of one Python module. Sources: PEP 257, PEP 258, PEP 484."""

from __future__ import annotations

import ast
import re

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.symbol import Signature
from zarbek.core.sources.comments.python import read_docstring
from zarbek.core.sources.languages.python.signatures import SourceText
from zarbek.core.sources.markup.inline import MentionSink

_TYPE_NAME = re.compile(r"[A-Za-z_][\w]*(?:\.\w+)*")
#: Built-in names and typing forms that no reader needs a link for.
PLAIN_TYPES = frozenset(
    (
        "None str int float bool bytes list dict tuple set frozenset object type complex True False Any "
        "Optional Union Callable List Dict Tuple Set Iterable Iterator Sequence Mapping Type Literal Final "
        "ClassVar Self self cls Generator Annotated"
    ).split()
)


class TextReader:
    """Reads what the statements of a module say to people, and the names in it."""

    def __init__(self, source: str) -> None:
        self.text = SourceText(source)
        self.marked = "#:" in source
        self.may_be_lazy = "__getattr__" in source or "__name__," in source

    def _doc(self, body: list[ast.stmt], mentions: list[Mention]) -> tuple[Doc | None, list[Mention]]:
        if not body or type(body[0]) is not ast.Expr:
            return None, mentions
        return self._read_doc(body[0].value, mentions)  # type: ignore[attr-defined]

    def _read_doc(self, node: ast.expr, mentions: list[Mention]) -> tuple[Doc | None, list[Mention]]:
        if type(node) is not ast.Constant or not isinstance(node.value, str) or not node.value.strip():
            return None, mentions
        sink = MentionSink(self.text.lines, mentions=mentions)
        return read_docstring(node.value, node.lineno, sink), sink.mentions

    def _trailing_doc(self, node: ast.stmt, body: list[ast.stmt], index: int) -> tuple[Doc | None, list[Mention]]:
        """The string below an assignment (PEP 258), or ``#:`` lines above it or at its end."""
        if index + 1 < len(body) and type(body[index + 1]) is ast.Expr:
            doc, mentions = self._read_doc(body[index + 1].value, [])  # type: ignore[attr-defined]
            if doc is not None:
                return doc, mentions
        if self.marked:
            return self._marked_doc(node)
        return None, []

    def _marked_doc(self, node: ast.stmt) -> tuple[Doc | None, list[Mention]]:
        lines = self.text.lines
        first = node.lineno - 1
        start = first
        while start > 0 and lines[start - 1].lstrip().startswith("#:"):
            start -= 1
        found = [line.lstrip()[2:] for line in lines[start:first]]
        if not found:
            tail = lines[(node.end_lineno or node.lineno) - 1].partition("#:")[2]
            found = [tail] if tail.strip() else []
        if not found:
            return None, []
        sink = MentionSink(lines)
        text = "\n".join(line.removeprefix(" ") for line in found)
        return read_docstring(text, start + 1, sink), sink.mentions

    def _signature_mentions(self, signature: Signature, line: int) -> list[Mention]:
        found: list[Mention] = []
        for parameter in signature.parameters:
            if parameter.type:
                where = f"param:{parameter.name}"
                self._type_mentions(parameter.type, line, where, "type", found)
        if signature.returns:
            self._type_mentions(signature.returns, line, "returns", "type", found)
        return found

    def _type_mentions(self, text: str, line: int, where: str, origin: Origin, found: list[Mention]) -> None:
        if not text or text in PLAIN_TYPES:
            return
        for match in _TYPE_NAME.finditer(re.sub(r"Literal\[[^\]]*\]", "", text)):
            name = match[0]
            if name not in PLAIN_TYPES:
                column = self.text.lines[line - 1].find(name) + 1
                found.append(Mention(name, name, origin, where, line, column))
