"""The languages that can be read: their files, and who reads them."""

from __future__ import annotations

from importlib import import_module
from pathlib import PurePosixPath

import msgspec

from zarbek.core.model.finding import Finding
from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import SourceTree, first_error, line_of, unread_words
from zarbek.core.sources.source_text import decode_python, decode_text

#: File name ending to language. ``.h`` is C until its text says otherwise.
EXTENSIONS = {
    ".py": "python", ".pyi": "python", ".java": "java", ".kt": "kotlin", ".kts": "", ".c": "c", ".cc": "cpp",
    ".cpp": "cpp", ".cxx": "cpp", ".h": "c",
    ".hpp": "cpp", ".hh": "cpp", ".hxx": "cpp", ".h++": "cpp", ".ipp": "", ".cppm": "cpp", ".ixx": "cpp",
    ".cs": "csharp", ".js": "javascript", ".mjs": "javascript", ".cjs": "javascript", ".jsx": "javascript",
    ".ts": "typescript", ".mts": "typescript", ".cts": "typescript", ".tsx": "typescript", ".go": "go", ".rs": "rust",
}  # fmt: skip
LANGUAGES = tuple(sorted({name for name in EXTENSIONS.values() if name}))
_READERS = {
    "java": ("java.reader", "read_java"),
    "kotlin": ("kotlin.reader", "read_kotlin"),
    "csharp": ("csharp.reader", "read_csharp"),
    "javascript": ("ecmascript.reader", "read_ecmascript"),
    "typescript": ("ecmascript.reader", "read_ecmascript"),
    "go": ("go.reader", "read_go"),
    "rust": ("rust.reader", "read_rust"),
}
#: Languages whose readers prepare the text for the grammar themselves.
_OWN_PARSING = frozenset({"rust", "kotlin", "csharp", "javascript", "typescript"})


def language_of(file: str) -> str:
    """The language of a file by its name, or empty."""
    return EXTENSIONS.get(PurePosixPath(file).suffix.lower(), "")


def read_source(data: bytes, source: SourceFile) -> SourceReading:
    """Read one file with its language's reader.

    Raises UnreadableText, and for Python what ``ast.parse`` raises.
    """
    if source.language == "python":
        from zarbek.core.sources.languages.python.file_reading import read_python

        return read_python(decode_python(data), source)
    text = decode_text(data).encode()
    if source.language in ("c", "cpp"):
        from zarbek.core.sources.languages.cpp.reader import read_clike

        return read_clike(text, source)
    module, function = _READERS[source.language]
    read = getattr(import_module(f"zarbek.core.sources.languages.{module}"), function)
    if source.language in _OWN_PARSING:
        reading, tree = read(text, source)
    else:
        tree = SourceTree(text, source.language)
        reading = read(tree, source)
    found: SourceReading = reading
    found.findings += unread_parts(tree, source)
    return with_unread(found, tree)


def with_unread(reading: SourceReading, tree: SourceTree) -> SourceReading:
    """The reading with the words that stand in what could not be read."""
    words = unread_words(tree) if reading.parts else []
    if words:
        part = reading.parts[0]
        made = sorted({*part.scope.made, *words})
        reading.parts[0] = msgspec.structs.replace(part, scope=msgspec.structs.replace(part.scope, made=made))
    return reading


def unread_parts(tree: SourceTree, source: SourceFile) -> list[Finding]:
    """text/unreadable for the first place that the grammar could not read."""
    error = first_error(tree.root) if tree.root.has_error else None
    if error is None:
        return []
    line = line_of(error)
    shown = tree.lines[line - 1].strip()[:80] if line <= len(tree.lines) else ""
    return [
        Finding(
            "text/unreadable", "note", source.module or source.file,
            f"Part of {source.file} could not be read, from line {line} on; the rest was.",
            file=source.file, line=line, text=shown,
        )
    ]  # fmt: skip
