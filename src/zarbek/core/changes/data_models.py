"""What readers and writers of a table notice: one table of rules instead of one judge a database.

Types are compared by what they can hold. Sources: ISO/IEC 9075-2, section 4 (data types); the manuals of MariaDB and
PostgreSQL for their integers and texts.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from rapidfuzz import fuzz
from rapidfuzz.utils import default_process

from zarbek.core.changes.change import Detail
from zarbek.core.model.datamodel import Column, Key, Table
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.plain_text import plain_text

#: What happens to a column or table, whether it breaks those who read it, and how that is said.
RULES: dict[str, tuple[bool, str]] = {
    "type-narrowed": (True, "It holds less than it did."),
    "type-widened": (False, "It holds more than it did."),
    "type-changed": (True, "It is of another type."),
    "nullable": (True, "It may be empty now."),
    "required": (False, "It must be there now."),
    "default": (False, "Another value stands where none is given."),
    "computed": (True, "It is computed in another way."),
    "check-added": (False, "A check holds for every row now."),
    "check-removed": (True, "A check holds no longer."),
    "row": (True, "A row is something else."),
    "meaning": (True, "It is said to be something else."),
    "key-changed": (True, "Another key tells rows apart."),
    "unique-removed": (True, "Rows may be alike in it."),
    "unique-added": (False, "No two rows are alike in it."),
    "reference-removed": (False, "It refers to nothing any more."),
    "reference-added": (False, "It refers to another table."),
}
#: Kinds of details after which a query that reads a column is looked at again.
RETYPED = frozenset({"type-narrowed", "type-changed"})
#: Of a hundred: how much of two texts is the same where they are taken to say the same.
_ALIKE = 60
_TYPE = re.compile(r"\s*([A-Za-z][\w ]*?)\s*(?:\(([\d, ]+)\))?\s*(UNSIGNED)?\s*$", re.IGNORECASE)
#: Types of one family, each holding all that those before it hold.
_FAMILIES = (
    ("TINYINT", "SMALLINT", "MEDIUMINT", "INT", "BIGINT"), ("FLOAT", "DOUBLE"), ("REAL", "DOUBLE PRECISION"),
    ("CHAR", "VARCHAR", "TINYTEXT", "TEXT", "MEDIUMTEXT", "LONGTEXT"), ("BINARY", "VARBINARY", "BLOB", "LONGBLOB"),
    ("DATE", "DATETIME"), ("DATE", "TIMESTAMP"), ("JSON", "JSONB"),
)  # fmt: skip
_SAME = {"INTEGER": "INT", "INT4": "INT", "INT8": "BIGINT", "INT2": "SMALLINT", "NUMERIC": "DECIMAL", "BOOL": "BOOLEAN"}


def compare_data(old: Symbol, new: Symbol) -> list[Detail]:
    """Every difference of a table or column; empty for other symbols."""
    before, after = old.data, new.data
    if before is None or after is None:
        return []
    if before.column is not None and after.column is not None:
        return [*_type(old.type, new.type), *_columns(before.column, after.column), *_meaning(old, new)]
    if before.table is not None and after.table is not None:
        return [*_tables(before.table, after.table), *_meaning(old, new)]
    return []


def _meaning(old: Symbol, new: Symbol) -> Iterator[Detail]:
    """Another description, where its words are not the old ones put in another way."""
    before, after = (plain_text(s.doc.summary) if s.doc is not None else "" for s in (old, new))
    if before and after and fuzz.token_set_ratio(before, after, processor=default_process) < _ALIKE:
        yield _detail("meaning", before, after)


def _detail(kind: str, before: str = "", after: str = "", name: str = "") -> Detail:
    breaks, text = RULES[kind]
    return Detail(kind, text, breaks, before, after, name)


def _type(before: str, after: str) -> Iterator[Detail]:
    if before and after and before.upper() != after.upper():
        yield _detail(f"type-{_difference(before, after)}", before, after)


def _difference(before: str, after: str) -> str:
    """``widened``, ``narrowed`` or ``changed``."""
    old, new = _parsed(before), _parsed(after)
    if old is None or new is None or old[2] != new[2]:
        return "changed"
    ranks = _ranks(old[0], new[0])
    if ranks is None:
        return "changed"
    had, has = _room(old), _room(new)
    if ranks[0] == ranks[1]:
        is_less = has is not None and (had is None or any(n < o for o, n in zip(had, has, strict=False)))
    else:  # VARCHAR(10) holds less than CHAR(20) does.
        is_less = ranks[1] < ranks[0] or (had is not None and has is not None and has[0] < had[0])
    return "narrowed" if is_less else "widened"


def _parsed(text: str) -> tuple[str, list[int], bool] | None:
    found = _TYPE.match(text)
    if found is None:
        return None
    name = " ".join(found[1].upper().split())
    return _SAME.get(name, name), [int(n) for n in (found[2] or "").split(",") if n.strip()], bool(found[3])


def _ranks(old: str, new: str) -> tuple[int, int] | None:
    """The places of two types in a family that has both."""
    if old == new:
        return 0, 0
    family = next((f for f in _FAMILIES if old in f and new in f), None)
    return (family.index(old), family.index(new)) if family is not None else None


def _room(parsed: tuple[str, list[int], bool]) -> list[int] | None:
    """How much a type holds: characters, or digits before and after the point; None for what sets no bound. Numbers
    of an integer say how it is shown."""
    name, sizes, _ = parsed
    if not sizes or name in _FAMILIES[0]:
        return None
    if name == "DECIMAL":
        digits, places = [*sizes, 0][:2]
        return [digits - places, places]
    return sizes


def _columns(old: Column, new: Column) -> Iterator[Detail]:
    if old.nullable is not new.nullable and None not in (old.nullable, new.nullable):
        yield _detail("nullable" if new.nullable else "required")
    elif old.nullable is False and new.nullable is None:
        yield _detail("nullable")
    if old.default != new.default:
        yield _detail("default", old.default, new.default)
    if old.computed != new.computed:
        yield _detail("computed", old.computed, new.computed)
    yield from _texts([c.text for c in old.checks], [c.text for c in new.checks], "check")


def _tables(old: Table, new: Table) -> Iterator[Detail]:
    if old.row and new.row and old.row != new.row:
        yield _detail("row", old.row, new.row)
    before, after = _keys(old.keys, "primary"), _keys(new.keys, "primary")
    if before != after and before:
        yield _detail("key-changed", ", ".join(before), ", ".join(after))
    yield from _texts(_keys(old.keys, "unique"), _keys(new.keys, "unique"), "unique")
    yield from _texts(_keys(old.keys, "foreign"), _keys(new.keys, "foreign"), "reference")
    yield from _texts([c.text for c in old.checks], [c.text for c in new.checks], "check")


def _keys(keys: list[Key], kind: str) -> list[str]:
    """Each key in words: its columns, and where they refer to."""
    return sorted({
        ", ".join(key.columns) + (f" to {key.target} ({', '.join(key.target_columns)})" if key.target else "")
        for key in keys if key.kind == kind
    })  # fmt: skip


def _texts(old: list[str], new: list[str], what: str) -> Iterator[Detail]:
    for kind, texts, others in ((f"{what}-removed", old, new), (f"{what}-added", new, old)):
        breaks, words = RULES[kind]
        for text in (text for text in texts if text not in others):
            pair = (text, "") if texts is old else ("", text)
            yield Detail(kind, f"{words.removesuffix('.')}: {text}.", breaks, *pair, text)
