<script lang="ts">
  import { count } from "../../lib/words";
  import TableTree from "./TableTree.svelte";
  import type { Branch } from "./tables";

  /** What lies in a branch, each branch to be opened; those with few tables are open. */
  let { branch }: { branch: Branch } = $props();
  const FEW = 60;
</script>

<ul class="tree">
  {#each branch.branches as each (each.name)}
    <li>
      <details open={each.count <= FEW}>
        <summary class="cursor-pointer py-1"
          ><span class="font-mono text-[14px]">{each.name}</span>
          <span class="small soft">{count(each.count, "table")}</span></summary
        >
        <div class="pl-5"><TableTree branch={each} /></div>
      </details>
    </li>
  {/each}
  {#each branch.tables as table (table.path)}
    <li class="flex flex-wrap items-baseline gap-x-3 py-1">
      <a class="font-mono text-[14px] font-semibold" href={table.href}>{table.name}</a>
      <span class="small soft"
        >{[table.kind, table.columns ? count(table.columns, "column") : ""]
          .filter(Boolean)
          .join(", ")}</span
      >
      {#each table.tags ?? [] as tag (tag)}<span class="tag">{tag}</span>{/each}
      {#if table.summary}<span class="basis-full font-serif text-[15px]">{table.summary}</span>{/if}
    </li>
  {/each}
</ul>
