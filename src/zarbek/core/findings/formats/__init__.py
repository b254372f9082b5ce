"""A report in the forms that people and machines ask for."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from zarbek.core.findings.formats.junit import to_junit
from zarbek.core.findings.formats.markdown import to_markdown
from zarbek.core.findings.formats.sarif import to_sarif
from zarbek.core.findings.formats.table import to_csv
from zarbek.core.findings.report import Report


def to_json(report: Report) -> str:
    """A report as JSON, indented by two spaces."""
    return msgspec.json.format(msgspec.json.encode(report), indent=2).decode() + "\n"


#: Name of a format to its media type and writer.
FORMATS: dict[str, tuple[str, Callable[[Report], str]]] = {
    "json": ("application/json", to_json),
    "sarif": ("application/sarif+json", to_sarif),
    "junit": ("application/xml", to_junit),
    "csv": ("text/csv; charset=utf-8", to_csv),
    "markdown": ("text/markdown; charset=utf-8", to_markdown),
}


def write_report(report: Report, form: str) -> str:
    """form: a key of FORMATS."""
    return FORMATS[form][1](report)
