"""Tables, columns, routines, macros and blocks as symbols, with what their texts and queries name."""

from __future__ import annotations

from collections.abc import Iterable
from hashlib import blake2b

from msgspec.structs import replace

from zarbek.core.model.datamodel import Column, DataModel, Key, Macro
from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.comment_blocks import wrong_comment
from zarbek.core.sources.comments.sql import FORM, is_behind, is_documentation, read_sql_comment
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.datamodels.blocks import Block, BlockTexts, block_name, used_in
from zarbek.core.sources.datamodels.catalog import ColumnDraft, RoutineDraft, TableDraft, Told
from zarbek.core.sources.datamodels.templates import MacroText
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

LANGUAGE = "sql"


class TextReader:
    """Texts of a data model to doc text. lines: of the files that they stand in."""

    def __init__(self, home: str, blocks: dict[str, Block], lines: dict[str, list[str]]) -> None:
        self.home, self.blocks, self._lines = home, blocks, lines
        self._filled = BlockTexts(blocks)
        self.findings: list[Finding] = []

    def read(self, told: Told, path: str, name: str) -> tuple[Doc | None, list[Mention]]:
        """What is said of an element, and what that names. A description comes before a comment of its SQL, and this
        before the database's own words."""
        comments = [c for c in told.comments if is_documentation(c.raw) or is_behind(c.raw)]
        is_described = bool(told.text) and told.text_file != told.file
        if told.text and (is_described or not comments):
            doc, said = self.text(told.text, told.text_file or told.file, told.text_line)
            is_apart = doc is not None and told.text_file not in ("", told.file)
            return (replace(doc, file=told.text_file) if is_apart and doc is not None else doc), said
        if comments:
            sink = self._sink(told.file)
            doc = read_sql_comment([c.raw for c in comments], comments[0].line, sink).doc
            return self._with_blocks(doc, sink, told.file)
        self._doubt(told, path, name)
        return None, []

    def _doubt(self, told: Told, path: str, name: str) -> None:
        """An ordinary comment in the place of a documentation comment."""
        raw = "\n".join(c.raw.lstrip("-#") for c in told.comments)
        line = told.comments[0].line if told.comments else 0
        wrong = wrong_comment(raw, path=path, name=name, file=told.file, line=line, form=FORM) if raw else None
        self.findings += [wrong] if wrong is not None else []

    def text(self, text: str, file: str, line: int, deprecated: bool | str = False) -> tuple[Doc | None, list[Mention]]:
        """A Markdown text that begins on a line of a file."""
        sink = self._sink(file)
        convert_markdown(text.split("\n"), line, sink)
        head, body = split_summary(text.strip())
        told = _deprecation(deprecated, text)
        if not (head or body or told):
            return None, []
        return self._with_blocks(Doc(head, body, deprecated=told, line=line), sink, file)

    def _sink(self, file: str) -> MentionSink:
        return MentionSink(self._lines.get(file, []))

    def _with_blocks(self, doc: Doc, sink: MentionSink, file: str) -> tuple[Doc, list[Mention]]:
        whole = f"{doc.summary}\n\n{doc.body}" if doc.body else doc.summary
        names = used_in(whole)
        for name in names:
            written = f"{{block {name}}}"
            lines = self._lines.get(file, [])
            line = next((n for n in range(max(doc.line, 1), len(lines) + 1) if written in lines[n - 1]), doc.line)
            sink.add(written, f"api:{self.home}.{block_name(name)}", "block", line)
        if names:
            head, body = split_summary(self._filled.fill(whole))
            doc = replace(doc, summary=head, body=body)
        return doc, list(dict.fromkeys(sink.mentions))


def _deprecation(given: bool | str, text: str) -> Deprecation | None:
    if given is False:
        return None
    told = given if isinstance(given, str) else ""
    return Deprecation(text=told, instead=find_instead(told or text) or (told if " " not in told else ""))


def symbols_of_table(
    table: TableDraft, facts: DataModel, columns: dict[str, Column], texts: TextReader, mentions: list[Mention],
    column_mentions: dict[str, list[Mention]],
) -> Iterable[Symbol]:  # fmt: skip
    """A table, then its columns. columns, column_mentions: by their names in small letters."""
    parent = ".".join(table.parts[:-1])
    kind = "view" if table.form == "view" else "table"
    first = table.first or table.path
    doc, said = texts.read(table.told, table.path, table.parts[-1])
    end = max([table.told.line, *(c.told.line for c in table.columns.values() if c.told.file == table.told.file)])
    yield Symbol(
        table.path, table.parts[-1], kind, LANGUAGE, parent, parent, file=table.told.file, line=table.told.line,
        end_line=end, doc=_deprecated(doc, table), mentions=[*said, *mentions], data=facts, body=_digest(first),
    )  # fmt: skip
    for key, column in table.columns.items():
        path = f"{table.path}.{column.name}"
        doc, said = texts.read(column.told, path, column.name)
        yield Symbol(
            path, column.name, "column", LANGUAGE, parent, table.path, file=column.told.file, line=column.told.line,
            end_line=column.told.line, signatures=[Signature(text=declaration(column))], type=column.type,
            doc=_deprecated(doc, column), mentions=[*said, *column_mentions.get(key, [])],
            data=DataModel(column=columns[key]),
            body=_digest(f"{first}.{column.first or column.name}"), flags=_flags(column, table.keys),
        )  # fmt: skip


