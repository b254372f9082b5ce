import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.model.naming import (
    enclosing_of,
    first_part,
    is_inner_name,
    key_of,
    lies_in,
    parameter_types,
    split_parts,
)

PARTS = st.lists(st.from_regex(r"[a-zA-Z_]\w{0,6}", fullmatch=True), min_size=1, max_size=5)


class Names(unittest.TestCase):
    def test_keys_of_all_spellings(self):
        for name, key in {
            "a.b.C#m(int, List<String>)": "a.b.C.m",
            "core::option::Option": "core.option.Option",
            "n::A::operator()(int)const": "n.A.operator call",
            "n::A::operator==(const A &)": "n.A.operator ==",
            "std::vec!": "std.vec",
            "halmere.example/relay.Station.Send": "halmere.example/relay.Station.Send",
            "plain": "plain",
        }.items():
            with self.subTest(name):
                self.assertEqual(key_of(name), key)

    def test_what_lies_in_what(self):
        for path, outer, lies in (
            ("p.x", "p", True), ("p.xs", "p.x", False), ("p.x", "p.x", True), ("n::A::operator()(int)", "n::A", True),
            ("n::Ab", "n::A", False), ("fleet/relay.Send", "fleet", True), ("p.f(int)", "p.f", True), ("p", "", True),
        ):  # fmt: skip
            with self.subTest(path=path, outer=outer):
                self.assertIs(lies_in(path, outer), lies)

    def test_parameter_types_are_simple(self):
        for name, types in {
            "a.m": None,
            "a.m()": (),
            "a.m(int, final java.util.List<Map<K, V>>... x)": ("int", "List[]"),
            "n::f(const std::vector<int> &v, char *)": ("vector", "char"),
            "m(String a[], ref int b)": ("String[]", "int"),
        }.items():
            with self.subTest(name):
                self.assertEqual(parameter_types(name), types)

    @given(PARTS, st.sampled_from([".", "::"]))
    def test_the_last_part_goes_and_the_first_stays(self, parts, separator):
        name = separator.join(parts)
        self.assertEqual(enclosing_of(name), separator.join(parts[:-1]))
        self.assertEqual(first_part(name), parts[0])
        self.assertEqual(key_of(name), ".".join(parts))

    @given(st.text(alphabet="ab,()<>[]-> ", max_size=40))
    def test_splitting_loses_nothing(self, text):
        self.assertEqual(",".join(split_parts(text)), text)

    def test_names_for_a_project_alone_by_custom(self):
        for name, language, inner in (
            ("lib::detail::f", "cpp", True), ("lib::f", "cpp", False), ("_lib_init", "c", True), ("lib_init", "c", False),
            ("lib::f__x", "cpp", True), ("lib::internal::T", "rust", True), ("lib::_f", "rust", False),
            ("lib.detail.f", "python", False), ("_lib.f", "java", False),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(is_inner_name(name, language), inner)
        self.assertTrue(is_inner_name("lib::detail", "cpp", is_namespace=True))
        self.assertFalse(is_inner_name("lib::detail", "cpp"))
