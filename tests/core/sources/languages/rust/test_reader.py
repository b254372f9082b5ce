import tempfile
import unittest
from pathlib import Path

from tests.support.sources import gather_files, links_of, read_as, write_files
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import BundleReader

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
                "ship::Side::Starboard::at": ("field", "public"), "ship::crate_only": ("function", "internal"),
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

    def test_a_macro_of_the_file_makes_items_where_it_is_called(self):
        lib = (
            "macro_rules! atomic { ($(#[$m:meta])* $n:ident, $t:ty) => {\n    $(#[$m])*\n"
            '    #[doc = concat!("Holds a ", stringify!($t), ".")]\n    pub struct $n($t);\n'
            "    impl $n {\n        /// Loads; see [`Self::gone`].\n        pub fn load(&self) {}\n    }\n} }\n"
            "macro_rules! both { ($a:ident) => { atomic!($a, u8); } }\n\n"
            "atomic! {\n    /// First.\n    One, u16\n}\nboth!(Two);\n/// [`One::load`], [`Two`], [`Three`].\npub fn f() {}\n"
        )
        files = {"Cargo.toml": '[package]\nname = "k"\n', "src/lib.rs": lib}
        gathered, _, symbols = gather_files(files)
        found = {s.path: s for s in symbols}
        one, two = found["k::One"], found["k::Two"]
        self.assertEqual((one.doc.summary, one.line, one.end_line), ("First. Holds a u16.", 12, 15))
        self.assertEqual((two.doc.summary, two.line, found["k::Two::load"].visibility), ("Holds a u8.", 16, "public"))
        links = links_of(files)
        self.assertEqual(links["k::f", "`One::load`"], ("linked", "k::One::load"))
        self.assertEqual(links["k::f", "`Two`"], ("linked", "k::Two"))
        self.assertEqual(links["k::One::load", "`Self::gone`"], ("dangling", "k::One::gone"))
        self.assertNotIn("_n", str([s.path for s in symbols]) + str(gathered.manifest.counts))

    def test_documentation_may_lie_in_files_below_the_source(self):
        files = {
            "Cargo.toml": '[package]\nname = "k"\n', "README.md": "# Kit\n\nAll of [`Tide`](Tide).\n",
            "src/lib.rs": '#![doc = include_str!("../README.md")]\n\n/// Before.\n#[doc = include_str!("tide.md")]\npub struct Tide;\n'
                          '#[doc = include_str!("../../secret.md")]\npub struct Other;\n#[doc = include_str!("gone.md")]\npub struct Gone;\n',
            "src/tide.md": "The tide; see [crate::Tide] and [gone](Tide::gone).\n", "../secret.md": "Secret.\n",
        }  # fmt: skip
        _, _, symbols = gather_files(files)
        found = {s.path: s for s in symbols}
        self.assertIn("The tide", found["k::Tide"].doc.body + found["k::Tide"].doc.summary)
        self.assertEqual((found["k::Other"].doc, found["k::Gone"].doc), (None, None))
        self.assertEqual({m.line for m in found["k::Tide"].mentions}, {3})
        self.assertEqual(links_of(files)["k::Tide", "Tide::gone"], ("dangling", "k::Tide::gone"))

    def test_hostile_names_of_included_files_are_nothing(self):
        with tempfile.TemporaryDirectory() as name:
            names = ["loop.md", "x" * 5000, "/etc/hostname", "..", ""]
            lib = "".join(f'#[doc = include_str!("{n}")]\npub struct S{at};\n' for at, n in enumerate(names))
            folder = write_files(Path(name), {"Cargo.toml": '[package]\nname = "k"\n', "src/lib.rs": lib})
            (folder / "src/loop.md").symlink_to("loop.md")
            gathered = gather(folder, folder / "b.bundle", GatherOptions(use_cache=False))
            with BundleReader(gathered.path) as bundle:
                docs = {s.path: s.doc for s in bundle.symbols() if s.kind == "struct"}
        self.assertEqual(docs, {f"k::S{at}": None for at in range(len(names))})


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

    def test_words_choose_between_names_and_members_are_reached_through_types(self):
        lib = (
            "/// T: [`Knot!`], [`macro@Knot`], [`trait@Knot`], [`Knot`].\npub trait Knot { /// Goes.\n fn go(&self) {} }\n"
            "/// M.\n#[macro_export]\nmacro_rules! Knot { () => {} }\n/// B: [`Boat::go`], [`Boat::stop`], [`!`], [`fn`], [0; 8].\n"
            "pub struct Boat;\nimpl Knot for Boat {}\nmod inner { pub fn lost() {} pub struct Shown; }\npub use inner::Shown;\n"
        )
        files = {"Cargo.toml": '[package]\nname = "k"\n', "src/lib.rs": lib}
        links = links_of(files)
        for text, link in {
            "`Knot!`": ("linked", "k::Knot!"), "`macro@Knot`": ("linked", "k::Knot!"),
            "`trait@Knot`": ("linked", "k::Knot"), "`Knot`": ("linked", "k::Knot"),
        }.items():  # fmt: skip
            self.assertEqual(links["k::Knot", text], link)
        self.assertEqual(links["k::Boat", "`Boat::go`"], ("linked", "k::Knot::go"))
        self.assertEqual(links["k::Boat", "`Boat::stop`"], ("dangling", "k::Boat::stop"))
        self.assertEqual(
            [t for (p, t), (o, _) in links.items() if p == "k::Boat" and o == "dangling"], ["`Boat::stop`"]
        )
        _, index, _ = gather_files(files)
        levels = {path: index.symbols[path].visibility for path in ("k::inner::lost", "k::Shown")}
        self.assertEqual(levels, {"k::inner::lost": "internal", "k::Shown": "public"})

    def test_reexports_are_names_and_foreign_impls_find_their_type(self):
        _, index, _ = gather_files(FILES)
        names = {a.name: (a.path, a.public) for a in index.alias_list}
        self.assertEqual(names["my_ship::hidden::Deck"], ("my_ship::Deck", False))
        self.assertEqual(names["my_ship::Mast"], ("my_ship::mast::Mast", True))
        self.assertIn("my_ship::Deck::far", index.symbols)
        self.assertEqual(index.symbols["my_ship::hidden"].visibility, "private")
