"""Types of columns that are one, however they are written."""

from __future__ import annotations

import re

from zarbek.core.sources.datamodels.syntax import type_of

#: What only says how a number is shown, or how a text is kept and sorted (MariaDB Knowledge Base, "Data Types").
_WIDTH = re.compile(r"\b((?:tiny|small|medium|big)?int|integer|year)\(\d+\)")
_KEPT = re.compile(r"\b(?:character set|charset|collate)\s+\S+|\bzerofill\b")
_MARIADB = {
    "boolean": "tinyint", "bool": "tinyint", "json": "longtext", "decimal": "decimal(10,0)", "char": "char(1)",
    "bit": "bit(1)", "binary": "binary(1)", "decimal(10)": "decimal(10,0)", "serial": "bigintunsigned",
    "doubleprecision": "double", "real": "double",
}  # fmt: skip
#: PostgreSQL, table 8.1 and section 8.1.4.
_POSTGRESQL = {
    "serial": "int", "bigserial": "bigint", "smallserial": "smallint", "char": "char(1)", "real": "float4",
    "doubleprecision": "float8", "double": "float8", "float": "float8",
}  # fmt: skip
_SAME = {"mariadb": _MARIADB, "mysql": _MARIADB, "postgresql": _POSTGRESQL}
_SCALE = re.compile(r"^(decimal\(\d+)\)$")


def is_same_type(said: str, other: str, dialect: str) -> bool:
    """Whether two types of a dialect are one."""
    return _plain(said, dialect) == _plain(other, dialect)


def _plain(written: str, dialect: str) -> str:
    text = type_of(_KEPT.sub("", written.lower()).strip(), dialect).lower()
    text = _WIDTH.sub(r"\1", text)
    text = "".join(text.split()).replace("integer", "int")
    text = _SCALE.sub(r"\1,0)", text)
    return _SAME.get(dialect, {}).get(text, text)
