"""The way of data from table to table and from column to column, at any depth, across projects."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Literal, NamedTuple

from zarbek.core.linking.link import Link
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol

#: Of one answer; a picture of more is none.
MAX_NODES = 2_000
MAX_DEPTH = 50
#: Fields of a symbol that name what its data come from: in a query, and in words beside it.
_OF_COLUMNS, _OF_TABLES = frozenset({"from", "fed"}), frozenset({"query", "fed"})
Direction = Literal["up", "down"]


class Node(NamedTuple):
    """A table, column or other element, by the project that has it. kind: of its link, for what is no symbol."""

    project: str
    path: str


class Edge(NamedTuple):
    """Data of source go into target."""

    source: Node
    target: Node


class Flow(NamedTuple):
    """depths: of each node from where the walk began, above it negative. is_cut: whether there is more."""

    depths: dict[Node, int]
    edges: list[Edge]
    is_cut: bool


Step = Callable[[Iterable[Node]], Iterable[Edge]]


def sources_of(symbol: Symbol, links: Iterable[Link]) -> list[Link]:
    """The links of a symbol that lead to what its data come from: of a table tables, of a column columns."""
    fields = _OF_COLUMNS if symbol.kind == "column" else _OF_TABLES
    found: dict[tuple[str, str], Link] = {}
    for mention, link in zip(symbol.mentions, links, strict=False):
        if mention.field in fields and link.outcome in ("linked", "dangling") and _is_wanted(mention, symbol):
            found.setdefault((link.project, link.path or link.wanted), link)
    return list(found.values())


def _is_wanted(mention: Mention, symbol: Symbol) -> bool:
    """A query names columns, too; of a table only its tables are told."""
    return symbol.kind == "column" or mention.field == "fed" or mention.role == "table"


def walk(start: Node, above: Step, below: Step, directions: Iterable[Direction], depth: int) -> Flow:
    """All that a node's data come from and go to. above, below: the edges into nodes, and out of them."""
    depths, edges, is_cut = {start: 0}, dict[Edge, None](), False
    for direction in directions:
        near: list[Node] = [start]
        sign = -1 if direction == "up" else 1
        for level in range(1, min(depth, MAX_DEPTH) + 1):
            found = list(above(near) if direction == "up" else below(near))
            near = []
            for edge in found:
                node = edge.source if direction == "up" else edge.target
                if node not in depths:
                    if len(depths) >= MAX_NODES:
                        is_cut = True
                        continue
                    depths[node] = sign * level
                    near.append(node)
                edges[edge] = None
            if not near:
                break
        else:
            is_cut = is_cut or any(True for _ in (above(near) if direction == "up" else below(near)))
    return Flow(depths, list(edges), is_cut)
