"""Statements that make, change and drop tables, one after the other: the model is what stands after the last.

Sources: ISO/IEC 9075-2, section 11; for ``COMMENT ON``, ``RENAME TABLE``, ``CHANGE`` and ``MODIFY`` the manuals of
PostgreSQL and MariaDB.
"""

from __future__ import annotations

import re

from msgspec.structs import replace
from sqlglot import exp

from zarbek.core.model.datamodel import Check, Key, KeyKind
from zarbek.core.model.finding import Finding
from zarbek.core.sources.datamodels.catalog import Catalog, RoutineDraft, TableDraft, Told
from zarbek.core.sources.datamodels.columns import ColumnReader
from zarbek.core.sources.datamodels.placed_comments import comments_above, comments_behind
from zarbek.core.sources.datamodels.sql_text import SqlText, Statement, split_sql
from zarbek.core.sources.datamodels.syntax import apart, items_of, parse, parse_definition, sql_of

#: Statements that say something of the model; others (data, rights, settings) say nothing.
_TOLD = frozenset(("CREATE", "ALTER", "DROP", "RENAME", "COMMENT", "USE"))
#: What is made, dropped or changed, and no part of what readers ask a data model for.
_OTHER = frozenset((
    "USER", "ROLE", "EXTENSION", "SEQUENCE", "DATABASE", "SCHEMA", "SERVER", "POLICY", "OPERATOR", "CAST", "RULE",
    "AGGREGATE", "PUBLICATION", "SUBSCRIPTION", "LANGUAGE", "EVENT", "TABLESPACE", "DOMAIN", "TYPE", "COLLATION",
    "INDEX", "STATISTICS", "TEXT", "CONVERSION", "DEFAULT", "SYSTEM", "SESSION", "GROUP", "ACCESS", "CONSTRAINT",
))  # fmt: skip
_ROUTINES = {"FUNCTION": "function", "PROCEDURE": "procedure", "TRIGGER": "trigger"}
_RENAME = re.compile(r"\s*([^\s,]+)\s+TO\s+([^\s,]+)\s*(?:,|$)", re.IGNORECASE)
_ROUTINE = re.compile(
    r"CREATE\s+(?:OR\s+(?:REPLACE|ALTER)\s+)?(?:DEFINER\s*=\s*\S+\s+)?(?:CONSTRAINT\s+)?(?:AGGREGATE\s+)?"
    r"(FUNCTION|PROCEDURE|TRIGGER)\s+(?:IF\s+NOT\s+EXISTS\s+)?((?:[`\"\[]?[\w$]+[`\"\]]?\s*\.\s*){0,2}[`\"\[]?[\w$]+[`\"\]]?)\s*",
    re.IGNORECASE,
)
_RETURNS = re.compile(
    r"\s*RETURNS\s+((?:SETOF\s+)?[\w$. ]+?(?:\([^()]*\))?(?:\[\])?)(?=\s+(?:AS|LANGUAGE|DETERMINISTIC|NOT|READS|"
    r"MODIFIES|NO|CONTAINS|BEGIN|RETURN|IMMUTABLE|STABLE|VOLATILE|STRICT|PARALLEL|SECURITY|SQL|COMMENT|CALLED|COST|ROWS|SET|WINDOW)"
    r"\b|\s*$|\s*\$)",
    re.IGNORECASE,
)
_TRIGGER_BODY = re.compile(r"\b(?:FOR\s+EACH|BEGIN|EXECUTE|SET)\b", re.IGNORECASE)
_TEMPORARY = re.compile(r"CREATE\s+(?:OR\s+REPLACE\s+)?(?:GLOBAL\s+|LOCAL\s+)?TEMP(?:ORARY)?\b", re.IGNORECASE)


