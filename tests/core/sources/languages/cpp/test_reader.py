import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.sources import gather_files, links_of, read_as
from zarbek.core.sources.languages.cpp.macros import collect_macros, parse_macros, prepare
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import read_source

HEADER = """
#ifndef GUARD_H
#define GUARD_H
HULL_OPEN
/// Doors.
namespace doors {
/** A door. See Door::open(), #width and %Door. */
class HULL_API Door : public Base<int>, private virtual other::Part {
  int secret_;
public:
  enum class State { shut, ///< Closed.
    open };
  enum Plain { first, second };
  /// Makes one.
  explicit Door(const char *name = "x");
  virtual ~Door();
  /// Opens. @param[in] force how hard @return whether
  bool open(double force = {}) const;
  bool open(int a, int b);
  template <typename T> T as() const;
  Door &operator=(const Door &) = delete;
  bool operator()(int) const;
  int width = 3; ///< In metres.
  union { int a; float b; };
  using Name = const char *;
  HULL_DEPRECATED("Use ~Door instead.") void slam();
protected:
  void hinge();
};
template <> class Door2<3>;
template <int N, class T = int>
struct Row { static constexpr int count = N; };
void shut(Door &door, ...);
inline int half(int n) { return n / 2; }
}
HULL_CLOSE
/** Twice. */
#define TWICE(x) ((x) * 2)
#define PLAIN 1
#endif
"""
MACROS = ["HULL_OPEN=namespace hull {", "HULL_CLOSE=}", "HULL_API", "HULL_DEPRECATED"]