def _digest(name: str) -> str:
    """By which what a definition renames is known again."""
    return blake2b(name.casefold().encode(), digest_size=8).hexdigest()


def _deprecated(doc: Doc | None, draft: TableDraft | ColumnDraft) -> Doc | None:
    if draft.deprecated is False:
        return doc
    told = _deprecation(draft.deprecated, doc.summary if doc is not None else "")
    return replace(doc or Doc(), deprecated=told)


def _flags(column: ColumnDraft, keys: list[Key]) -> list[str]:
    found = {key.kind for key in keys if column.name in key.columns and (key.kind != "unique" or len(key.columns) == 1)}
    return sorted({*(found & {"primary", "foreign", "unique"}), *(["required"] if _is_asked(column) else [])})


def _is_asked(column: ColumnDraft) -> bool:
    """Whether whoever writes a row must give it."""
    return column.nullable is False and not (column.default or column.computed)


def declaration(column: ColumnDraft) -> str:
    """A column in one line, as a definition has it."""
    parts = [column.name, column.type]
    if column.computed:
        parts.append(f"AS ({column.computed})")
    elif column.nullable is False:
        parts.append("NOT NULL")
    if column.default:
        parts.append(f"DEFAULT {column.default}" if column.default != "counted up" else "counted up")
    return " ".join(filter(None, parts))


def symbols_of_places(paths: Iterable[str]) -> Iterable[Symbol]:
    """Databases and schemas, each after what holds it."""
    seen: set[str] = set()
    for path in sorted(set(paths)):
        parts = path.split(".")
        for end in range(1, len(parts) + 1):
            name = ".".join(parts[:end])
            if name and name not in seen:
                seen.add(name)
                yield Symbol(name, parts[end - 1], "database", LANGUAGE, name, ".".join(parts[: end - 1]))


def symbol_of_routine(routine: RoutineDraft, texts: TextReader) -> Symbol:
    """A function, procedure or trigger."""
    path, parent = ".".join(routine.parts), ".".join(routine.parts[:-1])
    doc, said = texts.read(routine.told, path, routine.parts[-1])
    parameters = [Parameter(name, type=type_) for name, type_ in routine.parameters]
    return Symbol(
        f"{path}()", routine.parts[-1], routine.kind, LANGUAGE, parent, parent, file=routine.told.file,
        line=routine.told.line, end_line=routine.told.line,
        signatures=[Signature(parameters, routine.returns, text=routine.text)], doc=doc, mentions=said,
    )  # fmt: skip


def path_of_macro(macro: MacroText, home: str) -> str:
    """Under which a macro is found: with its parameters' names."""
    return f"{home}.{macro.name}({', '.join(name for name, _ in macro.parameters)})"


def symbol_of_macro(macro: MacroText, file: str, home: str, texts: TextReader, lines: list[str]) -> Symbol:
    """A macro that queries are written with; called as templates call it."""
    doc, said = None, list[Mention]()
    if macro.comment and is_documentation(macro.comment):
        sink = MentionSink(lines)
        doc = read_sql_comment([macro.comment], macro.comment_line, sink).doc
        said = sink.mentions
    written = ", ".join(f"{name}={default}" if default else name for name, default in macro.parameters)
    parameters = [Parameter(name, default=default) for name, default in macro.parameters]
    return Symbol(
        path_of_macro(macro, home), macro.name, "macro", LANGUAGE, home, home,
        file=file, line=macro.line, end_line=macro.line + macro.body.count("\n"),
        signatures=[Signature(parameters, text=f"{{{{ {macro.name}({written}) }}}}")], doc=doc, mentions=said,
        data=DataModel(macro=Macro(macro.body)),
    )  # fmt: skip


def symbol_of_block(name: str, block: Block, texts: TextReader) -> Symbol:
    """A text that descriptions use."""
    called = block_name(name)
    doc, said = texts.text(block.text, block.file, block.line)
    return Symbol(
        f"{texts.home}.{called}", called, "block", LANGUAGE, texts.home, texts.home, file=block.file,
        line=max(1, block.line - 1), end_line=block.line + block.text.count("\n"), doc=doc, mentions=said,
    )  # fmt: skip
