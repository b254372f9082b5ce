<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import { count } from "../../lib/words";
  import { KEY_WORDS, mustWords, told, type TableColumn } from "./types";
  import WayList from "./WayList.svelte";

  /** The columns of a table: what each is, means, and comes from. isTold: whether to say what only the database told. */
  let { columns, project, isTold }: { columns: TableColumn[]; project: string; isTold: boolean } =
    $props();
  const facts = (column: TableColumn) =>
    [
      column.type ?? "",
      ...(column.keys ?? []).map((kind) => (kind === "foreign" ? "foreign key" : KEY_WORDS[kind])),
      column.computed ? "computed" : mustWords(column.must),
    ].filter(Boolean);
</script>

{#if columns.length}
  <section class="mt-10">
    <h2>Its columns</h2>
    <ul class="rows mt-1">
      {#each columns as column (column.path)}
        <li class="grid gap-x-6 gap-y-1 sm:grid-cols-[200px_1fr]">
          <span class="min-w-0"
            ><a class="font-mono text-[14px] font-semibold break-words" href={column.href}
              >{column.name}</a
            ><br /><span class="small soft">{facts(column).join(", ")}</span></span
          >
          <div class="min-w-0">
            {#if column.deprecated}<span class="tag stale">deprecated</span>{/if}
            {#if column.summary}<Html html={column.summary} class="font-serif text-[16px]" />{/if}
            {#each column.checks ?? [] as check, n (n)}<p class="small soft">
                holds: <code>{check.text}</code>{check.verdict ? `, ${check.verdict}` : ""}
              </p>{/each}
            {#if column.came_from?.length}<div class="small soft flex flex-wrap gap-x-2">
                from <WayList ways={column.came_from} own={project} />
              </div>{/if}
            {#if column.unknown}<p class="small soft">
                Where it comes from is not known: {column.unknown}.
              </p>{/if}
            {#if isTold && column.from_catalog?.length}<p class="small soft">
                {column.from_catalog.map(told).join(", ")} from the database's catalogue
              </p>{/if}
            {#if column.used_by}<p class="small soft">
                named in {count(column.used_by, "place")}
              </p>{/if}
          </div>
        </li>
      {/each}
    </ul>
  </section>
{/if}
