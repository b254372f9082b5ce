import unittest

from tests.support.sources import gather_files, links_of, read_as

LIB = """
//! A crate. See [`Deck`] and [the mast](mast::Mast).

mod hidden;
pub mod mast;
pub use hidden::Deck;
pub use mast::*;

/// A hull with [`Hull::new`], [`super`-free](Self::LENGTH) and plain [brackets here].
#[derive(Debug, Clone)]
#[deprecated(since = "0.3", note = "use `Keel` instead")]
pub struct Hull<'a, T: Clone = u8> where T: Copy {
    /// How long.
    pub length: &'a T,
    inner: u8,
}

impl<'a, T: Clone + Copy> Hull<'a, T> {
    /// Feet.
    pub const LENGTH: u8 = 3;

    /// Makes one.
    ///
    /// # Errors
    ///
    /// [`None`] of them. Or [`Missing::thing`][gone].
    ///
    /// ```
    /// # hidden line
    /// Hull::new();
    /// ```
    ///
    /// [gone]: Hull::gone
    pub unsafe fn new(x: u8, mut y: T) -> Result<Self, u8> { todo!() }
}

/// A value.
pub enum Side { /// Left.
    Port, Starboard { at: i32 } }

pub(crate) fn crate_only() {}
fn private() {}

#[macro_export]
macro_rules! knot { ($x:expr) => { $x }; }
"""
FILES = {
    "Cargo.toml": '[package]\nname = "my-ship"\nversion = "0.1.0"\n',
    "src/lib.rs": LIB,
    "src/hidden.rs": "/// A deck; [crate::Hull] and [`super::Side::Port`], [`knot!`], [`Deck::clean()`].\npub struct Deck;\n"
    "impl Deck { /// Cleans.\n pub fn clean(&self) {} }\n",
    "src/mast.rs": "//! Masts.\nuse super::Side;\n/// On [`Side`].\npub struct Mast;\nimpl crate::Deck { /// Far.\n pub fn far(&self) {} }\n",
}


class Declarations(unittest.TestCase):
    def test_kinds_levels_and_signatures(self):
        found = read_as(LIB, "lib.rs", "ship")
        self.assertEqual(
            {p: (s.kind, s.visibility) for p, s in found.items() if p != "ship"},
            {
                "ship::hidden": ("module", "private"), "ship::mast": ("module", "public"),
                "ship::Hull": ("struct", "public"), "ship::Hull::length": ("field", "public"),
                "ship::Hull::inner": ("field", "private"), "ship::Hull::LENGTH": ("constant", "public"),
                "ship::Hull::new": ("method", "public"), "ship::Side": ("enum", "public"),
                "ship::Side::Port": ("member", "public"), "ship::Side::Starboard": ("member", "public"),
                "ship::Side::Starboard::at": ("field", "private"), "ship::crate_only": ("function", "internal"),
                "ship::private": ("function", "private"), "ship::knot!": ("macro", "public"),
            },
        )  # fmt: skip
        new = found["ship::Hull::new"]
        self.assertEqual(new.signatures[0].text, "pub unsafe fn new(x: u8, mut y: T) -> Result<Self, u8>")
        self.assertEqual([(p.name, p.type) for p in new.signatures[0].parameters], [("x", "u8"), ("y", "T")])

    def test_attributes_and_sections(self):
        hull = read_as(LIB, "lib.rs", "ship")["ship::Hull"]
        new = read_as(LIB, "lib.rs", "ship")["ship::Hull::new"]
        self.assertEqual((hull.doc.deprecated.since, hull.doc.deprecated.instead), ("0.3", "Keel"))
        self.assertIn("\\[brackets here\\]", hull.doc.summary)
        self.assertEqual([s.title for s in new.doc.sections], ["Errors"])
        self.assertNotIn("hidden line", new.doc.sections[0].text)

    def test_the_branches_of_a_choice_hold_items(self):
        lib = (
            'cfg_if::cfg_if! {\n    if #[cfg(feature = "std")] {\n        /// One.\n        pub fn one() {}\n'
            "    } else if #[cfg(unix)] {\n        pub fn two() {}\n    } else {\n        pub mod three { pub fn deep() {} }\n    }\n}\n"
            "pub fn after() {}\n"
        )
        _, index, _ = gather_files({"Cargo.toml": '[package]\nname = "k"\n', "src/lib.rs": lib})
        self.assertEqual(sorted(index.symbols), ["k", "k::after", "k::one", "k::three", "k::three::deep", "k::two"])
        self.assertEqual((index.symbols["k::one"].line, index.symbols["k::one"].summary), (4, "One."))

    def test_a_macro_gives_its_methods_to_every_type_that_calls_it(self):
        _, index, _ = gather_files({
            "Cargo.toml": '[package]\nname = "m"\n',
            "src/lib.rs": "macro_rules! ints { ($t:ident) => { /// Most.\n pub const MAX: $t = 1;\n /// Adds.\n pub fn add(self) {} } }\n"
            "pub struct A; pub struct B;\nimpl A { ints! { A } }\nimpl B { ints! { B } }\n",
        })  # fmt: skip
        self.assertLessEqual({"m::A::MAX", "m::B::MAX", "m::A::add", "m::B::add"}, index.symbols.keys())


class Links(unittest.TestCase):
    def test_paths_follow_modules_uses_and_the_crate(self):
        found = links_of(FILES)
        for (scope, text), link in {
            ("my_ship", "`Deck`"): ("linked", "my_ship::Deck"),
            ("my_ship", "mast::Mast"): ("linked", "my_ship::mast::Mast"),
            ("my_ship::Hull", "Self::LENGTH"): ("linked", "my_ship::Hull::LENGTH"),
            ("my_ship::Hull::new", "Hull::gone"): ("dangling", "my_ship::Hull::gone"),
            ("my_ship::Deck", "crate::Hull"): ("linked", "my_ship::Hull"),
            ("my_ship::Deck", "`super::Side::Port`"): ("linked", "my_ship::Side::Port"),
            ("my_ship::Deck", "`knot!`"): ("linked", "my_ship::knot!"),
            ("my_ship::Deck", "`Deck::clean()`"): ("linked", "my_ship::Deck::clean"),
            ("my_ship::mast::Mast", "`Side`"): ("linked", "my_ship::Side"),
        }.items():
            with self.subTest(text):
                self.assertEqual(found[scope, text], link)

    def test_reexports_are_names_and_foreign_impls_find_their_type(self):
        _, index, _ = gather_files(FILES)
        names = {a.name: (a.path, a.public) for a in index.alias_list}
        self.assertEqual(names["my_ship::hidden::Deck"], ("my_ship::Deck", False))
        self.assertEqual(names["my_ship::Mast"], ("my_ship::mast::Mast", True))
        self.assertIn("my_ship::Deck::far", index.symbols)
        self.assertEqual(index.symbols["my_ship::hidden"].visibility, "private")
