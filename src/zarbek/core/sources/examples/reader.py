"""The tests of one file that are examples, as symbols."""

from __future__ import annotations

import re
from collections.abc import Callable
from fnmatch import fnmatchcase
from functools import cached_property
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
    file, tests = (_of_python if source.language == "python" else _of_tree)(data, source)
    examples: dict[str, Symbol] = {}
    for test in tests:
        symbol = _symbol(test, file)
        examples.setdefault(symbol.path, symbol)
    return SourceReading(list(examples.values()), file.parts[:1] if examples else [])


class _TestFile:
    """What tests are called by their file. What names mean in it is read where that is asked for: of most files with
    tests nothing is."""

    def __init__(self, source: SourceFile, read_parts: Callable[[], list[ModulePart]]) -> None:
        self.source, self._read_parts = source, read_parts

    @cached_property
    def parts(self) -> list[ModulePart]:
        """What names mean in the file."""
        return self._read_parts()

    @cached_property
    def home(self) -> str:
        """The module of the file, or what stands for it where its language has none."""
        module = self.parts[0].scope.module if self.parts else self.source.module
        return module or PurePosixPath(self.source.file).name.partition(".")[0]

    def path_of(self, names: list[str]) -> str:
        """The path of a test of such names."""
        return _SEPARATORS.get(self.source.language, ".").join([self.home, *map(_word, names)])

    def is_shown(self, names: list[str]) -> bool:
        """Whether a test of such names is an example without a mark."""
        return any(fnmatchcase(self.path_of(names), pattern) for pattern in self.source.options[TESTS])


def _of_python(data: bytes, source: SourceFile) -> tuple[_TestFile, list[FoundTest]]:
    text = decode_python(data)
    tree = parse_python(text)

    def parts() -> list[ModulePart]:
        scope = read_scope(tree, text, file=source.file, module=source.module, is_package=source.is_package)
        return [ModulePart(scope, source.is_package)]

    file = _TestFile(source, parts)
    return file, read_python_tests(text, tree, file.is_shown)


def _of_tree(data: bytes, source: SourceFile) -> tuple[_TestFile, list[FoundTest]]:
    text, language = decode_text(data).encode(), source.language
    is_script = language in ("javascript", "typescript")
    tree = parse_ecmascript(text, source) if is_script else SourceTree(text, language)
    file = _TestFile(source, lambda: read_source(data, source).parts)
    found = (read_place(place, tree, language, file.is_shown) for place in find_tests(tree, language))
    return file, [test for test in found if test is not None]


def _word(name: str) -> str:
    return _NO_WORD.sub("-", name).strip("-")


def _symbol(test: FoundTest, file: _TestFile) -> Symbol:
    example = Example(test.title or title_of(test.names[-1]), test.framework, [*test.setting, *test.parts])
    return Symbol(
        path=file.path_of(test.names), name=_word(test.names[-1]), kind=EXAMPLE, language=file.source.language,
        module=file.home, file=file.source.file, line=test.line, end_line=test.end_line, doc=test.doc,
        mentions=test.mentions, body=sha256(shown_code(example).encode()).hexdigest()[:16], example=example,
    )  # fmt: skip
