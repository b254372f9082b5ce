"""JavaScript and TypeScript as trees; forms that the grammar does not know stand as ones that it does, with
equal offsets and lines."""

from __future__ import annotations

import re

from zarbek.core.sources.languages.preprocessor import blanked
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.syntax_tree import SourceTree, first_error, line_of

#: Types by their module (``import("x").T<U>``), which the grammar does not know with type arguments.
_IMPORT_TYPE = re.compile(rb"\bimport\((?:\"[^\"\n]*\"|'[^'\n]*')\)\.")
_EXPORT_TYPE = re.compile(rb"^([ \t]*export\s+)type(?=\s*\*)", re.MULTILINE)
#: How a type parameter varies (TypeScript handbook, "Variance Annotations").
_VARIANCE = re.compile(rb"(?<=[<,])(\s*)((?:in\s+out|in|out|const)\s)(?=\s*[A-Za-z_$][\w$]*\s*(?:[,>=]|extends\b))")
_ACCESSOR = re.compile(rb"\b(abstract\s+)accessor(?=\s+[\w$#])")
#: The end of a type, and on the next line what goes on with it unless a semicolon stands between: the next
#: signature of an interface (ECMA-262, 12.10, "Automatic Semicolon Insertion", as TypeScript extends it).
_NEXT_SIGNATURE = re.compile(rb"([\w$\])}>'\"])((?:[ \t]*\r?\n)+)[ \t](?=[ \t]*[(<\[])")


def parse_ecmascript(text: bytes, source: SourceFile) -> SourceTree:
    """Raises UnreadableText for what takes too long."""
    grammar = "tsx" if source.file.endswith((".tsx", ".jsx")) else source.language
    if source.language != "typescript":
        return SourceTree(text, grammar)
    known = _IMPORT_TYPE.sub(lambda m: b" " * len(m[0]), text)
    known = _EXPORT_TYPE.sub(rb"\1    ", known)
    known = _VARIANCE.sub(lambda m: m[1] + blanked(m[2]), known)
    known = _ACCESSOR.sub(rb"\1        ", known)
    tree = SourceTree(known, grammar, text)
    if first_error(tree.root) is None:
        return tree
    again = SourceTree(_NEXT_SIGNATURE.sub(rb"\1\2;", known), grammar, text)
    return again if _read_up_to(again) > _read_up_to(tree) else tree


def _read_up_to(tree: SourceTree) -> float:
    error = first_error(tree.root)
    return line_of(error) if error is not None else float("inf")
