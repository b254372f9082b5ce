"""GraphQL: types, fields and their links."""

import unittest

from tests.support.interfaces import described
from tests.support.sources import links_of


class GraphQl(unittest.TestCase):
    def test_types_fields_and_their_links(self):
        files = {
            "fleet.graphql": '"""Asks."""\ntype Query {\n  "A ship."\n  ship(id: ID! = "1", deep: Int): [Ship!]!\n}\ntype Ship implements Node {\n  id: ID!\n  old: Int @deprecated(reason: "Use id instead.")\n}\ninterface Node { id: ID! }\nextend type Ship { port: Prot }\n'
        }
        symbols, findings = described(files)
        ship = symbols["fleet.Query.ship"]
        self.assertEqual(ship.signatures[0].text, 'ship(id: ID! = "1", deep: Int): [Ship!]!')
        self.assertEqual(ship.doc.summary, "A ship.")
        self.assertEqual(symbols["fleet.Ship.old"].doc.deprecated.instead, "id")
        self.assertEqual(symbols["fleet.Ship"].bases, ["Node"])
        found = links_of(files)
        self.assertEqual(found["fleet.Query.ship", "Ship"], ("linked", "fleet.Ship"))
        self.assertIn("fleet.Ship.port", symbols)
        self.assertNotIn("stale/example", [f.rule for f in findings])

    def test_a_syntax_error_has_its_line(self):
        _, findings = described({"a.graphql": "type A {\n  b:\n}\n"})
        self.assertEqual([(f.rule, f.line) for f in findings], [("text/unreadable", 3)])


if __name__ == "__main__":
    unittest.main()
