"""The tests of one file that are examples, as symbols."""

from __future__ import annotations

import re
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
    tests = _PythonTests(data, source) if source.language == "python" else _TreeTests(data, source)
    examples: dict[str, Symbol] = {}
    for test in tests.read():
        symbol = _symbol(test, source, tests)
        examples.setdefault(symbol.path, symbol)
    return SourceReading(list(examples.values()), tests.parts[:1] if examples else [])


class _Tests:
    """The tests of one file. What is not asked for, as of a file without examples, is not read."""

    def __init__(self, data: bytes, source: SourceFile) -> None:
        self._data, self._source, self._shown = data, source, source.options[TESTS]

    def read(self) -> list[FoundTest]:
        """Those that are examples."""
        raise NotImplementedError

    @property
    def parts(self) -> list[ModulePart]:
        """What names mean in the file."""
        raise NotImplementedError

    @cached_property
    def home(self) -> str:
        """The module of the file, or what stands for it where its language has none."""
        module = self.parts[0].scope.module if self.parts else self._source.module
        return module or PurePosixPath(self._source.file).name.partition(".")[0]

    def path_of(self, names: list[str]) -> str:
        """The path of a test of such names."""
        words = (_NO_WORD.sub("-", name).strip("-") for name in names)
        return _SEPARATORS.get(self._source.language, ".").join([self.home, *words])

    def _is_shown(self, names: list[str]) -> bool:
        return bool(self._shown) and any(fnmatchcase(self.path_of(names), pattern) for pattern in self._shown)


class _PythonTests(_Tests):
    def __init__(self, data: bytes, source: SourceFile) -> None:
        super().__init__(data, source)
        self._text = decode_python(data)
        self._tree = parse_python(self._text)

    def read(self) -> list[FoundTest]:
        return read_python_tests(self._text, self._tree, self._is_shown)

    @cached_property
    def parts(self) -> list[ModulePart]:
        source = self._source
        scope = read_scope(self._tree, self._text, file=source.file, module=source.module, is_package=source.is_package)
        return [ModulePart(scope, source.is_package)]


class _TreeTests(_Tests):
    def read(self) -> list[FoundTest]:
        text, language = decode_text(self._data).encode(), self._source.language
        is_script = language in ("javascript", "typescript")
        tree = parse_ecmascript(text, self._source) if is_script else SourceTree(text, language)
        found = (read_place(place, tree, language, self._is_shown) for place in find_tests(tree, language))
        return [test for test in found if test is not None]

    @cached_property
    def parts(self) -> list[ModulePart]:
        return read_source(self._data, self._source).parts


def _symbol(test: FoundTest, source: SourceFile, tests: _Tests) -> Symbol:
    example = Example(test.title or title_of(test.names[-1]), test.framework, [*test.setting, *test.parts])
    name = _NO_WORD.sub("-", test.names[-1]).strip("-")
    return Symbol(
        path=tests.path_of(test.names), name=name, kind=EXAMPLE, language=source.language, module=tests.home,
        file=source.file, line=test.line, end_line=test.end_line, doc=test.doc, mentions=test.mentions,
        body=sha256(shown_code(example).encode()).hexdigest()[:16], example=example,
    )  # fmt: skip
