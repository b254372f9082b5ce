"""The dialects of SQL that can be read, as people call them, and how one is told from a text."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable

#: Name to that of the parser's.
DIALECTS = {
    "athena": "athena", "bigquery": "bigquery", "clickhouse": "clickhouse", "databricks": "databricks",
    "duckdb": "duckdb", "hive": "hive", "mariadb": "mysql", "mysql": "mysql", "oracle": "oracle",
    "postgresql": "postgres", "redshift": "redshift", "snowflake": "snowflake", "spark": "spark",
    "sqlite": "sqlite", "sqlserver": "tsql", "teradata": "teradata", "trino": "trino",
}  # fmt: skip
#: What is written in one of them only, or in few.
_SIGNS = {
    "mysql": re.compile(
        r"\bAUTO_INCREMENT\b|\bENGINE\s*=|`\w+`|\bUNSIGNED\b|^DELIMITER\b|/\*!\d|\bTINYINT\s*\(\d|\bCHANGE\s+COLUMN\b",
        re.IGNORECASE | re.MULTILINE,
    ),
    "postgresql": re.compile(
        r"\$\w*\$|::\s*\w|\b(?:BIG|SMALL)?SERIAL\b|\bCOMMENT\s+ON\b|\bplpgsql\b|\bJSONB\b|\bTIMESTAMPTZ\b|\bBYTEA\b"
        r"|\bWITH(?:OUT)?\s+TIME\s+ZONE\b|\bILIKE\b|^\\\w",
        re.IGNORECASE | re.MULTILINE,
    ),
    "sqlite": re.compile(r"\bAUTOINCREMENT\b|\bWITHOUT\s+ROWID\b|^\s*PRAGMA\b|\)\s*STRICT\s*;",
                         re.IGNORECASE | re.MULTILINE),
    "sqlserver": re.compile(r"\[\w+\]\.\[\w+\]|\bNVARCHAR\s*\(|^GO\s*$|\bIDENTITY\s*\(\d",
                            re.IGNORECASE | re.MULTILINE),
    "oracle": re.compile(r"\bVARCHAR2\b|\bNUMBER\s*\(\d|\bSYSDATE\b", re.IGNORECASE),
    "bigquery": re.compile(r"\bSTRUCT\s*<|\bSAFE_CAST\b|`[\w-]+\.\w+\.\w+`|\bINT64\b|\bSTRING\s+NOT\b", re.IGNORECASE),
}  # fmt: skip
_DEFAULT = "postgresql"
_ENOUGH = 200_000


def dialect_of(texts: Iterable[str]) -> str:
    """The dialect that most of what is only written in some points to; PostgreSQL's, which is nearest to the standard,
    where nothing does. Only so much is looked at as shows it."""
    found: Counter[str] = Counter()
    left = _ENOUGH
    for text in texts:
        part = text[:left]
        for name, signs in _SIGNS.items():
            found[name] += sum(1 for _ in signs.finditer(part))
        left -= len(part)
        if left <= 0:
            break
    best = max(found, key=lambda name: found[name], default=_DEFAULT)
    return best if found[best] else _DEFAULT


def folds_lower(dialect: str) -> bool:
    """Whether names without quotes are kept in small letters."""
    return dialect in ("postgresql", "redshift")
