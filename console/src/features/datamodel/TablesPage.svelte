<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { getTables, type TableList } from "./api";
  import KeyGraph from "./KeyGraph.svelte";
  import { referring, treeOf, type Order } from "./tables";
  import TableTree from "./TableTree.svelte";

  /** The tables of a release: by where they lie or by where they are made, and how they refer to one another. */
  let { slug, version }: { slug: string; version: string } = $props();
  const loader = new Loader<TableList>();
  $effect(() => {
    loader.load(`${slug}/${version}`, () => getTables(slug, decodeURIComponent(version)));
  });
  const ORDERS: [Order, string][] = [
    ["database", "by database"],
    ["file", "by file"],
  ];
  let order = $state<Order>("database");
  let words = $state("");
  let tag = $state("");
  let place = $state("");
  const found = $derived(loader.data);
  const tags = $derived([...new Set(found?.tables.flatMap((table) => table.tags ?? []))].sort());
  const places = $derived([...new Set(found?.tables.map((table) => table.place.join(".")))].sort());
  const shown = $derived(
    (found?.tables ?? []).filter(
      (table) =>
        `${table.path} ${table.file ?? ""} ${table.summary ?? ""}`
          .toLowerCase()
          .includes(words.toLowerCase()) &&
        (!tag || (table.tags ?? []).includes(tag)) &&
        (!place || table.place.join(".") === place),
    ),
  );
  const tree = $derived(treeOf(shown, order));
  const references = $derived(referring(shown).references.length);
</script>

<svelte:head><title>Tables of {slug}</title></svelte:head>
<main class="mx-auto max-w-[1180px] px-5 py-7 sm:px-10">
  {#if loader.problem}
    <Trouble problem={loader.problem} />
  {:else if found}
    <p class="soft"><a href="/projects/{found.project}">{found.project}</a> {found.version}</p>
    <h1>Its tables</h1>
    {#if !found.tables.length}<p class="sentence mt-3">It has no tables.</p>
    {:else}
      <p class="sentence mt-3">
        <strong>{count(found.tables.length, "table")}</strong>{references
          ? `, which refer to one another ${count(references, "time")}`
          : ""}.
      </p>
      <div class="small mt-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        <span role="group" aria-label="Their order" class="flex gap-x-3"
          >{#each ORDERS as [each, name] (each)}<button
              type="button"
              class="cursor-pointer underline-offset-4 {order === each
                ? 'font-semibold'
                : 'text-accent underline'}"
              aria-pressed={order === each}
              onclick={() => (order = each)}>{name}</button
            >{/each}</span
        >
        <label class="soft"
          >Words <input class="try-input w-auto! ml-1" type="search" bind:value={words} /></label
        >
        {#if places.length > 1}<label class="soft"
            >Database <select class="try-input w-auto! ml-1" bind:value={place}
              ><option value="">every one</option>{#each places as each (each)}<option
                  >{each}</option
                >{/each}</select
            ></label
          >{/if}
        {#if tags.length}<label class="soft"
            >Tag <select class="try-input w-auto! ml-1" bind:value={tag}
              ><option value="">any</option>{#each tags as each (each)}<option>{each}</option
                >{/each}</select
            ></label
          >{/if}
      </div>
      <div class="mt-4">
        {#if shown.length}<TableTree branch={tree} />{:else}<p class="soft">
            None of them is like that.
          </p>{/if}
      </div>
      {#if references}
        <section class="mt-10">
          <h2>How they refer to one another</h2>
          <KeyGraph tables={shown} title="Keys of {found.project}" />
        </section>
      {/if}
    {/if}
  {/if}
</main>
