"""The languages that can be read: their files, and who reads them."""

from __future__ import annotations

import posixpath
from functools import cache
from pkgutil import resolve_name
from typing import Any

from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.languages.syntax_tree import SourceTree
from zarbek.core.sources.languages.unread_parts import unread_parts, with_unread
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
#: Who reads a language, as MODULE:FUNCTION below this package, looked up at the first file of it. Of a file's
#: tree: those whose text the grammar knows as it stands.
_TREE_READERS = {"java": "java.reader:read_java", "go": "go.reader:read_go"}
#: Of its text, giving the tree as well: those that prepare the text for the grammar.
_TEXT_READERS = {
    "kotlin": "kotlin.reader:read_kotlin",
    "csharp": "csharp.reader:read_csharp",
    "javascript": "ecmascript.reader:read_ecmascript",
    "typescript": "ecmascript.reader:read_ecmascript",
    "rust": "rust.reader:read_rust",
}
_CPP = "cpp.reader:read_cpp"
_PYTHON = "python.file_reading:read_python"


def language_of(file: str) -> str:
    """The language of a file by its name, or empty."""
    return EXTENSIONS.get(posixpath.splitext(file)[1].lower(), "")


def read_source(data: bytes, source: SourceFile) -> SourceReading:
    """Read one file with its language's reader.

    Raises UnreadableText, and for Python what ``ast.parse`` raises.
    """
    language = source.language
    found: SourceReading
    if language == "python":
        found = _reader(_PYTHON)(decode_python(data), source)
        return found
    text = decode_text(data).encode()
    if language in ("c", "cpp"):
        found = _reader(_CPP)(text, source)
        return found
    if language in _TEXT_READERS:
        found, tree = _reader(_TEXT_READERS[language])(text, source)
    else:
        tree = SourceTree(text, language)
        found = _reader(_TREE_READERS[language])(tree, source)
    found.findings += unread_parts(tree, source)
    return with_unread(found, tree)


@cache
def _reader(place: str) -> Any:
    return resolve_name(f"zarbek.core.sources.languages.{place}")
