"""Names of tables and columns, and the way of data between them."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.portals import MemoryPortal
from zarbek.core.linking.data_flow import Edge, Node, walk
from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.moves import find_moves
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol


def entry(path: str, kind: str, *flags: str, body: str = "") -> SymbolEntry:
    parent, _, name = path.rpartition(".")
    return SymbolEntry(
        path, name, kind, parent, path.split(".")[0], "public", "s", flags=list(flags), language="sql", body=body
    )


def release(version: str, *entries: SymbolEntry, project: str = "sea") -> ReleaseIndex:
    manifest = Manifest(1, project, version, languages=["sql"], namespaces=[project], provides={"sql": [project]})
    return ReleaseIndex(project, version, symbols=[entry(project, "database"), *entries], manifest=manifest)


OLD = release("1.0", entry("sea.ships", "table"), entry("sea.ships.id", "column", body="1"), entry("sea.ships.Port", "column", body="2"),
              entry("sea.tides", "table"), entry("sea.tides.at", "column"))  # fmt: skip
NEW = release("2.0", entry("sea.ships", "table"), entry("sea.ships.number", "column", body="1"), entry("sea.ships.Port", "column", body="2"),
              entry("sea.wide", "table", "open"))  # fmt: skip
LAND = release("1.0", entry("land.busy", "table"), project="land")


def link(name: str, *releases: ReleaseIndex, field: str = "query") -> tuple[str, str, str]:
    symbol = Symbol("land.busy", "busy", "table", "sql", "land", mentions=[Mention(name, name, "data", field)])
    found = Linker(LAND, MemoryPortal(LAND, *releases)).link_symbol(symbol).links[0]
    return found.outcome, found.reason, found.path or found.wanted


class Names(unittest.TestCase):
    def test_are_found_in_whatever_project_has_them(self):
        self.assertEqual(link("sea.ships.id", OLD), ("linked", "", "sea.ships.id"))
        self.assertEqual(link("sea.SHIPS.port", OLD)[0], "outside", "a table of another case may be another")
        self.assertEqual(link("sea.ships.port", OLD), ("linked", "", "sea.ships.Port"), "a column's case plays no part")

    def test_what_is_gone_dangles_and_what_may_be_there_does_not(self):
        self.assertEqual(link("sea.ships.id", OLD, NEW), ("dangling", "column", "sea.ships.id"))
        self.assertEqual(link("sea.tides", OLD, NEW), ("dangling", "symbol", "sea.tides"))
        self.assertEqual(link("sea.tides.at", OLD, NEW), ("dangling", "symbol", "sea.tides.at"))
        for name in ("sea.wide.anything", "sea.never", "sea.never.x", "sea.ships.rowid", "elsewhere.t.x"):
            with self.subTest(name):
                self.assertEqual(link(name, OLD, NEW)[0], "outside")

    def test_a_renamed_column_is_known_again(self):
        move = find_moves(OLD, NEW)["sea.ships.id"]
        self.assertEqual((move.new, move.certain, move.why), ("sea.ships.number", True, "renamed by its definition"))


def steps(pairs: set[tuple[int, int]]):
    nodes = {n: Node("p", str(n)) for pair in pairs for n in pair}
    edges = [Edge(nodes[a], nodes[b]) for a, b in sorted(pairs)]
    return lambda ns: [e for e in edges if e.target in set(ns)], lambda ns: [e for e in edges if e.source in set(ns)]


class Flows(unittest.TestCase):
    def test_both_ways_by_depth(self):
        above, below = steps({(1, 2), (2, 3), (3, 4), (2, 4)})
        flow = walk(Node("p", "2"), above, below, ("up", "down"), 50)
        self.assertEqual({n.path: d for n, d in flow.depths.items()}, {"2": 0, "1": -1, "3": 1, "4": 1})
        self.assertEqual((len(flow.edges), flow.is_cut), (4, False))
        near = walk(Node("p", "1"), above, below, ("down",), 1)
        self.assertEqual(({n.path for n in near.depths}, near.is_cut), ({"1", "2"}, True))

    @given(st.sets(st.tuples(st.integers(0, 7), st.integers(0, 7)), min_size=1, max_size=20))
    def test_circles_end_and_all_that_can_be_reached_is_told(self, pairs):
        above, below = steps(pairs)
        start = min(a for a, _ in pairs)
        flow = walk(Node("p", str(start)), above, below, ("down",), 50)
        reached, pending = {start}, [start]
        for at in pending:
            fresh = {b for a, b in pairs if a == at} - reached
            reached |= fresh
            pending += fresh
        self.assertEqual({int(n.path) for n in flow.depths}, reached)
        self.assertFalse(flow.is_cut)
