"""What breaks callers, by language, and what must not be called a break."""

import unittest

from tests.support.sources import gather_files
from zarbek.core.changes.comparison import compare_releases
from zarbek.core.changes.version_bump import promised_level, suggest_version
from zarbek.core.linking.versions import line_of


def compare(old, new, file="m.py", versions=("1.0.0", "1.1.0")):
    sides = [gather_files({file: text}, slug="p", version=v) for text, v in zip((old, new), versions, strict=True)]
    (_, before, olds), (_, after, news) = sides
    old_by, new_by = {s.path: s for s in olds}, {s.path: s for s in news}
    return compare_releases(
        before, after, load_old=lambda ps: {p: old_by[p] for p in ps}, load_new=lambda ps: {p: new_by[p] for p in ps}
    )


def told(old, new, file="m.py"):
    """(kind, what is different, whether it breaks) of every change."""
    found = []
    for change in compare(old, new, file).changes:
        found += [(change.kind, d.kind, d.breaks) for d in change.details] or [(change.kind, "", change.breaks)]
    return found


class Python(unittest.TestCase):
    def check(self, old, new, *expected):
        with self.subTest(new):
            self.assertEqual(told(f"def f{old}: ...\n", f"def f{new}: ...\n"), list(expected))

    def test_what_is_said_of_a_parameter_and_whose_it_is(self):
        for old, new, text in (
            ("(a)", "(*, a)", "The parameter a can only be given by name now."),
            ("(a)", "(a, /)", "The parameter a can only be given by position now."),
            ("(*, a)", "(a)", "The parameter a can be given by position and by name now."),
            ("(a=1)", "(a=2)", "a is 2 if left out; it was 1."),
        ):
            with self.subTest(new):
                (change,) = compare(f"def f{old}: ...\n", f"def f{new}: ...\n").changes
                self.assertEqual([(d.text, d.name) for d in change.details], [(text, "a")])

    def test_another_spelling_is_no_change(self):
        self.check("(a: Tuple[int, ...]) -> List[str]", "(a: tuple[int, ...]) -> list[str]")
        self.check("(a: typing.Sequence[int])", "(a: Sequence[int])")
        self.assertEqual(told("class C(object): ...", "class C: ..."), [])
        self.assertEqual(told("class C(abc.ABC): ...", "class C(ABC): ..."), [])
        rust = "pub struct Hull;\nimpl {}FromIterator<u8> for Hull {{}}\n"
        self.assertEqual(told(rust.format(""), rust.format("core::iter::"), "src/lib.rs"), [])

    def test_how_a_class_is_made_is_part_of_it(self):
        found = told(
            "class C:\n    def __init__(self, a, proxies=None): ...", "class C:\n    def __init__(self, a): ..."
        )
        self.assertIn(("signature", "parameter-removed", True), found)

    def test_all_ways_of_calling_are_compared(self):
        frame = "from typing import overload\n{}def f(a): ...\n"
        one, two = "@overload\ndef f(a: int): ...\n", "@overload\ndef f(a: str): ...\n"
        self.assertEqual(told(frame.format(one + two), frame.format(two + one)), [])
        self.assertEqual(told(frame.format(one + two), frame.format(one)), [("signature", "overload-removed", True)])
        self.assertEqual(told(frame.format(one), frame.format(one + two)), [("signature", "overload-added", False)])

    def test_parameters(self):
        self.check("(a)", "(a)")
        self.check("(a)", "(a, b)", ("signature", "parameter-added", True))
        self.check("(a)", "(a, b=1)", ("signature", "parameter-added", False))
        self.check("(a)", "(b=1, a=2)", ("signature", "default-added", False), ("signature", "parameter-added", True))
        self.check("(a)", "(a, *, b=1)", ("signature", "parameter-added", False))
        self.check("(a, b)", "(a)", ("signature", "parameter-removed", True))
        self.check(
            "(a, *, b=1)",
            "(a, **rest)",
            ("signature", "parameter-removed", False),
            ("signature", "parameter-added", False),
        )
        self.check("(a)", "(x)", ("signature", "parameter-renamed", True))
        self.check("(a, /)", "(x, /)", ("signature", "parameter-renamed", False))
        self.check("(a, b)", "(b, a)", ("signature", "parameter-order", True))
        self.check("(a, b)", "(a, *, b)", ("signature", "parameter-kind", True))
        self.check("(a, *, b)", "(a, b)", ("signature", "parameter-kind", False))
        self.check("(a=1)", "(a)", ("signature", "default-removed", True))
        self.check("(a=1)", "(a=2)", ("signature", "default-changed", False))

    def test_a_parameter_under_another_name_is_told_by_its_place(self):
        named, added = ("signature", "parameter-renamed", True), ("signature", "parameter-added", False)
        gone, kind = ("signature", "parameter-removed", True), ("signature", "parameter-kind", True)
        self.check("(data, *, many)", "(s, /, *, many)", named, kind)
        self.check("(f=None, pass_many=False)", "(f=None, *, pass_group=False)", named, kind)
        self.check("(len=1024)", "(buflen: int = 1024)", named, ("signature", "parameter-type", False))
        self.check("(mix=True)", "(catch_all=True)", gone, added)
        self.check("(a: A)", "(b: B)", named, ("signature", "parameter-type", False))
        self.check("(__call, *args)", "(call, /, *args)", ("signature", "parameter-renamed", False))

    def test_what_takes_anything_may_have_taken_what_has_a_name_now(self):
        told_now, added = ("signature", "parameter-removed", False), ("signature", "parameter-added", False)
        self.check("(*args, **kw)", "(host, port=1)", told_now, told_now, added, added)
        self.check("(a, **attrs)", "(a, chain=False, **kwargs)", ("signature", "parameter-renamed", False), added)
        self.check("(a, *args)", "(a)", ("signature", "parameter-removed", True))

    def test_several_ways_of_calling_together_take_what_one_took(self):
        ways = "from typing import overload\n" + "".join(
            f"@overload\ndef f({p}): ...\n" for p in ("text: str", "text: None = None", "text: str, more: int")
        )
        for old in ("(text=None)", "(text: str | None = None)", "(text, more=1)"):
            with self.subTest(old):
                details = [d for c in compare(f"def f{old}: ...\n", f"{ways}def f(text=None, more=1): ...\n").changes
                           for d in c.details]  # fmt: skip
                self.assertEqual([d.kind for d in details if d.breaks], [])

    def test_members_go_with_their_module_and_nothing_moves_into_a_stranger(self):
        sides = [
            {
                "p/__init__.py": "",
                "p/old.py": "def a(x): ...\ndef b(x): ...\nclass C: ...\n",
                "p/kept.py": "def k(): ...",
            },
            {"p/__init__.py": "", "p/kept.py": "def k(): ...\n", "p/fresh.py": "LIMIT = 3\n"},
        ]
        (_, before, olds), (_, after, news) = (gather_files(s, slug="p", version="1") for s in sides)
        loads = ({s.path: s for s in side} for side in (olds, news))
        load_old, load_new = ((lambda paths, by=by: {p: by[p] for p in paths}) for by in loads)
        found = compare_releases(before, after, load_old=load_old, load_new=load_new).changes
        self.assertEqual([(c.kind, c.path) for c in found if c.kind in ("removed", "moved")], [("removed", "p.old")])
        self.assertEqual(found[0].details[0].text, "With it went 3 more elements.")

    def test_types_widen_and_narrow(self):
        self.check("(a: Any)", "(a: int)", ("signature", "parameter-type", False))
        self.check("(a: int)", "(a: int | None)", ("signature", "parameter-type", False))
        self.check("(a: Optional[int])", "(a: int)", ("signature", "parameter-type", True))
        self.check("(a: int)", "(a: float)", ("signature", "parameter-type", False))
        self.check("(a)", "(a: int)", ("signature", "parameter-type", False))
        self.check("() -> int", "() -> int | None", ("signature", "return-type", True))
        self.check("() -> int | None", "() -> int", ("signature", "return-type", False))
        self.check("() -> Union[int, str]", "() -> str | int")
        self.check("() -> list[int]", "() -> dict[str, int]", ("signature", "return-type", True))

    def test_values_bases_and_members(self):
        self.assertEqual(told("class A(B): ...", "class A: ..."), [("signature", "base-removed", True)])
        self.assertEqual(told("class A: ...", "class A(B): ..."), [("signature", "base-added", False)])
        self.assertEqual(told("class A(Generic[T]): ...", "class A: ..."), [])
        prop = "class A:\n    @property\n    def b(self): ...\n"
        self.assertEqual([d for d in told(prop, "class A:\n    b: int = 1\n") if d[2]], [])
        self.assertEqual(told("#: Most.\nMOST = 3", "#: Most.\nMOST = 4"), [("signature", "value", False)])
        held = "from collections.abc import MutableMapping\nclass A(MutableMapping):\n    def get(self, key): ...\n{}"
        went = told(held.format("    def pop(self, key): ...\n    def mine(self): ...\n"), held.format(""))
        self.assertEqual(sorted(went), [("removed", "", False), ("removed", "", True)])
        csharp = "public class A {{ public {}Task<int> F() {{ return null; }} }}\n"
        self.assertEqual(told(csharp.format("async "), csharp.format(""), "A.cs"), [])
        java = "package p;\npublic class A {{ {} }}\n"
        self.assertEqual(told(java.format(""), java.format("public A() {}"), "A.java"), [])
        self.assertEqual(told(java.format("public A(int b) {}"), java.format("public A() {} public A(int b) {}"), "A.java"),
                         [("added", "", False)])  # fmt: skip
        rust = "pub struct Hull;\nimpl Hull {{ pub {}fn f(&self) {{}} }}\n{}"
        self.assertEqual(told(rust.format("", ""), rust.format("unsafe ", "#[cfg(doctest)]\npub struct Only;\n"), "src/lib.rs"),
                         [("signature", "unsafe", True)])  # fmt: skip
        wider = "pub struct A<T, S>;\nimpl<T> Sub<&A<T{0}>> for &A<T{0}> {{ fn sub(self, o: &A<T{0}>) {{}} }}\n"
        self.assertNotIn("removed", [k for k, _, _ in told(wider.format(""), wider.format(", S"), "src/lib.rs")])
        gone = told("class A(Enum):\n    B = 1\n    C = 2", "class A(Enum):\n    B = 1")
        self.assertEqual(gone, [("removed", "", True)])

    def test_what_readers_do_not_see_is_no_change(self):
        self.assertEqual(told("def _f(a): ...", "def _f(): ..."), [])
        self.assertEqual(told("def f(): ...", "def _f(): ..."), [("removed", "", True)])

    def test_deprecation_and_texts(self):
        text = 'def f():\n    """{}"""\n'
        mark = text.format("Finds tides.\n\n    .. deprecated:: 2.0\n       Use :func:`g`.")
        self.assertEqual(told(text.format("Finds tides."), mark), [("deprecated", "deprecated", False)])
        self.assertEqual(
            told(text.format("Finds tides, in metres."), text.format("Finds tides, in feet.")),
            [("text", "text", False)],
        )
        for near in ("Finds  *tides* in metres", "Fnds tides, in metres."):
            self.assertEqual(told(text.format("Finds tides, in metres."), text.format(near)), [], near)
        self.assertEqual(told(text.format("Waits 3 s."), text.format("Waits 30 s.")), [("text", "text", False)])

    def test_documented_errors_are_told_and_break_nobody(self):
        text = 'def f():\n    """Finds.\n\n    Raises:\n        {}: When there is none.\n    """\n'
        self.assertEqual(
            [t for t in told('def f():\n    """Finds."""\n', text.format("KeyError")) if t[1] != "text"],
            [("signature", "error-added", False)],
        )


