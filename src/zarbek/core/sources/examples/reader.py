"""The tests of one file that are examples, as symbols."""

from __future__ import annotations

import re
from fnmatch import fnmatchcase
from hashlib import sha256
from pathlib import PurePosixPath

from zarbek.core.model.example import EXAMPLE, Example, shown_code
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.examples.finding import find_tests
from zarbek.core.sources.examples.found_test import FoundTest
from zarbek.core.sources.examples.python_tests import read_python_tests
from zarbek.core.sources.examples.test_names import title_of
from zarbek.core.sources.examples.tree_tests import read_place
from zarbek.core.sources.languages.ecmascript.parsing import parse_ecmascript
from zarbek.core.sources.languages.python.reader import parse_python, read_scope
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.languages.registry import read_source
from zarbek.core.sources.languages.syntax_tree import SourceTree
from zarbek.core.sources.source_text import decode_python, decode_text

#: Key of a source's options under which stand the names of tests that are examples without a mark: that it holds tests.
TESTS = "tests"
_SEPARATORS = {"cpp": "::", "c": "::", "rust": "::"}
_NO_WORD = re.compile(r"[^\w$]+")


def read_examples(data: bytes, source: SourceFile) -> SourceReading:
    """The examples of a file, and what names mean in it. Raises UnreadableText, and for Python what ``ast.parse``
    raises."""
    reading, found = _read(data, source)
    shown = source.options[TESTS]
    examples: dict[str, Symbol] = {}
    for test in found:
        symbol = _symbol(test, source, _home(reading, source))
        if test.marked or any(fnmatchcase(symbol.path, pattern) for pattern in shown):
            examples.setdefault(symbol.path, symbol)
    return SourceReading(list(examples.values()), reading.parts[:1] if examples else [])


def _read(data: bytes, source: SourceFile) -> tuple[SourceReading, list[FoundTest]]:
    if source.language == "python":
        source_text = decode_python(data)
        tree = parse_python(source_text)
        scope = read_scope(tree, source_text, file=source.file, module=source.module, is_package=source.is_package)
        return SourceReading(parts=[ModulePart(scope, source.is_package)]), read_python_tests(source_text, tree)
    return read_source(data, source), _found(data, source)


def _found(data: bytes, source: SourceFile) -> list[FoundTest]:
    text = decode_text(data).encode()
    tree = (
        parse_ecmascript(text, source)
        if source.language in ("javascript", "typescript")
        else SourceTree(text, source.language)
    )
    return [read_place(place, tree, source.language) for place in find_tests(tree, source.language)]


def _home(reading: SourceReading, source: SourceFile) -> str:
    """The module of a file, or what stands for it where its language has none."""
    module = reading.parts[0].scope.module if reading.parts else source.module
    return module or PurePosixPath(source.file).name.partition(".")[0]


def _symbol(test: FoundTest, source: SourceFile, home: str) -> Symbol:
    separator = _SEPARATORS.get(source.language, ".")
    names = [_NO_WORD.sub("-", name).strip("-") for name in test.names]
    example = Example(test.title or title_of(test.names[-1]), test.framework, [*test.setting, *test.parts])
    return Symbol(
        path=separator.join([home, *names]), name=names[-1], kind=EXAMPLE, language=source.language, module=home,
        file=source.file, line=test.line, end_line=test.end_line, doc=test.doc, mentions=test.mentions,
        body=sha256(shown_code(example).encode()).hexdigest()[:16], example=example,
    )  # fmt: skip
