<script lang="ts">
  import type { Snippet } from "svelte";
  import { place, type Box, type Drawing, type Size } from "./layout";
  import { takePng, takeSvg } from "./takeaway";

  /** Boxes and the lines between them, to be moved over, made larger and taken away. label: what is drawn; below it
   * stands the same as text. */
  let {
    sizes,
    edges,
    title,
    label,
    line,
    box,
  }: {
    sizes: Size[];
    edges: [number, number][];
    title: string;
    label: string;
    line: Snippet<[path: string, n: number]>;
    box: Snippet<[box: Box, n: number]>;
  } = $props();
  let drawing = $state<Drawing | null>(null);
  let isTooDeep = $state(false);
  let zoom = $state(1);
  let svg = $state<SVGSVGElement>();
  $effect(() => {
    let isCurrent = true;
    isTooDeep = false;
    place(sizes, edges).then(
      (found) => {
        if (isCurrent) drawing = found;
      },
      () => {
        if (isCurrent) isTooDeep = true;
      },
    );
    return () => (isCurrent = false);
  });
  const tools = $derived([
    ["Larger", () => (zoom = Math.min(4, zoom * 1.25))],
    ["Smaller", () => (zoom = Math.max(0.1, zoom / 1.25))],
    ["As large as it is", () => (zoom = 1)],
  ] as [string, () => void][]);
  const forms = $derived([
    ["SVG", () => svg && takeSvg(svg, title)],
    ["PNG", () => svg && takePng(svg, title)],
  ] as [string, () => void][]);
</script>

{#snippet tool(name: string, act: () => void)}<button
    type="button"
    class="text-accent cursor-pointer underline underline-offset-4"
    disabled={!drawing}
    onclick={act}>{name}</button
  >{/snippet}
<div class="small mt-4 flex flex-wrap items-baseline gap-x-5 gap-y-1">
  {#each tools as [name, act] (name)}{@render tool(name, act)}{/each}
  <span class="soft">Take it away as</span>
  {#each forms as [name, act] (name)}{@render tool(name, act)}{/each}
</div>
{#if drawing}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (what scrolls must be reached by the keyboard) -->
  <div
    class="mt-3 max-h-[560px] overflow-auto border-y py-3"
    tabindex="0"
    role="group"
    aria-label="{label}, drawn"
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
      {#each drawing.lines as path, n (n)}{@render line(path, n)}{/each}
      {#each drawing.boxes as each, n (n)}{@render box(each, n)}{/each}
    </svg>
  </div>
{:else if isTooDeep}<p class="soft mt-3">
    They are too many steps deep to be drawn; the table below says the same.
  </p>
{:else}<p class="soft mt-3">Placing {sizes.length.toLocaleString("en")} of them …</p>{/if}