class DefinitionReader:
    """Reads files of definitions into a catalog. findings: what could not be read."""

    def __init__(self, catalog: Catalog, dialect: str) -> None:
        self.catalog, self.dialect = catalog, dialect
        self.findings: list[Finding] = []
        self._columns = ColumnReader(catalog, dialect)
        self._home = list(catalog.home)

    def read(self, text: str, file: str) -> None:
        """The changes that a file makes, in its order. Raises UnreadableText."""
        sql = split_sql(text, self.dialect)
        for statement in sql.statements:
            words = statement.words
            if words and words[0] in _TOLD:
                self._read(sql, statement, words, file)
        self.catalog.home = list(self._home)  # USE holds to the end of its file.

    def _read(self, sql: SqlText, statement: Statement, words: list[str], file: str) -> None:
        if words[0] == "USE":
            self.catalog.home[-1:] = [words_of(statement)[1].strip('`";')] if len(words) > 1 else []
        elif words[0] == "RENAME" and words[1:2] == ["TABLE"]:
            self._rename_tables(statement.text[statement.text.upper().find("TABLE") + 5 :])
        elif (routine := _ROUTINE.match(statement.text)) is not None:
            self._routine(sql, statement, routine, file)
        elif not self._is_other(words):
            self._define(sql, statement, file)

    def _is_other(self, words: list[str]) -> bool:
        """Whether a statement is about what is no table."""
        about = [w for w in words[1:5] if w not in ("OR", "REPLACE", "UNIQUE", "IF", "NOT", "EXISTS", "ON", "PUBLIC")]
        is_index = words[0] == "CREATE" and "INDEX" in words[1:5]
        return bool(about) and about[0] in _OTHER and not is_index

    def _define(self, sql: SqlText, statement: Statement, file: str) -> None:
        node, unread = parse_definition(statement, self.dialect)
        match node:
            case exp.Create():
                self._create(sql, statement, node, file)
            case exp.Alter():
                self._alter(sql, statement, node, file)
            case exp.Drop():
                self._drop(node)
            case exp.Comment():
                self._comment(statement, node, file)
            case None if not unread and self._matters(statement):
                unread = [" ".join(statement.text.split())]
        for part in unread:
            told = part if len(part) < 80 else f"{part[:77]}…"
            self.findings.append(Finding(
                "text/unreadable", "note", file, f"Left out, as it is not known in {self.dialect}: {told}", file=file,
                line=statement.line, text=told, subject_kind="symbol",
            ))  # fmt: skip

    def _matters(self, statement: Statement) -> bool:
        """Whether readers of the model miss what a statement says that the parser does not know."""
        words = statement.words
        return words[0] == "CREATE" and "INDEX" not in words

    # Making -------------------------------------------------------------------------------

    def _create(self, sql: SqlText, statement: Statement, node: exp.Create, file: str) -> None:
        kind = str(node.args.get("kind") or "").upper()
        if kind == "INDEX":
            self._index(node.this)
            return
        if kind not in ("TABLE", "VIEW") or _TEMPORARY.match(statement.text):
            return
        schema = node.this
        called = schema.this if isinstance(schema, exp.Schema) else schema
        if not isinstance(called, exp.Table):
            return
        parts = self.catalog.parts_of(called)
        if node.args.get("exists") and self.catalog.find(parts) is not None:
            return
        told = Told(file, self._line_of(sql, statement, called), comments_above(sql, statement.start))
        table = TableDraft(parts, told, self.dialect, "view" if kind == "VIEW" else "table")
        self._properties(table, node)
        query = node.expression
        if isinstance(query, exp.Query):
            table.query, table.query_start = query, statement.start
            table.query_file = file
            table.written, table.query_line = sql.text[statement.start :][: len(statement.text)], statement.line
        if isinstance(schema, exp.Schema):
            self._items(sql, statement, table, schema)
        self.catalog.add(table)

    def _items(self, sql: SqlText, statement: Statement, table: TableDraft, schema: exp.Schema) -> None:
        items = [(statement.start + begin, statement.start + end) for begin, end in items_of(statement)]
        for item in schema.expressions:
            if isinstance(item, exp.Identifier):  # The columns of a view are only named.
                table.named.append(self.catalog.name_of(item))
                continue
            at = offset_of(item)
            told = Told(table.told.file, self._line_of(sql, statement, item))
            if at is not None and isinstance(item, exp.ColumnDef):
                begin, end = next((i for i in reversed(items) if i[0] <= statement.start + at), (None, None))
                above = comments_above(sql, statement.start + at, begin)
                told.comments = [*above, *comments_behind(sql, end)] if end is not None else above
            self._columns.add(table, item, told)

    def _properties(self, table: TableDraft, node: exp.Expr) -> None:
        properties = node.args.get("properties")
        for item in properties.expressions if properties is not None else node.args.get("options") or ():
            if isinstance(item, exp.SchemaCommentProperty) and item.this is not None:
                table.told.text = item.this.name
                table.told.text_file, table.told.text_line = table.told.file, table.told.line
            elif isinstance(item, exp.LikeProperty):
                self._columns.copy_columns(table, item)

    def _index(self, index: exp.Expr) -> None:
        called, params = index.args.get("table"), index.args.get("params")
        table = self.catalog.find(self.catalog.parts_of(called)) if isinstance(called, exp.Table) else None
        if table is None or params is None:
            return
        is_unique = bool(index.args.get("unique") or (index.parent and index.parent.args.get("unique")))
        kind: KeyKind = "unique" if is_unique and params.args.get("where") is None else "index"
        name = index.this.name if index.this is not None else ""
        table.keys.append(Key(kind, self._columns.names(params.args.get("columns") or []), name))

    def _routine(self, sql: SqlText, statement: Statement, found: re.Match[str], file: str) -> None:
        kind = _ROUTINES[found[1].upper()]
        names = [part.strip(' `"[]') for part in found[2].split(".")]
        parts = self.catalog.placed(names)
        told = Told(file, statement.line, comments_above(sql, statement.start))
        begin, end = statement.brackets or (0, 0)
        has_list = kind != "trigger" and begin == found.end()
        inside = statement.text[begin + 1 : end] if has_list else ""
        rest = statement.text[end + 1 :] if has_list else statement.text[found.end() :]
        returns = _RETURNS.match(rest) if kind == "function" else None
        head = f"{found[1].upper()} {'.'.join(names)}" + (f"({' '.join(inside.split())})" if has_list else "")
        if kind == "trigger":
            head += f" {' '.join(_TRIGGER_BODY.split(rest, maxsplit=1)[0].split())}"
        text = head + (f" RETURNS {' '.join(returns[1].split())}" if returns else "")
        self.catalog.routines[".".join(parts).casefold()] = RoutineDraft(
            parts, told, kind, text, _parameters(inside), " ".join(returns[1].split()) if returns else "",
            " ".join(rest.split()),
        )  # fmt: skip

    # Changing -----------------------------------------------------------------------------

    def _alter(self, sql: SqlText, statement: Statement, node: exp.Alter, file: str) -> None:
        table = self.catalog.find(self.catalog.parts_of(node.this)) if isinstance(node.this, exp.Table) else None
        if table is None:
            return
        self._properties(table, node)
        for action in node.args.get("actions") or ():
            told = Told(file, self._line_of(sql, statement, action), comments_above(sql, statement.start))
            self._act(table, action, told)

    def _act(self, table: TableDraft, action: exp.Expr, told: Told) -> None:
        match action:
            case exp.ColumnDef():
                self._columns.add_column(table, action, told)
            case exp.AddConstraint():
                for item in action.expressions:
                    self._columns.add(table, item, told)
            case exp.ModifyColumn():
                self._modify(table, action, told)
            case exp.AlterColumn():
                self._alter_column(table, action)
            case exp.RenameColumn():
                self._rename_column(table, action.this.name, self.catalog.name_of(action.args["to"].this))
            case exp.AlterRename():
                there = self.catalog.parts_of(action.this)
                self.catalog.rename(table, there if action.this.args.get("db") else [*table.parts[:-1], there[-1]])
            case exp.Drop():
                self._drop_part(table, action)
            case exp.DropPrimaryKey():
                table.keys = [key for key in table.keys if key.kind != "primary"]
            case exp.Schema():
                for item in action.expressions:
                    self._columns.add(table, item, told)
            case _:
                return  # Storage, owners, partitions.

    def _modify(self, table: TableDraft, action: exp.Expr, told: Told) -> None:
        definition = action.this
        if not isinstance(definition, exp.ColumnDef):
            return
        before = action.args.get("rename_from")
        name = self.catalog.name_of(definition.this)
        old = before.name if before is not None else name
        kept = table.column(old)
        if before is not None and old.casefold() != name.casefold():
            self._rename_column(table, old, name)
        column = self._columns.add_column(table, definition, told)
        column.first = kept.first if kept is not None else ""
        if kept is not None and not told.comments:
            column.told.comments = kept.told.comments
            column.told.text = column.told.text or kept.told.text
            column.told.text_file, column.told.text_line = kept.told.text_file, kept.told.text_line

    def _alter_column(self, table: TableDraft, action: exp.Expr) -> None:
        column = table.column(action.this.name)
        if column is None:
            return
        if action.args.get("dtype") is not None:
            column.type = sql_of(action.args["dtype"], self.dialect)
        if action.args.get("default") is not None:
            column.default = sql_of(action.args["default"], self.dialect)
        if action.args.get("allow_null") is not None:
            column.nullable = bool(action.args["allow_null"])
        elif action.args.get("drop"):
            column.default = ""
        if action.args.get("comment") is not None:
            column.told.text = action.args["comment"].name

    def _rename_column(self, table: TableDraft, old: str, new: str) -> None:
        if table.column(old) is None:
            return
        columns = [(new.casefold() if key == old.casefold() else key, c) for key, c in table.columns.items()]
        table.columns = dict(columns)
        column = table.columns[new.casefold()]
        column.first, column.name = column.first or column.name, new
        table.keys = [_renamed(key, old, new) for key in table.keys]
        table.checks = [_check_renamed(check, old, new) for check in table.checks]
        for other in self.catalog:
            other.keys = [_renamed_there(key, table.path, old, new) for key in other.keys]

    def _drop_part(self, table: TableDraft, action: exp.Drop) -> None:
        kind = str(action.args.get("kind") or "").upper()
        named = action.this if isinstance(action.this, exp.Expr) else None
        names = [n.name for n in [*action.args.get("tables", []), named] if n is not None]
        for name in names:
            if kind == "COLUMN":
                self._drop_column(table, name)
            elif kind in ("CONSTRAINT", "INDEX", "KEY", "FOREIGN KEY", "FOREIGN"):
                table.keys = [key for key in table.keys if key.name.casefold() != name.casefold()]
                table.checks = [check for check in table.checks if check.name.casefold() != name.casefold()]

    def _drop_column(self, table: TableDraft, name: str) -> None:
        if table.columns.pop(name.casefold(), None) is not None:
            table.keys = [kept for key in table.keys if (kept := self._without(key, name)) is not None]
            table.checks = [check for check in table.checks if name not in check.columns]

    def _without(self, key: Key, column: str) -> Key | None:
        """A key after one of its columns went: MariaDB and MySQL keep an index of the others (MySQL Reference Manual,
        "ALTER TABLE"), other databases none."""
        if column not in key.columns:
            return key
        rest = [name for name in key.columns if name != column]
        keeps = self.dialect in ("mariadb", "mysql") and key.kind in ("index", "unique")
        return replace(key, columns=rest) if keeps and rest else None

    def _drop(self, node: exp.Drop) -> None:
        kind = str(node.args.get("kind") or "").upper()
        named = node.this if isinstance(node.this, exp.Expr) else None
        called = [n for n in [*node.args.get("tables", []), named] if isinstance(n, exp.Table)]
        if kind in ("TABLE", "VIEW"):
            for table in called:
                self.catalog.drop(self.catalog.parts_of(table))

    def _rename_tables(self, text: str) -> None:
        for old, new in _RENAME.findall(text):
            table = self.catalog.find(self._parts(old))
            if table is not None:
                self.catalog.rename(table, self._parts(new))

    def _parts(self, name: str) -> list[str]:
        found = parse(f"SELECT 1 FROM {name}", self.dialect)
        table = found.find(exp.Table) if found is not None else None
        return self.catalog.parts_of(table) if table is not None else [name]

    def _comment(self, statement: Statement, node: exp.Comment, file: str) -> None:
        kind, text = str(node.args.get("kind") or "").upper(), node.expression.name if node.expression else ""
        about = node.this
        column = ""
        if kind == "COLUMN" and isinstance(about, exp.Column):
            column = about.name
            about = exp.Table(this=about.args.get("table"), db=about.args.get("db"), catalog=about.args.get("catalog"))
        if not isinstance(about, exp.Table) or about.this is None:
            return
        parts = self.catalog.parts_of(about)
        routine = self.catalog.routines.get(".".join(parts).casefold()) if kind in _ROUTINES else None
        table = self.catalog.find(parts)
        found = table.column(column) if table is not None and column else table
        told = routine.told if routine is not None else found.told if found is not None else None
        if told is not None:
            told.text, told.text_file, told.text_line = text, file, statement.line

    def _line_of(self, sql: SqlText, statement: Statement, node: exp.Expr) -> int:
        at = offset_of(node)
        return sql.line_at(statement.start + at) if at is not None else statement.line


