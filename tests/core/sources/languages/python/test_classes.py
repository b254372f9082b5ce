"""What kind of class a definition makes."""

import ast
import unittest

from zarbek.core.sources.languages.python.classes import class_flags, class_kind, tuple_fields


def flags_of(text):
    node = ast.parse(text).body[0]
    return class_flags(node, [ast.unparse(b) for b in node.bases])


class Classes(unittest.TestCase):
    def test_bases_tell(self):
        for text, flags, kind in (
            ("class A(enum.IntEnum): ...", ["enum"], "enum"), ("class A(SinkError): ...", ["exception"], "exception"),
            ("class A(Protocol[T]): ...", ["protocol", "generic"], "class"), ("class A(TypedDict, total=False): ...", ["typed-dict", "partial"], "class"),
            ("class A(metaclass=abc.ABCMeta): ...", ["abstract"], "class"), ("class A(Errors): ...", [], "class"),
            ("class A(Generic[T], ABC): ...", ["generic", "abstract"], "class"), ("class A(B, UserWarning): ...", ["exception"], "exception"),
        ):  # fmt: skip
            self.assertEqual((text, flags_of(text), class_kind("A", flags_of(text))), (text, flags, kind))

    def test_fields_of_tuples_that_a_call_makes(self):
        for text, names in (
            ('namedtuple("Tide", "at height")', ["at", "height"]), ('collections.namedtuple("Tide", ["at", "height"])', ["at", "height"]),
            ('NamedTuple("Tide", [("at", int), ("height", float)])', ["at", "height"]), ('namedtuple("Tide", "at,height")', ["at", "height"]),
            ('namedtuple("Tide", fields)', None), ('namedtuple("Tide", ["at", other])', None), ('tuple("Tide", "at")', None), ("namedtuple", None),
        ):  # fmt: skip
            self.assertEqual((text, tuple_fields(ast.parse(text).body[0].value)), (text, names))


if __name__ == "__main__":
    unittest.main()
