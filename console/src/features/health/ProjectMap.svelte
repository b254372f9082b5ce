<script lang="ts">
  import dagre from "@dagrejs/dagre";
  import { count, figure } from "../../lib/words";
  import type { Edge } from "./api";
  let { edges, known }: { edges: Edge[]; known: string[] } = $props();

  const HEIGHT = 34;
  const layout = $derived.by(() => {
    const graph = new dagre.graphlib.Graph();
    graph.setGraph({ rankdir: "LR", nodesep: 22, ranksep: 90, marginx: 4, marginy: 16 });
    graph.setDefaultEdgeLabel(() => ({}));
    for (const name of new Set(edges.flatMap((e) => [e.source, e.target])))
      graph.setNode(name, { width: name.length * 8.2 + 26, height: HEIGHT });
    for (const edge of edges) graph.setEdge(edge.source, edge.target, { edge });
    dagre.layout(graph);
    return {
      width: graph.graph().width ?? 0,
      height: graph.graph().height ?? 0,
      nodes: graph.nodes().map((name) => ({ name, ...graph.node(name) })),
      lines: graph.edges().map((e) => graph.edge(e) as unknown as Line),
    };
  });
  type Line = { edge: Edge; points: { x: number; y: number }[] };
  const state = (e: Edge) => (e.dangling ? "dangling" : e.stale ? "stale" : "sound");
  const path = (line: Line) => {
    const [first, ...rest] = line.points;
    const corner = (at: number) => line.points[at] ?? line.points.at(-1)!;
    const curves = rest
      .slice(0, -1)
      .map((p, i) => {
        const next = corner(i + 2);
        return `Q ${p.x} ${p.y} ${(p.x + next.x) / 2} ${(p.y + next.y) / 2}`;
      })
      .join(" ");
    const end = line.points.at(-1)!;
    return `M ${first!.x} ${first!.y} ${curves} L ${end.x} ${end.y}`;
  };
  const words = (e: Edge) =>
    [
      count(e.total, "reference"),
      e.dangling ? `${figure(e.dangling)} dangling` : "",
      e.stale ? `${figure(e.stale)} stale` : "",
    ]
      .filter(Boolean)
      .join(", ");
  const faulty = $derived(edges.filter((e) => e.dangling || e.stale));
</script>

<p class="small soft mt-1">
  {count(edges.length, "pair")} of projects; {faulty.length} with references that do not hold:
  <span class="dangling">dangling</span> (solid, red), <span class="stale">stale</span> (dashed). What
  stands in a dashed frame is not in the portal.
</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex (what scrolls must be reached by the keyboard) -->
<div class="mt-3 overflow-x-auto" tabindex="0" role="group" aria-label="Map of projects">
  <svg
    viewBox="0 0 {layout.width} {layout.height}"
    width={layout.width}
    height={layout.height}
    class="max-w-full"
    role="group"
    aria-label="Map of projects by their references; the table below says the same"
  >
    <defs
      >{#each ["dangling", "stale", "sound"] as name (name)}<marker
          id="arrow-{name}"
          viewBox="0 0 8 8"
          refX="7"
          refY="4"
          markerWidth="9"
          markerHeight="9"
          orient="auto"
          markerUnits="userSpaceOnUse"
          ><path
            d="M0 0 8 4 0 8Z"
            fill={name === "sound" ? "var(--soft)" : `var(--${name})`}
          /></marker
        >{/each}</defs
    >
    {#each layout.lines as line (line.edge.source + line.edge.target)}
      <path
        d={path(line)}
        fill="none"
        stroke={state(line.edge) === "sound" ? "var(--soft)" : `var(--${state(line.edge)})`}
        stroke-width={state(line.edge) === "sound" ? 1 : 2}
        stroke-dasharray={state(line.edge) === "stale" ? "6 5" : undefined}
        marker-end="url(#arrow-{state(line.edge)})"
        ><title>{line.edge.source} to {line.edge.target}: {words(line.edge)}</title></path
      >
    {/each}
    {#each layout.nodes as node (node.name)}
      {@const isKnown = known.includes(node.name)}
      <a href={isKnown ? `/projects/${node.name}` : undefined}>
        <rect
          x={node.x - node.width / 2}
          y={node.y - HEIGHT / 2}
          width={node.width}
          height={HEIGHT}
          rx="4"
          fill="var(--sheet)"
          stroke={isKnown ? "var(--rule)" : "var(--dangling)"}
          stroke-dasharray={isKnown ? undefined : "3 3"}
          >{#if !isKnown}<title>{node.name} is not in the portal</title>{/if}</rect
        >
        <text
          x={node.x}
          y={node.y + 5}
          text-anchor="middle"
          fill="var(--ink)"
          font-size="14"
          font-family="var(--font-mono)">{node.name}</text
        >
      </a>
    {/each}
  </svg>
</div>
<table class="small mt-4 w-full max-w-[760px]">
  <thead
    ><tr class="soft text-left"
      ><th class="py-1 font-semibold">From</th><th class="font-semibold">To</th><th
        class="font-semibold">References</th
      ></tr
    ></thead
  >
  <tbody>
    {#each edges as e (e.source + e.target)}
      <tr class="border-t"
        ><td class="py-1.5 font-mono">{e.source}</td><td class="font-mono"
          >{e.target} <span class="soft">{e.version}</span></td
        ><td
          >{count(e.total, "reference")}{#if e.dangling}, <a
              class="plain dangling font-semibold"
              href="/findings?project={e.source}&family=dangling">{figure(e.dangling)} dangling</a
            >{/if}{#if e.stale}, <a
              class="plain stale font-semibold"
              href="/findings?project={e.source}&family=stale">{figure(e.stale)} stale</a
            >{/if}</td
        ></tr
      >
    {/each}
  </tbody>
</table>
