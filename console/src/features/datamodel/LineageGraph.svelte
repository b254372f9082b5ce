<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import type { LineageEdge, LineageNode } from "./api";
  import DrawnGraph from "./DrawnGraph.svelte";
  import { sizeOf, type Box } from "./layout";

  /** Tables or columns and the ways between them. lit: those that stand out, null for none in particular. */
  let {
    nodes,
    edges,
    start,
    lit,
    title,
  }: {
    nodes: LineageNode[];
    edges: LineageEdge[];
    start: LineageNode;
    lit: Set<string> | null;
    title: string;
  } = $props();
  const keyOf = (node: LineageNode) => `${node.project}/${node.path}`;
  const sizes = $derived(nodes.map((node) => sizeOf([node.path])));
  const pairs = $derived(edges.map((edge) => [edge.source, edge.target] as [number, number]));
  const isLit = (node: LineageNode | undefined) => !lit || (!!node && lit.has(keyOf(node)));
  const href = (node: LineageNode) =>
    node.version
      ? `/ref/${encodeURIComponent(node.project)}/${encodeURIComponent(node.version)}/${encodePath(node.path)}`
      : undefined;
  const told = (node: LineageNode) =>
    [
      `${node.path}, ${[node.kind, node.project].filter(Boolean).join(" of ")}`,
      node.summary,
      node.is_missing ? "It is named, and is not there." : "",
      ...(node.unknown ?? []).map((why) => `Not known: ${why}.`),
    ]
      .filter(Boolean)
      .join("\n");
</script>

<DrawnGraph {sizes} edges={pairs} {title} label="The way of the data">
  {#snippet line(path: string, n: number)}
    {@const edge = edges[n]}
    {@const shown = edge && isLit(nodes[edge.source]) && isLit(nodes[edge.target])}
    <path
      d={path}
      fill="none"
      stroke={lit && shown ? "var(--accent)" : "var(--soft)"}
      stroke-width={lit && shown ? 2 : 1}
      stroke-dasharray={edge?.how === "computed" ? "5 4" : undefined}
      opacity={shown ? 1 : 0.25}
      marker-end="url(#to)"
    />
  {/snippet}
  {#snippet box(place: Box, n: number)}
    {@const node = nodes[n]}
    {#if node}
      <g opacity={isLit(node) ? 1 : 0.35}
        ><a href={href(node)}>
          <title>{told(node)}</title>
          <rect
            {...place}
            rx="3"
            fill="var(--sheet)"
            stroke={node.is_missing
              ? "var(--dangling)"
              : keyOf(node) === keyOf(start)
                ? "var(--accent)"
                : "var(--rule)"}
            stroke-width={keyOf(node) === keyOf(start) ? 2 : 1}
            stroke-dasharray={node.is_missing ? "3 3" : undefined}
          />
          <text
            x={place.x + 12}
            y={place.y + 20}
            fill="var(--ink)"
            font-size="13"
            font-family="var(--font-mono)">{node.path}</text
          >
        </a></g
      >
    {/if}
  {/snippet}
</DrawnGraph>
