import unittest

from tests.support.sources import gather_files, links_of, read_as
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import read_source

GATE = """
using System;
using Ports = Halmere.Harbours;

namespace Halmere.Gangway
{
    /// <summary>
    /// A gate. See <see cref="Open(int)"/>, <see langword="null"/> and <paramref name="x"/>.
    /// </summary>
    /// <remarks><para>First.</para><list type="number"><item><description>a &lt; b</description></item></list>
    /// <code>
    /// if (a)
    ///     b();
    /// </code></remarks>
    [Obsolete("Use Ramp instead.")]
    public sealed class Gate<T> : IGate where T : class
    {
        /// <summary>Most.</summary>
        public const int Max = 4;
        private string name;
        public string Name { get; private set; }
        /// <summary>Opens.</summary>
        /// <param name="count">People.</param>
        /// <exception cref="ArgumentException">Never.</exception>
        /// <seealso cref="Close"/>
        public bool Open(int count) => true;
        /// <inheritdoc/>
        public override bool Open(ref int count, params string[] names) { return true; }
        protected internal void Close() {}
        public static Gate<T> operator +(Gate<T> a, int b) => a;
        public string this[int i] => "";
        public event EventHandler Opened;
        void IGate.Explicit() {}
        public enum State { /// <summary>Shut.</summary>
            Shut, Open = 2 }
    }
    public record Pass(string Id);
    internal delegate void Rang(int gate);
}
"""