class Moves(unittest.TestCase):
    BODY = "    total = first + second\n    checked = total * 2 - first\n    return checked // 3 + second\n"

    def test_an_equal_body_under_a_new_name_is_a_move_beyond_doubt(self):
        comparison = compare(
            f"def old(first, second):\n{self.BODY}", f"def fresh(first, second, third=0):\n{self.BODY}"
        )
        (move,) = comparison.changes
        self.assertEqual(
            (move.kind, move.was, move.path, move.certain, move.breaks), ("moved", "m.old", "m.fresh", True, True)
        )

    def test_a_name_that_still_leads_there_breaks_nobody(self):
        comparison = compare(
            f"def old(first, second):\n{self.BODY}", f"def fresh(first, second):\n{self.BODY}\nold = fresh\n"
        )
        self.assertEqual([(c.kind, c.breaks) for c in comparison.changes], [("moved", False)])

    def test_two_candidates_are_no_certainty(self):
        comparison = compare("def plot(a, b): ...", "def draw(a, b): ...\ndef chart(a, b): ...")
        self.assertEqual(sorted(c.kind for c in comparison.changes), ["added", "added", "removed"])


class OtherLanguages(unittest.TestCase):
    def test_java(self):
        old = "package a;\n/** B. */\npublic interface B {{ int f({}) {}; {} }}"
        cases = (
            (("int a", "", ""), ("long a", "", ""), [("signature", "parameter-type", True)]),
            (("int a", "", ""), ("int b", "", ""), [("signature", "parameter-renamed", False)]),
            (("", "", ""), ("", "throws E", ""), [("signature", "error-added", True)]),
            (("", "", ""), ("", "", "void g();"), [("added", "member-added", True)]),
            (("", "", ""), ("", "", "default void g() {}"), [("added", "", False)]),
        )
        for before, after, expected in cases:
            with self.subTest(after):
                self.assertEqual(told(old.format(*before), old.format(*after), "a/B.java"), expected)

    def test_what_is_inherited_now_is_still_there(self):
        old = "package a;\npublic class B { public int f() { return 1; } public int g() { return 1; } }\n"
        new = "package a;\nabstract class A { public int f() { return 1; } }\npublic class B extends A { }\n"
        self.assertEqual(
            [t for t in told(old, new, "a/B.java") if t[0] == "removed"],
            [("removed", "", True), ("removed", "", False)],
        )

    def test_what_can_still_be_reached_or_never_was_meant_for_others_breaks_nobody(self):
        hidden = "pub struct S;\nimpl S {{\n    {}pub fn f(&self) {{}}\n}}\n"
        base = "package a;\npublic class B extends {} {{ }}\n"
        cases = (
            (hidden.format(""), hidden.format("#[doc(hidden)] "), "src/lib.rs"),
            ("namespace n { namespace detail { void f(); } void g(); }", "namespace n { void g(); }", "a.hpp"),
            ("void hull__free(void);\nvoid hull_a(void);", "void hull_a(void);", "a.h"),
            (base.format("Reader"), base.format("MyReader"), "a/B.java"),
            (base.format("List<A>"), base.format("List<B>"), "a/B.java"),
            (
                "package a;\npublic class B { public void f() throws IOException {} }",
                "package a;\npublic class B { public void f() throws FileError {} }",
                "a/B.java",
            ),
            (
                "package q\n\nfunc F() map[string]interface{} { return nil }",
                "package q\n\nfunc F() map[string]any { return nil }",
                "a.go",
            ),
            ('bool operator"" _km(int a);', 'bool operator""_km(int a);', "a.hpp"),
            (
                "def f(): ...\n",
                'def __getattr__(name):\n    if name == "f":\n        return 1\n    raise AttributeError(name)\n',
                "m.py",
            ),
        )
        for old, new, file in cases:
            with self.subTest(file=file, new=new):
                self.assertEqual([t for t in told(old, new, file) if t[2]], [])
        self.assertEqual(
            told(base.format("Reader"), "package a;\npublic class B { }\n", "a/B.java"),
            [("signature", "base-removed", True)],
        )

    def test_names_of_parameters_are_nothing_where_nobody_writes_them(self):
        old = "package a;\npublic class B { public int f(String text, int repeat) { return 1; } }\n"
        new = "package a;\npublic class B { public int f(String repeat, int count) { return 1; } }\n"
        self.assertEqual({t[1:] for t in told(old, new, "a/B.java")}, {("parameter-renamed", False)})

    def test_types_that_may_be_the_same_break_nobody(self):
        for old, new, file in (
            ("pub fn f() -> Result<u8, Error> {}", "pub fn f() -> io::Result<u8> {}", "src/lib.rs"),
            ("pub fn f<T: ?Sized>(a: T) {}", "pub fn f<T>(a: T) where T: ?Sized {}", "src/lib.rs"),
            ("export function f(a: Row) {}", "export function f(a: RowLike) {}", "src/a.ts"),
            ("export interface A { f(a: string): void }", "export interface A { f: Caller }", "src/a.ts"),
            ("package q\n\ntype B = string\n\nfunc F(a []string) {}", "package q\n\ntype B = string\n\nfunc F(a []B) {}", "a.go"),
            ("int f(const Row &a);", "int f(Row a);", "a.h"),
            ("package a;\npublic class B { public List<A> f() {} }", "package a;\npublic class B { public List<? super A> f() {} }", "a/B.java"),
        ):  # fmt: skip
            with self.subTest(new):
                self.assertEqual([t for t in told(old, new, file) if t[2]], [])
        found = told("export function f(a: string) {}", "export function f(a: number) {}", "src/a.ts")
        self.assertIn(True, [t[2] for t in found])

    def test_a_member_with_a_body_asks_nothing_of_those_who_implement(self):
        for old, new, file in (
            ("pub trait T { fn a(&self); }", "pub trait T { fn a(&self); fn b(&self) { go() } }", "src/lib.rs"),
            ("interface T { fun a() }", "interface T { fun a()\n fun b() { go() } }", "a.kt"),
            ("public interface T { void A(); }", "public interface T { void A(); void B() { Go(); } }", "a.cs"),
        ):  # fmt: skip
            with self.subTest(file):
                self.assertEqual(told(old, new, file), [("added", "", False)])

    def test_a_constant_is_compiled_into_callers_of_some(self):
        text = "package a;\n/** B. */\npublic class B {{ public static final int N = {}; }}"
        self.assertEqual(told(text.format(1), text.format(2), "a/B.java"), [("signature", "value", True)])
        self.assertEqual(told(text.format(1), text.format("A.b()"), "a/B.java"), [("signature", "value", False)])

    def test_rust_matches_name_every_member(self):
        self.assertEqual(
            told("pub enum E { A }", "pub enum E { A, B }", "src/lib.rs"), [("added", "member-added", True)]
        )
        self.assertEqual(
            told("pub fn f(a: i32) {}", "pub fn f(b: i32) {}", "src/lib.rs"),
            [("signature", "parameter-renamed", False)],
        )

    def test_typescript(self):
        self.assertEqual(
            told("export function f(a: string) {}", "export function f(a: string, b?: number) {}", "src/a.ts"),
            [("signature", "parameter-added", False)],
        )
        self.assertEqual(
            told("export interface O { a: string }", "export interface O { a: string; b: number }", "src/a.ts"),
            [("added", "member-added", False)],
        )
        self.assertEqual(
            told("export interface O { a: string }", "export interface O { a: string; b?: number }", "src/a.ts"),
            [("added", "", False)],
        )

    def test_go(self):
        self.assertEqual(
            told(
                "package q\n\n// F does.\nfunc F(a int) {}",
                "package q\n\n// F does.\nfunc F(a int, b ...int) {}",
                "a.go",
            ),
            [("signature", "parameter-added", False)],
        )


