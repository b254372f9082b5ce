"""What the readers of all languages with a grammar share."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

import msgspec
from tree_sitter import Node

from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.naming import is_inner_name, simple_type
from zarbek.core.model.symbol import Parameter
from zarbek.core.sources.comments.comment_blocks import wrong_comment
from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import SourceTree, end_line_of, line_of
from zarbek.core.sources.markup.inline import MentionSink

MAX_VALUE_CHARS = 300
MAX_PATH_CHARS = 500
_LEVELS = ("public", "protected", "internal", "private")
_NAME = re.compile(r"(?<!')[A-Za-z_$][\w$]*(?:(?:\.|::)[A-Za-z_$][\w$]*)*")


def narrower(outer: str, own: str) -> str:
    """The visibility of something inside something else."""
    return max(outer, own, key=_LEVELS.index)


class DeclarationReader:
    """Base of the readers: collects symbols, mentions and findings of one file."""

    #: How documentation is marked, for people.
    form = "/** … */"

    def __init__(self, tree: SourceTree, source: SourceFile, plain: frozenset[str]) -> None:
        """plain: type names that need no link."""
        self.tree, self.source, self.plain = tree, source, plain
        self.file = source.file
        self.reading = SourceReading()

    def sink(self) -> MentionSink:
        """Where the mentions of one text go."""
        return MentionSink(self.tree.lines)

    def mention_types(
        self, sink: MentionSink, texts: Iterable[str], line: int, origin: Origin = "type", field: str = "signature",
        skip: Iterable[str] = (),
    ) -> None:  # fmt: skip
        """One mention a name; skip: type parameters and what else is no reference."""
        seen = {m.text for m in sink.mentions if m.field == field}
        skipped = set(skip)
        sink.field = field
        for text in texts:
            for match in _NAME.finditer(text):
                name = match[0]
                if name in seen or name in self.plain or name in skipped:
                    continue
                seen.add(name)
                sink.mentions.append(
                    Mention(name, name, origin, field, line, 0, "class" if origin == "base" else "type")
                )

    def report_wrong_comment(self, comment: Node | None, node: Node, path: str, name: str) -> None:
        """Report a plain comment that stands where a documentation comment would, and reads like one."""
        if comment is None or end_line_of(comment) != line_of(node) - 1:
            return
        if is_inner_name(path, self.source.language):
            return
        found = wrong_comment(
            self.tree.text(comment), path=path, name=name, file=self.file, line=line_of(comment), form=self.form
        )
        if found is not None:
            self.reading.findings.append(found)

    def value(self, node: Node | None) -> str:
        """A value as it is written, in one line, cut where it is long."""
        text = self.tree.folded(node)
        return text if len(text) <= MAX_VALUE_CHARS else text[:MAX_VALUE_CHARS] + "…"


def with_parameters(path: str, parameters: Iterable[Parameter]) -> str:
    """A function's path with the simple types of its parameters, by which overloads differ."""
    types = ",".join(simple_type(p.type) + ("[]" if p.kind == "variadic" else "") for p in parameters)
    return f"{path}({types})"[:MAX_PATH_CHARS]


def merge_deprecation(doc: Doc | None, since: str, text: str, instead: Callable[[str], str]) -> Doc:
    """The doc text with what an annotation or attribute says of deprecation, where it says none."""
    if doc is not None and doc.deprecated is not None:
        if since and not doc.deprecated.since:
            return msgspec.structs.replace(doc, deprecated=msgspec.structs.replace(doc.deprecated, since=since))
        return doc
    return msgspec.structs.replace(doc or Doc(), deprecated=Deprecation(since, text, instead(text)))