def words_of(statement: Statement) -> list[str]:
    """The first words of a statement as they are written."""
    return statement.text[:300].split()


def offset_of(node: exp.Expr) -> int | None:
    """Where the first name of a part stands in its statement."""
    if isinstance(node, exp.ColumnDef) and isinstance(start := node.this.meta.get("start"), int):
        return start
    for identifier in node.find_all(exp.Identifier, bfs=False):
        start = identifier.meta.get("start")
        if isinstance(start, int):
            return start
    return None


def _renamed(key: Key, old: str, new: str) -> Key:
    return replace(key, columns=_with_name(key.columns, old, new))


def _check_renamed(check: Check, old: str, new: str) -> Check:
    """Databases write a check anew when a column that it is about gets another name."""
    if old not in check.columns:
        return check
    text = re.sub(
        rf"(?<![\w'])([`\"]?){re.escape(old)}\1(?![\w'])", lambda found: f"{found[1]}{new}{found[1]}", check.text
    )
    return replace(check, text=text, columns=_with_name(check.columns, old, new))


def _renamed_there(key: Key, path: str, old: str, new: str) -> Key:
    return replace(key, target_columns=_with_name(key.target_columns, old, new)) if key.target == path else key


def _with_name(columns: list[str], old: str, new: str) -> list[str]:
    return [new if column.casefold() == old.casefold() else column for column in columns]


def _parameters(text: str) -> list[tuple[str, str]]:
    """Names and types of a routine's parameters."""
    found: list[tuple[str, str]] = []
    for part in apart(text):
        words = part.split()
        while len(words) > 1 and words[0].upper() in ("IN", "OUT", "INOUT", "VARIADIC"):
            words = words[1:]
        if words:
            found.append((words[0].strip('`"@'), " ".join(words[1:])) if len(words) > 1 else ("", words[0]))
    return found
