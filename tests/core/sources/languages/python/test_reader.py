"""What a Python module gives, without importing it."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import read, symbols_of


class SymbolKinds(unittest.TestCase):
    def test_what_is_imported_under_a_condition_does_not_replace_what_is_there(self):
        source = "from .core import Array, plan\nif enabled():\n    from .other import Array, more\n"
        reading = read(source, "p", is_package=True)
        self.assertEqual(
            reading.scope.imports, {"Array": "p.core.Array", "plan": "p.core.plan", "more": "p.other.more"}
        )
        self.assertNotIn(("p.Array", "p.other.Array"), reading.aliases)

    def test_a_list_of_exports_that_cannot_be_read_is_none(self):
        for text, names in (("['a'] + ['b']", ["a", "b"]), ("sorted(['b'])", ["b"]), ("other.__all__", None),
                            ("[s for s in dir()]", None), ("['a', *more]", None)):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(read(f"__all__ = {text}\n").exported, names)
        self.assertIsNone(read("__all__ = ['a']\n__all__ += other.__all__\n__all__ += ['b']\n").exported)

    def test_a_call_that_makes_the_module_anew_tells_what_it_has(self):
        source = "old, new = remake(\n    __name__, by_module={'p.canvas': ['Signature', 'chain']}, other={'a': 'b'})\nTABLE = {'x': 'y'}\n"
        names = dict(read(source, "p", is_package=True).reexports)
        self.assertEqual((names["p.Signature"], names["p.chain"]), ("p.canvas.Signature", "p.canvas.chain"))
        self.assertNotIn("p.x", names)

    def test_a_tuple_that_a_call_makes_is_a_class_and_a_module_may_warn_of_itself(self):
        found = symbols_of(
            "from collections import namedtuple\nTide = namedtuple('Tide', 'at height')\n'''A tide.'''\nOther = namedtuple('Other', names)\n"
        )
        self.assertEqual([p.name for p in found["m.Tide"].signatures[0].parameters], ["at", "height"])
        self.assertEqual(
            (found["m.Tide"].kind, found["m.Tide.at"].kind, found["m.Other"].kind), ("class", "attribute", "variable")
        )
        warned = symbols_of(
            "import warnings\nX = 1\nwarnings.warn('The module m is deprecated; use n.', DeprecationWarning)\n"
        )
        self.assertIn("deprecated", warned["m"].doc.deprecated.text)
        helped = symbols_of(
            "def f():\n    'F.'\n    own_deprecation_warning('The f function is deprecated.', since='1.14')\n    return 1\n"
        )
        self.assertIsNotNone(helped["m.f"].doc.deprecated)
        other = symbols_of("import warnings\nwarnings.warn('X is deprecated', DeprecationWarning)\n")
        self.assertIsNone(other["m"].doc)

    def test_every_kind_of_definition(self):
        found = symbols_of("""
            from dataclasses import dataclass
            from enum import Enum
            from typing import NamedTuple, NewType, Protocol, TypedDict, TypeVar, TypeAlias

            LIMIT = 3
            T = TypeVar("T")
            Metres = NewType("Metres", float)
            Pair: TypeAlias = tuple[int, int]

            @dataclass(frozen=True)
            class Point:
                x: int
                y: int = 0

            class Colour(Enum):
                RED = 1

            class Row(NamedTuple):
                a: int

            class Keys(TypedDict, total=False):
                b: str

            class Shape(Protocol):
                async def draw(self): ...

            class BadThing(Exception): ...

            def numbers():
                yield 1
        """)
        kinds = {path: (s.kind, s.flags) for path, s in found.items()}
        self.assertEqual(kinds["m.LIMIT"], ("constant", []))
        self.assertEqual(kinds["m.T"], ("type", ["variable"]))
        self.assertEqual(kinds["m.Metres"], ("type", ["new-type"]))
        self.assertEqual(kinds["m.Pair"], ("type", []))
        self.assertEqual(kinds["m.Point"], ("class", ["dataclass", "frozen"]))
        self.assertEqual(kinds["m.Colour"], ("enum", ["enum"]))
        self.assertEqual(kinds["m.Colour.RED"], ("constant", ["member"]))
        self.assertEqual(kinds["m.Row"][1], ["named-tuple"])
        self.assertEqual(kinds["m.Keys"][1], ["typed-dict", "partial"])
        self.assertEqual(kinds["m.Shape.draw"], ("method", ["async"]))
        self.assertEqual(kinds["m.BadThing"][0], "exception")
        self.assertEqual(kinds["m.numbers"], ("function", ["generator"]))

    def test_signature_keeps_every_kind_of_parameter(self):
        (signature,) = symbols_of("def f(a, /, b: int = 1, *c, d=2, **e) -> 'list[str]': ...")["m.f"].signatures
        self.assertEqual(
            [(p.name, p.kind, p.type, p.default) for p in signature.parameters],
            [("a", "positional-only", "", ""), ("b", "positional", "int", "1"), ("c", "variadic", "", ""),
             ("d", "keyword-only", "", "2"), ("e", "keywords", "", "")],
        )  # fmt: skip
        self.assertEqual(signature.returns, "list[str]")

    def test_class_is_called_with_its_initialiser_or_its_fields(self):
        found = symbols_of("""
            import dataclasses
            class A:
                def __init__(self, x, y=1): ...
            @dataclasses.dataclass
            class B:
                x: int
                y: list = dataclasses.field(default_factory=list)
        """)
        self.assertEqual([p.name for p in found["m.A"].signatures[0].parameters], ["x", "y"])
        self.assertEqual([p.default for p in found["m.B"].signatures[0].parameters], ["", "list()"])

    def test_overloads_are_one_symbol_with_several_signatures(self):
        found = symbols_of('''
            from typing import overload
            @overload
            def f(x: int) -> int: ...
            @overload
            def f(x: str) -> str: ...
            def f(x):
                """Do it."""
        ''')
        self.assertEqual([s.returns for s in found["m.f"].signatures], ["int", "str"])
        self.assertEqual(found["m.f"].doc.summary, "Do it.")

    def test_property_with_setter_is_one_settable_property(self):
        found = symbols_of('''
            class A:
                @property
                def x(self) -> int:
                    """X."""
                @x.setter
                def x(self, value): ...
        ''')
        self.assertEqual(
            (found["m.A.x"].kind, found["m.A.x"].type, found["m.A.x"].flags), ("property", "int", ["settable"])
        )

    def test_documentation_of_attributes(self):
        found = symbols_of('''
            #: Above.
            A = 1
            B = 2
            """Below."""
            C = 3  # not documentation
            class K:
                def __init__(self):
                    self.x = 1
                    """Of the instance."""
        ''')
        summaries = {p: s.doc.summary if s.doc else "" for p, s in found.items()}
        self.assertEqual(
            [summaries[p] for p in ("m.A", "m.B", "m.C", "m.K.x")], ["Above.", "Below.", "", "Of the instance."]
        )

    def test_conditional_definitions_are_read_and_the_first_stays(self):
        found = symbols_of("""
            try:
                import fast
                def f(a): ...
            except ImportError:
                def f(b): ...
            if True:
                class C: ...
        """)
        self.assertEqual(found["m.f"].signatures[0].parameters[0].name, "a")
        self.assertIn("m.C", found)

    def test_visibility_by_convention(self):
        found = symbols_of(
            "class _P:\n    def a(self): ...\nclass Q:\n    def _b(self): ...\n    def __len__(self): ..."
        )
        self.assertEqual(
            {p: found[p].visibility for p in ("m._P", "m._P.a", "m.Q._b", "m.Q.__len__")},
            {"m._P": "private", "m._P.a": "private", "m.Q._b": "private", "m.Q.__len__": "special"},
        )

    def test_decorator_of_pep_702_deprecates(self):
        found = symbols_of('@deprecated("Use `new` instead.")\ndef old(): ...')
        self.assertEqual(found["m.old"].doc.deprecated.instead, "new")

    def test_a_warning_at_the_start_of_a_body_deprecates_and_one_under_a_condition_does_not(self):
        warn = 'warnings.warn("{} is deprecated, use `new`", DeprecationWarning, stacklevel=2)'
        found = symbols_of(
            f'def a():\n    """A."""\n    {warn.format("a")}\n    return 1\n'
            f'def b(x):\n    """B."""\n    if x:\n        {warn.format("x")}\n'
            f'def c(x):\n    """C."""\n    {warn.format("The argument x")}\n'
        )
        self.assertEqual([bool(found[f"m.{n}"].doc.deprecated) for n in "abc"], [True, False, False])

    def test_one_deprecated_overload_is_only_itself(self):
        stub = "@overload\n@deprecated('Use b.')\ndef f(a: int): ...\n@overload\n{}def f(a: str): ...\n"
        for mark, is_all in (("", False), ("@deprecated('No.')\n", True)):
            doc = symbols_of(stub.format(mark))["m.f"].doc
            self.assertEqual(bool(doc and doc.deprecated), is_all)

    @given(st.text(max_size=300))
    def test_any_docstring_is_read_without_error(self, text):
        reading = read(f"def f():\n    {text!r}\n")
        self.assertEqual(reading.symbols[-1].path, "m.f")


if __name__ == "__main__":
    unittest.main()
