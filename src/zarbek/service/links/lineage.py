"""Where the data of a table or column come from, and where they go, across the projects of the portal."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

import msgspec

from zarbek.core.linking.data_flow import Direction, Edge, Flow, Node, sources_of, walk
from zarbek.core.linking.link import Link
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import find_release
from zarbek.service.common.problems import NotFound
from zarbek.service.content.queries import find_shown, read_text
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.impact import texts_referring
from zarbek.service.links.queries import get_link_map, links_of_text, with_versions


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


def get_lineage(release: Release, path: str, directions: Iterable[Direction], depth: int) -> Lineage:
    """Raises NotFound for what the release does not have."""
    entry = find_shown(release.pk, path)
    if entry is None:
        raise NotFound(f"{release.project.slug} {release.version} has no {path}.")
    walker = _Walker(release, path)
    flow = walk(Node(release.project.slug, path), walker.above, walker.below, directions, depth)
    return walker.told(flow)


class _Walker:
    """Reads each text once, of the release in which it was met first."""

    def __init__(self, release: Release, path: str) -> None:
        self._start = release
        self._releases: dict[Node, Release | None] = {Node(release.project.slug, path): release}
        self._symbols: dict[Node, Symbol | None] = {}
        self._links: dict[Node, list[Link]] = {}
        self._maps: dict[int, LinkMap] = {}
        self._missing: set[Node] = set()

    def above(self, nodes: Iterable[Node]) -> Iterable[Edge]:
        """What the data of nodes come from."""
        for node in nodes:
            for link in self._sources(node):
                source = Node(link.project, link.path or link.wanted)
                if link.outcome == "dangling":
                    self._missing.add(source)
                    self._releases.setdefault(source, None)
                elif source not in self._releases:
                    self._releases[source] = self._release_of(link.project, link.version)
                yield Edge(source, node)

    def below(self, nodes: Iterable[Node]) -> Iterable[Edge]:
        """What the data of nodes go to."""
        by_project: dict[str, list[str]] = defaultdict(list)
        for node in nodes:
            by_project[node.project].append(node.path)
        for slug, paths in by_project.items():
            project = Project.objects.filter(slug=slug).first()
            wanted = {(slug, path) for path in paths}
            for release, texts in texts_referring(project, paths).items() if project is not None else ():
                for kind, path in sorted(texts):
                    target = Node(release.project.slug, path)
                    if kind != "symbol" or not self._is_first(target, release):
                        continue
                    found = {(link.project, link.path) for link in self._sources(target)} & wanted
                    yield from (Edge(Node(*pair), target) for pair in sorted(found))

    def _is_first(self, node: Node, release: Release) -> bool:
        """Of several releases of one project the one that was met first counts: the newest, or the one asked for."""
        if node.project == self._start.project.slug:
            release = self._start
        known = self._releases.setdefault(node, release)
        return known is not None

    def _sources(self, node: Node) -> list[Link]:
        if node not in self._links:
            release, symbol = self._releases.get(node), self._symbol(node)
            if release is None or symbol is None or symbol.data is None:
                self._links[node] = []
            else:
                if release.pk not in self._maps:
                    self._maps[release.pk] = get_link_map(release)
                kept = links_of_text(release, self._maps[release.pk], "symbol", node.path)
                self._links[node] = sources_of(symbol, with_versions(release, kept))
        return self._links[node]

    def _symbol(self, node: Node) -> Symbol | None:
        if node not in self._symbols:
            release = self._releases.get(node)
            found = read_text(release.pk, "symbol", node.path) if release is not None else None
            self._symbols[node] = found if isinstance(found, Symbol) else None
        return self._symbols[node]

    def _release_of(self, slug: str, version: str) -> Release | None:
        project = Project.objects.filter(slug=slug).first()
        return find_release(project, version) if project is not None else None

    # What is told ------------------------------------------------------------------------

    def told(self, flow: Flow) -> Lineage:
        """The walk, for readers."""
        places = {node: number for number, node in enumerate(flow.depths)}
        edges = [
            LineageEdge(places[e.source], places[e.target], self._how(e))
            for e in flow.edges if e.source in places and e.target in places
        ]  # fmt: skip
        nodes = [self._told(node, depth) for node, depth in flow.depths.items()]
        first = nodes[0]
        return Lineage(first.project, first.version, first.path, nodes, edges, flow.is_cut)

    def _how(self, edge: Edge) -> str:
        symbol = self._symbol(edge.target)
        column = symbol.data.column if symbol is not None and symbol.data is not None else None
        return next((s.how for s in column.steps if s.path == edge.source.path), "") if column is not None else ""

    def _told(self, node: Node, depth: int) -> LineageNode:
        symbol, release = self._symbol(node), self._releases.get(node)
        if symbol is None or release is None:
            return LineageNode(node.project, node.path, node.path.rpartition(".")[2], depth,
                               is_missing=node in self._missing)  # fmt: skip
        table = symbol.data.table if symbol.data is not None else None
        column = symbol.data.column if symbol.data is not None else None
        unknown = table.unknown if table is not None else [column.unknown] if column and column.unknown else []
        return LineageNode(
            node.project, node.path, symbol.name, depth, release.version, symbol.kind, symbol.type,
            symbol.doc.summary if symbol.doc is not None else "",
            (table.owner if table is not None else "") or release.project.owner,
            table.tags if table is not None else column.tags if column is not None else [], unknown,
        )  # fmt: skip