class Numbers(unittest.TestCase):
    def test_a_number_that_hides_a_break(self):
        comparison = compare("def f(a): ...", "def f(): ...")
        self.assertEqual((comparison.level, comparison.suggested, comparison.hides_break), ("major", "2.0.0", True))
        honest = compare("def f(a): ...", "def f(): ...", versions=("1.0.0", "2.0.0"))
        self.assertFalse(honest.hides_break)
        young = compare("def f(a): ...", "def f(): ...", versions=("0.3.0", "0.4.0"))
        self.assertEqual((young.hides_break, young.suggested), (False, "0.4.0"))

    def test_steps_and_lines(self):
        for old, new, level in (("1.0.0", "1.0.1", "patch"), ("1.0", "1.1", "minor"), ("1.9", "2.0", "major"),
                                ("0.3.1", "0.4.0", "major"), ("0.3.1", "0.3.2", "minor"), ("2.0", "1.9", "none"),
                                ("spring", "summer", "none")):  # fmt: skip
            self.assertEqual(promised_level(old, new), level, (old, new))
        self.assertEqual([line_of(v) for v in ("1.4.2", "0.3.1", "v2.0", "spring")], ["1.x", "0.3.x", "2.x", "spring"])
        self.assertEqual(suggest_version("1.4.2", "minor"), "1.5.0")


if __name__ == "__main__":
    unittest.main()
