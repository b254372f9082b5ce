<script lang="ts">
  import type { ListedTable } from "./api";
  import DrawnGraph from "./DrawnGraph.svelte";
  import { LINE, sizeOf, type Box } from "./layout";
  import { referring, type Reference } from "./tables";

  /** Tables with the columns of their keys, and which of them refers to which. */
  let { tables, title }: { tables: ListedTable[]; title: string } = $props();
  const drawn = $derived(referring(tables));
  const lines = $derived(drawn.tables.map((table) => [table.name, ...table.lines]));
  const sizes = $derived(lines.map(sizeOf));
  const edges = $derived(drawn.references.map((r) => [r.from, r.to] as [number, number]));
  const told = (reference: Reference | undefined) =>
    reference
      ? `${drawn.tables[reference.from]?.path} refers to ${drawn.tables[reference.to]?.path} by ${reference.by}`
      : "";
</script>

<DrawnGraph {sizes} {edges} {title} label="Tables and their keys">
  {#snippet line(path: string, n: number)}
    <path d={path} fill="none" stroke="var(--soft)" stroke-width="1" marker-end="url(#to)"
      ><title>{told(drawn.references[n])}</title></path
    >
  {/snippet}
  {#snippet box(place: Box, n: number)}
    {@const table = drawn.tables[n]}
    {#if table}
      <a href={table.href} class="no-underline">
        <title>{[table.path, table.summary].filter(Boolean).join("\n")}</title>
        <rect {...place} rx="3" fill="var(--sheet)" stroke="var(--rule)" />
        {#each lines[n] as text, at (at)}
          <text
            x={place.x + 12}
            y={place.y + 20 + at * LINE}
            fill={at ? "var(--soft)" : "var(--ink)"}
            font-size="13"
            font-weight={at ? undefined : 600}
            text-decoration={at ? undefined : "underline"}
            font-family="var(--font-mono)">{text}</text
          >
        {/each}
      </a>
    {/if}
  {/snippet}
</DrawnGraph>
<table class="small mt-6 w-full max-w-[760px]">
  <thead
    ><tr class="soft text-left"
      ><th class="py-1 font-semibold">Table</th><th class="font-semibold">refers to</th><th
        class="font-semibold">by</th
      ></tr
    ></thead
  >
  <tbody>
    {#each drawn.references as each, n (n)}
      <tr class="border-t"
        ><td class="py-1.5 font-mono">{drawn.tables[each.from]?.path}</td><td class="font-mono"
          >{drawn.tables[each.to]?.path}</td
        ><td class="font-mono">{each.by}</td></tr
      >
    {/each}
  </tbody>
</table>
