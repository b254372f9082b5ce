"""Protocol Buffers: messages, services, imports, and files that break."""

import unittest

from tests.support.interfaces import described
from tests.support.sources import links_of


class Protobuf(unittest.TestCase):
    def test_messages_services_and_comments(self):
        files = {
            "p/a.proto": 'edition = "2023";\npackage sea.v1;\nimport "p/b.proto";\n// A ship.\nmessage Ship {\n  string name = 1; // Its name.\n  oneof by { Crew crew = 2; }\n  map<string, Crew> all = 3;\n  // Old; use name instead.\n  int32 no = 4 [deprecated = true];\n}\nservice Ships {\n  rpc Watch(Ship) returns (stream Crew);\n}\n',
            "p/b.proto": 'syntax = "proto2";\npackage sea.v1;\nmessage Crew { required int32 size = 1 [default = 3]; }\n',
        }
        symbols, findings = described(files)
        self.assertEqual([f.rule for f in findings if f.rule != "text/undocumented"], [])
        self.assertEqual(symbols["sea.v1.Ship"].doc.summary, "A ship.")
        self.assertEqual((symbols["sea.v1.Ship.name"].doc.summary, symbols["sea.v1.Ship.name"].line), ("Its name.", 6))
        self.assertEqual(symbols["sea.v1.Ship.all"].type, "map<string, Crew>")
        self.assertEqual(symbols["sea.v1.Ship.no"].doc.deprecated.instead, "name")
        self.assertEqual(symbols["sea.v1.Crew.size"].signatures[0].text, "required int32 size = 1 [default = 3]")
        self.assertEqual(symbols["sea.v1.Ships.Watch"].signatures[0].text, "rpc Watch(Ship) returns (stream Crew)")
        found = links_of(files)
        self.assertEqual(found["sea.v1.Ships.Watch", "Crew"], ("linked", "sea.v1.Crew"))

    def test_what_is_imported_and_missing_is_taken_to_exist(self):
        symbols, findings = described(
            {
                "a.proto": 'syntax = "proto3";\npackage a;\nimport "far/money.proto";\nmessage A { far.Money m = 1; far.Other o = 2; }\n'
            }
        )
        self.assertEqual(symbols["a.A.m"].type, "far.Money")
        self.assertNotIn("text/unreadable", [f.rule for f in findings])

    def test_one_broken_file_leaves_the_others(self):
        symbols, findings = described({
            "a.proto": 'syntax = "proto3";\npackage a;\nmessage A { string b = 1; }\n', "b.proto": 'syntax = "proto3";\npackage b;\nmessage B {\n  string x = ;\n}\n',
        })  # fmt: skip
        self.assertIn("a.A.b", symbols)
        self.assertIn(("text/unreadable", "b.proto", 4), [(f.rule, f.file, f.line) for f in findings])

    def test_a_warning_is_no_error_and_a_name_belongs_to_what_its_file_imports(self):
        head = 'syntax = "proto3";\n'
        symbols, findings = described({
            "a.proto": head + 'package a;\nimport "b.proto";\nmessage A { string x = 1; }\n',
            "b.proto": head + "package b;\nmessage B { string y = 1; }\n",
            "c.proto": head + 'package c;\nimport "far/one.proto";\nmessage C { far.one.One z = 1; }\n',
            "d.proto": head + 'package d;\nimport "far/two.proto";\nmessage D { far.two.Two w = 1; }\n',
            "e.proto": head + "package b;\nmessage B { string again = 1; }\n",
        })  # fmt: skip
        self.assertLessEqual({"a.A.x", "c.C.z", "d.D.w"}, symbols.keys())
        left_out = [f.file for f in findings if f.rule == "text/unreadable"]
        self.assertEqual(left_out, ["e.proto"])


if __name__ == "__main__":
    unittest.main()
