"""A Python file's reading in the form that all languages share."""

from __future__ import annotations

from zarbek.core.sources.languages.python.reader import read_module
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading


def read_python(text: str, source: SourceFile) -> SourceReading:
    """Raises what ``ast.parse`` raises."""
    found = read_module(text, file=source.file, module=source.module, is_package=source.is_package)
    part = ModulePart(
        found.scope, source.is_package, found.aliases, found.reexports, list(found.scope.wildcards), found.exported,
        handed=found.handed,
    )  # fmt: skip
    return SourceReading(found.symbols, [part], found.findings, left_out=found.left_out, keywords=found.keywords)