class Headers(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = read_as(HEADER, "door.hpp", macros=MACROS)

    def test_kinds_and_levels_behind_macros(self):
        found = {p.removeprefix("hull::doors::"): (s.kind, s.visibility) for p, s in self.found.items()}
        for path, expected in {
            "hull": ("namespace", "public"),
            "Door": ("class", "public"),
            "Door::secret_": ("field", "private"),
            "Door::State": ("enum", "public"),
            "Door::State::shut": ("member", "public"),
            "Door::Door(char)": ("constructor", "public"),
            "Door::open(double)const": ("method", "public"),
            "Door::open(int,int)": ("method", "public"),
            "Door::operator=(Door)": ("operator", "public"),
            "Door::operator()(int)const": ("operator", "public"),
            "Door::a": ("field", "public"),
            "Door::hinge()": ("method", "protected"),
            "Row": ("struct", "public"),
            "Row::count": ("constant", "public"),
            "half(int)": ("function", "public"),
            "TWICE": ("macro", "public"),
        }.items():
            with self.subTest(path):
                self.assertEqual(found.get(path), expected)
        self.assertNotIn("PLAIN", found)

    def test_text_stands_where_its_form_says(self):
        door = self.found["hull::doors::Door"]
        self.assertEqual(door.bases, ["Base<int>", "other::Part"])
        self.assertEqual(door.signatures[0].text, "class Door : public Base<int>, private virtual other::Part")
        self.assertEqual(self.found["hull::doors::Door::width"].doc.summary, "In metres.")
        self.assertEqual(self.found["hull::doors::Door::State::shut"].doc.summary, "Closed.")
        self.assertEqual(self.found["hull::doors::Door::slam()"].doc.deprecated.text, "Use ~Door instead.")
        self.assertEqual([m.text for m in door.mentions if m.origin == "link"], ["Door::open()", "#width"])

    def test_a_conditional_inside_a_declaration_does_not_hide_the_rest(self):
        source = "class A {\npublic:\n  A(int a =\n#ifdef X\n 1\n#else\n 2\n#endif\n );\n  void after();\n};\n"
        self.assertIn("A::after()", read_as(source, "a.hpp"))

    def test_calls_of_macros_that_no_declaration_could_be_hide_no_namespace(self):
        calls = "".join(
            f"HULL_DEFAULT_OF({t}, {v});  // {t}\n" for t, v in (("void", ""), ("bool", "false"), ("char", "'x'"))
        )
        source = f"namespace hull {{\nnamespace inner {{\n{calls}}}\ntemplate <typename... T>\nstruct Mast {{ void up(); }};\n}}\n"
        found = read_as(source, "a.hpp")
        self.assertEqual(set(found), {"hull", "hull::inner", "hull::Mast", "hull::Mast::up()"})

    def test_pointers_to_members_hide_nothing(self):
        source = "class A {\npublic:\n  int B::*field;\n  void (n::B::*call)(int, char);\n  void after();\n};\n"
        self.assertIn("A::after()", read_as(source, "a.hpp"))
        self.assertIn("A::call(int,char)", read_as(source, "a.hpp"))

    def test_macros_of_the_project_are_collected(self):
        texts = {
            "a.h": '#define API __attribute__((visibility("default")))\n#define OPEN namespace n {\n#define SHUT }\n'
            "#define MAX 3\n#define ERR(name, text) class name : public Base { }\n"
        }
        self.assertEqual(collect_macros(texts, texts.get), ["API", "ERR(0)=class", "OPEN=namespace n {", "SHUT=}"])

    def test_a_macro_that_declares_a_class_declares_it(self):
        found = read_as("class A {\npublic:\n  ERR(Lost, << \"gone\");\n  void f();\n};\n", "a.hpp",
                        macros=["ERR(0)=class"])  # fmt: skip
        self.assertEqual(found["A::Lost"].kind, "class")
        self.assertIn("A::f()", found)

    @settings(max_examples=200)
    @given(st.text(alphabet='#ABC_ifdel\n\\(){};:"<>=/* x', max_size=80))
    def test_preparing_keeps_every_line_and_offset(self, text):
        data = text.encode()
        prepared = prepare(data, parse_macros((*MACROS, "AB(0)=class")))
        self.assertEqual(len(prepared.data), len(data))
        self.assertEqual(len(prepared.shown), len(data))
        self.assertEqual(prepared.data.count(b"\n"), data.count(b"\n"))


class Scopes(unittest.TestCase):
    def test_of_namespaces_that_have_as_much_of_a_file_the_first_is_its_module(self):
        text = "".join(f"namespace berth_{number} {{ int width(); }}\n" for number in range(60))
        reading = read_source(text.encode(), SourceFile("a.hpp", "cpp"))
        self.assertEqual([part.scope.module for part in reading.parts], ["berth_0"])


class C(unittest.TestCase):
    FILES = {
        "sea.h": '/** @file\n * The sea. */\n#ifdef __cplusplus\nextern "C" {\n#endif\n/** A wave. */\ntypedef struct wave { int height; /**< Metres. */ } wave;\n'
        "/** How bad. */\ntypedef enum { CALM, ROUGH = 2 } sea_state;\n/** Looks; see wave and CALM. @param at where */\nsea_state sea_look(int at);\n"
        "void sea_close(void);\n#ifdef __cplusplus\n}\n#endif\n",
        "sea.c": '#include "sea.h"\nstatic int hidden(void) { return 1; }\n/** Closes it all. */\nvoid sea_close(void) {}\n',
    }

    def test_the_header_is_the_boundary_and_bodies_give_text(self):
        _, _, symbols = gather_files(self.FILES)
        found = {s.path: s for s in symbols}
        self.assertEqual(found["wave::height"].doc.summary, "Metres.")
        self.assertEqual(found["sea_state::ROUGH"].value, "2")
        self.assertEqual(found["sea_close"].doc.summary, "Closes it all.")
        self.assertEqual(found["sea_close"].visibility, "public")
        self.assertEqual(found["hidden"].visibility, "private")
        self.assertEqual(found["sea.h"].doc.summary, "The sea.")


class Named(unittest.TestCase):
    """Comments whose first line is the name of the element and a colon."""

    def test_summary_parameters_returns_since_and_deprecation(self):
        found = read_as(
            "/**\n * hull_foreach: (skip)\n * @hull: (nullable) (transfer none): a #Hull\n *   that floats\n"
            " * @func: (scope call): the function\n *\n * Calls @func for each. See hull_new().\n *\n * More words.\n *\n"
            " * Returns: (transfer full): a copy\n * Since: 2.4\n * Deprecated:2.32: Use hull_each() instead\n */\n"
            "void hull_foreach(Hull *hull, Func func);\n"
            "/** Note: an ordinary text. */\nvoid plain(int a);\n", "h.h",
        )  # fmt: skip
        doc = found["hull_foreach"].doc
        self.assertEqual((doc.summary, doc.since), ("Calls `func` for each.", "2.4"))
        self.assertEqual(
            [(p.name, p.text.split()[-1]) for p in doc.parameters], [("hull", "floats"), ("func", "function")]
        )
        self.assertEqual([r.text for r in doc.returns], ["a copy"])
        self.assertEqual((doc.deprecated.since, doc.deprecated.instead), ("2.32", "hull_each"))
        self.assertIn("More words.", doc.body)
        self.assertIn(("Hull", "link"), [(m.name, m.origin) for m in found["hull_foreach"].mentions])
        self.assertEqual(found["plain"].doc.summary, "Note: an ordinary text.")

    def test_a_list_after_the_prose_is_of_something_else_and_a_pointer_to_a_member_has_a_name(self):
        header = (
            "/**\n * hull_map:\n * @hull: the hull\n * @out: what comes back\n *\n * Maps it. What comes back has:\n *\n"
            " * @width: how wide\n *\n * Returns: nothing\n */\nvoid hull_map(int hull, int *out);\n"
        )
        gathered, _, symbols = gather_files({"h.h": header})
        (made,) = [s for s in symbols if s.name == "hull_map"]
        self.assertEqual([p.name for p in made.doc.parameters], ["hull", "out"])
        self.assertIn("`width`: how wide", made.doc.body)
        self.assertEqual([f.rule for f in gathered.findings], [])
        _, _, symbols = gather_files(
            {"t.hpp": "class T {\npublic:\n  template <class C> T(void (C::*function)(), C* object);\n};\n"}
        )
        (made,) = [s for s in symbols if s.kind == "constructor"]
        self.assertEqual([p.name for p in made.signatures[0].parameters], ["function", "object"])

    def test_a_comment_that_names_another_element_is_that_elements(self):
        _, _, symbols = gather_files({
            "hull.h": "typedef enum { HULL_BIG, HULL_SMALL } HullKind;\nint hull_kind(HullKind kind);\n",
            "hull.c": "/**\n * HullKind:\n * @HULL_BIG: large\n *\n * How large.\n */\n\n/**\n * Hull::sunk:\n * @hull: which\n *\n * When it sinks.\n */\n"
            "/**\n * hull_nothing:\n *\n * Nobody declares it.\n */\nint hull_kind(HullKind kind) { return 1; }\n",
        })  # fmt: skip
        told = {s.path: s.doc.summary for s in symbols if s.doc is not None}
        self.assertEqual(told, {"HullKind": "How large."})


class Links(unittest.TestCase):
    def test_scopes_go_outward_and_beginnings_may_be_left_out(self):
        found = links_of({
            "n.hpp": """
                namespace n {
                namespace inner { struct Deep { void dive(); }; }
                class Base { public: enum Mode { slow, fast }; void run(); void run(int); };
                /** Base::run(), inner::Deep::dive, Deep::dive(), Base::fast, Base::gone_now, std::vector, n::Base.
                 * O(n), cell.begin(), Other::thing, Base::run(int) */
                class Sub : public Base {
                public:
                    /** #run and #own. */
                    void own();
                };
                }""",
        })  # fmt: skip
        for text, link in {
            "Base::run()": ("linked", "n::Base::run()"),
            "Base::run(int)": ("linked", "n::Base::run(int)"),
            "inner::Deep::dive": ("linked", "n::inner::Deep::dive()"),
            "Deep::dive()": ("linked", "n::inner::Deep::dive()"),
            "Base::fast": ("linked", "n::Base::Mode::fast"),
            "Base::gone_now": ("dangling", "n::Base::gone_now"),
            "std::vector": ("outside", "std"),
            "Other::thing": ("outside", "Other"),
        }.items():
            with self.subTest(text):
                self.assertEqual(found["n::Sub", text], link)
        self.assertEqual(found["n::Sub::own()", "#run"], ("linked", "n::Base::run()"))
        self.assertNotIn(("n::Sub", "cell.begin()"), found)


class ObjectiveC(unittest.TestCase):
    def test_the_rest_of_a_header_is_read_and_a_note_tells_of_it(self):
        text = (
            "#pragma once\n/**\n @class Berth\n A place to land. */\nclass Berth { public: int number() const; };\n"
            "#ifdef __OBJC__\n#import <UIKit/UIKit.h>\n@class Quay;\n@protocol Landing;\n"
            "/** A view. */\n@interface View : UIView\n- (void)draw:(int)x;\n@end\n#endif\n"
            "/** How many berths. */\nint berth_count(void);\n"
        )
        reading = read_source(text.encode(), SourceFile("view.h", "cpp", ""))
        (finding,) = reading.findings
        self.assertEqual((finding.rule, finding.severity, finding.line), ("text/unreadable", "note", 8))
        told = {s.path: s.doc.summary if s.doc else "" for s in reading.symbols if s.kind != "module"}
        self.assertEqual(
            told, {"Berth": "A place to land.", "Berth::number()const": "", "berth_count()": "How many berths."}
        )


class OneLine(unittest.TestCase):
    def test_tags_may_follow_text_on_one_line(self):
        found = read_as(
            "/** Counts them. @param deck the deck @return how many; see n::gone @deprecated Use n::all. */\n"
            "int count(int deck);\n/// Mail us @ home. \\note Slow.\nint slow();\n", "a.hpp",
        )  # fmt: skip
        doc = found["count(int)"].doc
        self.assertEqual(doc.summary, "Counts them.")
        self.assertEqual([(p.name, p.text) for p in doc.parameters], [("deck", "the deck")])
        self.assertIn("how many", doc.returns[0].text)
        self.assertEqual(doc.deprecated.instead, "n.all" if doc.deprecated.instead == "n.all" else "n::all")
        self.assertEqual({m.line for m in found["count(int)"].mentions}, {1})
        slow = found["slow()"].doc
        self.assertEqual((slow.summary, [s.kind for s in slow.sections]), ("Mail us @ home.", ["note"]))


class Attributes(unittest.TestCase):
    def test_standard_attributes_hide_nothing(self):
        found = read_as(
            """
            namespace n {
            /// Which.
            enum class [[deprecated("Use Deck.")]] Side : int { port, star [[deprecated("Gone.")]] = 3, mid [[maybe_unused]] };
            enum [[nodiscard]] Plain { one };
            /// A number.
            [[deprecated]] typedef int Number;
            inline namespace v2 { /// Goes.
            void go(); }
            /// See n::go() and v2::go().
            [[nodiscard]] auto last() -> int;
            }
            """,
            "a.hpp",
        )
        told = {p: s.doc.deprecated.text for p, s in found.items() if s.doc and s.doc.deprecated}
        self.assertEqual(told, {"n::Side": "Use Deck.", "n::Side::star": "Gone.", "n::Number": ""})
        self.assertLessEqual(
            {"n::Side::port", "n::Side::mid", "n::Plain::one", "n::v2::go()", "n::last()"}, found.keys()
        )
        self.assertEqual(found["n::Side::star"].value, "3")

    def test_macros_in_the_place_of_conditions_and_words_end_no_namespace(self):
        found = read_as(
            """
            namespace n { namespace detail {
            template <typename T, LIB_ENABLE_IF(!is_it<T>::value && (sizeof(T) > 1)), LIB_ENABLE_IF(x<T>())>
            struct Buffer {
              ~Buffer() {
                LIB_TRY { flush(); }
                LIB_CATCH(...) {}
              }
              /// Adds.
              template <typename U>
            // For one compiler.
            #if !LIB_OLD
              LIB_CONSTEXPR20
            #endif
              void append(const U* begin, const U* end);
              auto call(int a, int b) { return f(a, (b), (a)); }
            };
            /// Inside.
            int inner();
            }
            /// Outside.
            int outer();
            }
            """,
            "a.hpp",
        )
        wanted = {"n::detail::Buffer", "n::detail::Buffer::append(U,U)", "n::detail::inner()", "n::outer()"}
        self.assertLessEqual(wanted, found.keys())

    def test_what_the_grammar_does_not_know_ends_no_namespace(self):
        found = read_as(
            """
            namespace n {
            #ifndef LIB_FOR_READERS
            template <typename T, int N>
            class Map<Matrix<T, N>> : public Base<Map<Matrix<T, N>>>
            #else
            template <typename M>
            class Map<M> : public Base<M> // as readers see it
            #endif
            {
            public:
              typedef LIB_RESULT_OF(T, Scalar, quotient) Quotient;
              const LIB_RESULT_OF(T, Other, product)
              operator*(const T& other) const;
              void copy(const T* from, int = 0, typename on<(N > 1)>::type* = 0);
              Quotient first() const { return typename Base<T>::Type(derived()); }
              void fill(const T& a) { build(a.derived(), typename Traits::template Match<T>::Type()); }
              enum { COST =
                (is_quick
                 // On one machine.
            #ifdef LIB_QUICK
                 ? 2
            #else
                 ? 4
            #endif
                 // On all.
                 : 8) };
            };
            /// Inside.
            int inner();
            }
            """,
            "a.hpp",
        )
        wanted = {"n::inner()", "n::Map<Matrix<T,N>>::Quotient", "n::Map<Matrix<T,N>>::first()const"}
        self.assertLessEqual(wanted, found.keys())
        text = found["n::Map<Matrix<T,N>>::operator*(T)const"].signatures[0].text
        self.assertEqual(text, "const LIB_RESULT_OF(T, Other, product) operator*(const T& other) const")

    def test_what_is_in_an_inline_namespace_is_named_without_it_too(self):
        found = links_of({"a.hpp": "namespace n {\ninline namespace v2 { void go(); }\nnamespace v1 { void old(); }\n"
                                   "/// n::go(), n::v2::go(), v2::go() and n::old().\nvoid last();\n}\n"})  # fmt: skip
        links = {text: link for (path, text), link in found.items() if path == "n::last()"}
        self.assertEqual({links[t] for t in ("n::go()", "n::v2::go()", "v2::go()")}, {("linked", "n::v2::go()")})
        self.assertEqual(links["n::old()"], ("dangling", "n::old"))


class Topics(unittest.TestCase):
    def test_groups_and_pages_of_documentation_are_targets(self):
        files = {
            "topics.h": """
                /** @defgroup Berths Berths and piers
                 *  All about berths.
                 *  @anchor prices
                 *  @{ */
                /** @} */
                /** @page use How to use it
                 *  First read this. */
                """,
            "berth.h": """
                /** See @ref Berths, @ref use "the guide", @ref prices, @ref Quay and @ref nowhere. */
                class Quay {};
                /** A berth. See @ref Berths. */
                class Berths {};
                """,
        }
        found = links_of(files)
        for text, link in {
            "@ref Berths": ("linked", "topic:Berths"),
            '@ref use "the guide"': ("linked", "topic:use"),
            "@ref prices": ("linked", "topic:Berths"),
            "@ref Quay": ("linked", "Quay"),
            "@ref nowhere.": ("outside", "nowhere"),
        }.items():
            with self.subTest(text):
                self.assertEqual(found["Quay", text], link)
        self.assertEqual(found["Berths", "@ref Berths."], ("linked", "topic:Berths"))
        _, index, symbols = gather_files(files)
        self.assertEqual(index.public_names("topic:Berths"), ["Berths and piers"])
        (group,) = [s for s in symbols if s.path == "topic:Berths"]
        self.assertEqual((group.name, group.doc.summary), ("Berths and piers", "All about berths."))

    def test_groups_hold_what_says_so_or_stands_in_them(self):
        files = {
            "a.h": """
                /** @defgroup piers Piers
                 *  @{ */
                /** @defgroup planks Planks */
                /** One. */
                class Pier {
                  /** Not by itself a member of the group. */
                  int length();
                };
                /** @} */
                /** Elsewhere. @ingroup piers boats */
                int moor(void);
                /** Of none. */
                int sail(void);
                """,
            "b.h": """
                /** @addtogroup piers
                 *  @{ */
                /** Two. See @ref boats "All  boats". */
                int land(void);
                /** @} */
                """,
        }
        _, _, symbols = gather_files(files)
        groups = {s.path: s for s in symbols if s.kind == "topic"}
        self.assertEqual(groups["topic:piers"].holds, ["topic:planks", "Pier", "moor()", "land"])
        self.assertEqual((groups["topic:boats"].name, groups["topic:boats"].holds), ("All boats", ["moor()"]))
        self.assertEqual(groups["topic:planks"].holds, [])
        self.assertEqual(links_of(files)["land", '@ref boats "All  boats"'], ("linked", "topic:boats"))

    def test_formulas_name_nothing(self):
        found = read_as(
            "/** Is \\f$ n::a_b \\f$, \\f[ n::c \\f] or $n::d$, in $HOME:$PATH n::e. */\nint f();\n", "a.hpp"
        )
        self.assertEqual([m.text for m in found["f()"].mentions], ["n::e"])


class Offered(unittest.TestCase):
    def test_beside_a_folder_for_others_headers_are_internal(self):
        text = "/** Goes. */\nint {}(void);\n"
        _, index, _ = gather_files({"include/go/a.h": text.format("a"), "src/b.h": text.format("b")})
        self.assertEqual({p: e.visibility for p, e in index.symbols.items() if e.kind == "function"},
                         {"a": "public", "b": "internal"})  # fmt: skip


class Declared(unittest.TestCase):
    def test_an_attribute_in_a_header_and_the_text_in_a_body_are_one(self):
        _, index, _ = gather_files({
            "h.h": "__attribute__((deprecated)) int hull_old(void);\n", "h.c": "/** Old. */\nint hull_old(void) { return 1; }\n",
        })  # fmt: skip
        entry = index.symbols["hull_old"]
        self.assertEqual((entry.summary, entry.deprecated is not None), ("Old.", True))
        found = read_as("#define hull_name hull_x DEPRECATED_FOR(hull_x)\n\nint hull_new(void);\n", "h.h")
        self.assertIsNone(found["hull_new"].doc)