class Declarations(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.found = read_as(GATE, "Gate.cs")

    def test_kinds_levels_and_overloads(self):
        found = {p.removeprefix("Halmere.Gangway."): (s.kind, s.visibility) for p, s in self.found.items()}
        self.assertEqual(
            found,
            {
                "Gate": ("class", "public"), "Gate.Max": ("constant", "public"), "Gate.name": ("field", "private"),
                "Gate.Name": ("property", "public"), "Gate.Open(int)": ("method", "public"),
                "Gate.Open(int,string[])": ("method", "public"), "Gate.Close()": ("method", "protected"),
                "Gate.operator +(Gate,int)": ("operator", "public"), "Gate.this(int)": ("property", "public"),
                "Gate.Opened": ("event", "public"), "Gate.Explicit()": ("method", "private"),
                "Gate.State": ("enum", "public"), "Gate.State.Shut": ("member", "public"),
                "Gate.State.Open": ("member", "public"), "Pass": ("record", "public"),
                "Pass.Id": ("property", "public"), "Rang": ("delegate", "internal"),
            },
        )  # fmt: skip

    def test_xml_becomes_markdown(self):
        doc = self.found["Halmere.Gangway.Gate"].doc
        self.assertEqual(doc.body.split("\n")[0], "See [`Open(int)`](api:Open%28int%29), `null` and `x`.")
        self.assertIn("1. a \\< b", doc.body)
        self.assertIn("```csharp\nif (a)\n    b();\n```", doc.body)
        self.assertEqual(doc.deprecated.instead, "Ramp")
        opened = self.found["Halmere.Gangway.Gate.Open(int)"].doc
        self.assertEqual((opened.parameters[0].text, opened.raises[0].name), ("People.", "ArgumentException"))

    def test_a_class_in_parts_is_one_and_type_parameters_are_no_types(self):
        files = {
            "A.cs": "namespace H;\n/// <summary>Gate.</summary>\npublic partial class Gate<TKey> {\n"
                    "  /// <summary>Opens.</summary>\n  public TKey Open(TKey key, Gate<TKey> other) => key; }\n",
            "B.cs": "namespace H;\npublic partial class Gate<TKey> {\n"
                    "  /// <summary>Shuts; see <see cref=\"Open\"/>.</summary>\n  public void Shut() {}\n}\npublic class TKey {}\n",
        }  # fmt: skip
        _, index, symbols = gather_files(files)
        gate = [s for s in symbols if s.path == "H.Gate"]
        self.assertEqual([s.doc.summary for s in gate], ["Gate."])
        self.assertEqual(
            sorted(p for p in index.symbols if p.startswith("H.Gate.")), ["H.Gate.Open(TKey,Gate)", "H.Gate.Shut()"]
        )
        links = links_of(files)
        self.assertEqual(links["H.Gate.Shut()", "Open"], ("linked", "H.Gate.Open(TKey,Gate)"))
        self.assertEqual({t for p, t in links if p == "H.Gate.Open(TKey,Gate)"}, {"Gate"})

    def test_conditions_inside_declarations_stand_as_their_first_branch(self):
        source = (
            "namespace H {\n/// <summary>Gate.</summary>\npublic class Gate : IGate\n#if !OLD\n    , IOther\n#if X\n , IThird\n#endif\n"
            "#else\n    , IOld\n#endif\n{\n  /// <summary>Makes.</summary>\n  public Gate(int size)\n#if NEW\n    : base(size)\n#elif OLDER\n"
            "    : base(\n#else\n#error no\n#endif\n  { }\n  /// <summary>Last.</summary>\n  public void Last() { }\n}\n}\n"
        )
        reading = read_source(source.encode(), SourceFile("a.cs", "csharp", ""))
        found = {s.path: s for s in reading.symbols}
        self.assertEqual(reading.findings, [])
        self.assertEqual(found["H.Gate"].bases, ["IGate", "IOther", "IThird"])
        self.assertEqual((found["H.Gate.Gate(int)"].line, found["H.Gate.Last()"].doc.summary), (14, "Last."))

    def test_signatures_are_in_the_languages_own_form(self):
        gate = "Halmere.Gangway.Gate"
        self.assertEqual(self.found[gate].signatures[0].text, "public sealed class Gate<T> : IGate where T : class")
        self.assertEqual(self.found[f"{gate}.Name"].signatures[0].text, "public string Name { get; }")

    def test_hostile_and_broken_xml_is_text(self):
        source = '/// <!DOCTYPE x [<!ENTITY a "aa">]><summary>&a; <see cref="X"</summary>\npublic class A {}\n'
        doc = read_as(source, "A.cs")["A"].doc
        self.assertNotIn("aa", f"{doc.summary}{doc.body}")

    def test_names_go_through_namespaces_and_usings(self):
        found = links_of({
            "Gate.cs": GATE,
            "Port.cs": "namespace Halmere.Harbours { public class Port { public void Call() {} } }",
            "Use.cs": "using Ports = Halmere.Harbours;\nusing Halmere.Harbours;\nnamespace Halmere.Gangway.Inner {\n"
            '/// <summary><see cref="Gate{T}.Close"/> <see cref="Port.Call"/> <see cref="Ports.Port"/> '
            '<see cref="Gate.Gone"/> <see cref="System.String"/></summary>\npublic class Use {} }',
        })  # fmt: skip
        scope = "Halmere.Gangway.Inner.Use"
        self.assertEqual(found[scope, "Gate{T}.Close"], ("linked", "Halmere.Gangway.Gate.Close()"))
        self.assertEqual(found[scope, "Port.Call"], ("linked", "Halmere.Harbours.Port.Call()"))
        self.assertEqual(found[scope, "Ports.Port"], ("linked", "Halmere.Harbours.Port"))
        self.assertEqual(found[scope, "System.String"][0], "outside")


class Comments(unittest.TestCase):
    def test_code_in_a_sentence_stays_there_and_kinds_of_references_are_not_shown(self):
        doc = read_as(
            '/// <summary>Do <code>a.b()</code> to <see cref="T:System.Double"/>.</summary>\n'
            "/// <remarks>\n/// <code>\n/// x = 1;\n/// </code>\n/// </remarks>\n"
            '/// <exception cref="T:System.ArgumentException">Bad.</exception>\npublic class C {}\n', "C.cs", "C",
        )["C"].doc  # fmt: skip
        self.assertEqual(doc.summary, "Do `a.b()` to [`Double`](api:System.Double).")
        self.assertEqual((doc.body, doc.raises[0].name), ("```csharp\nx = 1;\n```", "System.ArgumentException"))
