"""Where data come from, and where they go."""

from __future__ import annotations

import msgspec


class LineageNode(msgspec.Struct, frozen=True, omit_defaults=True):
    """A table, a column, or what feeds one. depth: steps from what was asked for, negative above it. unknown: what of
    where its data come from could not be told. is_missing: it is named, and is not there."""

    project: str
    path: str
    name: str
    depth: int
    version: str = ""
    kind: str = ""
    type: str = ""
    summary: str = ""
    owner: str = ""
    tags: list[str] = []
    unknown: list[str] = []
    is_missing: bool = False


class LineageEdge(msgspec.Struct, frozen=True, omit_defaults=True):
    """Data of source go into target; both are places in the list of nodes. how: ``copied`` or ``computed``, of
    columns."""

    source: int
    target: int
    how: str = ""


class Lineage(msgspec.Struct, frozen=True):
    """All that data come from and go to, what was asked for first. more: whether there is more than is told."""

    project: str
    version: str
    path: str
    nodes: list[LineageNode]
    edges: list[LineageEdge]
    more: bool
