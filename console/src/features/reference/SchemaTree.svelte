<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { TreeRow } from "./interface";
  let { rows, anchored = false }: { rows: TreeRow[]; anchored?: boolean } = $props();

  let opened = $state<Record<number, boolean>>({});
  /** Index of the closed row that each row lies below, or -1. */
  const hidden = $derived.by(() => {
    let limit = Infinity;
    return rows.map((row, index) => {
      if (row.depth > limit) return true;
      limit = Infinity;
      if (row.folds && !opened[index]) limit = row.depth;
      return false;
    });
  });
</script>

<ul class="schema-tree">
  {#each rows as row, index (index)}
    {#if !hidden[index]}
      <li
        id={anchored && row.anchor ? row.anchor : undefined}
        class="depth-{Math.min(row.depth, 8)} scroll-mt-20"
      >
        <p>
          {#if row.name}<span class="mr-1 font-mono text-[14px] font-semibold">{row.name}</span
            >{:else if row.label}<span class="soft">{row.label}</span>{/if}
          <span class="mr-1 font-mono text-[13px]"><Pieces pieces={row.type} /></span>
          {#if row.required}<strong class="small mr-1">must be there</strong>{/if}
          {#if row.deprecated}<span class="tag stale">deprecated</span>{/if}
          {#if row.folds}
            <button
              type="button"
              class="small text-accent cursor-pointer underline underline-offset-4"
              aria-expanded={Boolean(opened[index])}
              onclick={() => (opened[index] = !opened[index])}
              >{opened[index] ? "Fold" : "What it holds"}</button
            >
          {/if}
        </p>
        {#if row.words?.length || row.example}
          <p class="small soft break-words">
            {row.words?.join(", ")}{#if row.example}{row.words?.length ? "; " : ""}such as
              <code>{row.example}</code>{/if}
          </p>
        {/if}
        {#if row.html}<Html html={row.html} class="prose field" />{/if}
      </li>
    {/if}
  {/each}
</ul>
