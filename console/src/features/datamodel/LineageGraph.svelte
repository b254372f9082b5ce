<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import type { LineageEdge, LineageNode } from "./api";
  import { place, type Drawing } from "./layout";
  import { takePng, takeSvg } from "./takeaway";

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
  let drawing = $state<Drawing | null>(null);
  let zoom = $state(1);
  let svg = $state<SVGSVGElement>();
  const keyOf = (node: LineageNode) => `${node.project}/${node.path}`;
  $effect(() => {
    const labels = nodes.map((node) => node.path);
    const pairs = edges.map((edge) => [edge.source, edge.target] as [number, number]);
    let isCurrent = true;
    void place(labels, pairs).then((found) => {
      if (isCurrent) drawing = found;
    });
    return () => (isCurrent = false);
  });
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

<div class="small mt-4 flex flex-wrap items-baseline gap-x-5 gap-y-1">
  <button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    onclick={() => (zoom = Math.min(4, zoom * 1.25))}>Larger</button
  >
  <button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    onclick={() => (zoom = Math.max(0.1, zoom / 1.25))}>Smaller</button
  >
  <button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    onclick={() => (zoom = 1)}>As large as it is</button
  >
  <span class="soft">Take it away as</span>
  <button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    disabled={!drawing}
    onclick={() => svg && takeSvg(svg, title)}>SVG</button
  >
  <button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    disabled={!drawing}
    onclick={() => svg && takePng(svg, title)}>PNG</button
  >
</div>
{#if drawing}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (what scrolls must be reached by the keyboard) -->
  <div
    class="mt-3 max-h-[560px] overflow-auto border-y py-3"
    tabindex="0"
    role="group"
    aria-label="The way of the data, drawn"
  >
    <svg
      bind:this={svg}
      xmlns="http://www.w3.org/2000/svg"
      viewBox="0 0 {drawing.width} {drawing.height}"
      width={drawing.width * zoom}
      height={drawing.height * zoom}
      role="group"
      aria-label="{title}; the table below says the same"
    >
      <defs
        ><marker
          id="to"
          viewBox="0 0 8 8"
          refX="7"
          refY="4"
          markerWidth="8"
          markerHeight="8"
          orient="auto"
          markerUnits="userSpaceOnUse"><path d="M0 0 8 4 0 8Z" fill="var(--soft)" /></marker
        ></defs
      >
      {#each drawing.lines as line, n (n)}
        {@const edge = edges[n]}
        {@const shown = edge && isLit(nodes[edge.source]) && isLit(nodes[edge.target])}
        <path
          d={line}
          fill="none"
          stroke={lit && shown ? "var(--accent)" : "var(--soft)"}
          stroke-width={lit && shown ? 2 : 1}
          stroke-dasharray={edge?.how === "computed" ? "5 4" : undefined}
          opacity={shown ? 1 : 0.25}
          marker-end="url(#to)"
        />
      {/each}
      {#each drawing.boxes as box, n (n)}
        {@const node = nodes[n]}
        {#if node}
          <g opacity={isLit(node) ? 1 : 0.35}
            ><a href={href(node)}>
              <title>{told(node)}</title>
              <rect
                x={box.x}
                y={box.y}
                width={box.width}
                height={box.height}
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
                x={box.x + 12}
                y={box.y + 20}
                fill="var(--ink)"
                font-size="13"
                font-family="var(--font-mono)">{node.path}</text
              >
            </a></g
          >
        {/if}
      {/each}
    </svg>
  </div>
{:else}<p class="soft mt-3">Placing {nodes.length.toLocaleString("en")} of them …</p>{/if}
