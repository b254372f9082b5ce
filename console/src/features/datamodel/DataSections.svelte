<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { SymbolPage } from "../reference/api";
  import CheckList from "./CheckList.svelte";
  import ColumnList from "./ColumnList.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import { mustWords, told } from "./types";
  import WayList from "./WayList.svelte";

  /** What a table or column is, how it is made, where its data come from and where they go. */
  let { page }: { page: SymbolPage } = $props();
  const table = $derived(page.data?.table);
  const column = $derived(page.data?.column);
  const project = $derived(page.navigation.project);
  const held = $derived(table ?? column);
  /** Whether nobody but the database tells of the table. */
  const wholly = $derived(!!table?.from_catalog?.includes("table"));
  const FORMS: Record<string, string> = {
    table: "A table",
    view: "A view",
    query: "A table that a query makes",
    outside: "A table that nothing here makes",
  };
  const lineage = $derived(
    `/lineage/${project}/${encodeURIComponent(page.navigation.version)}/${encodeURIComponent(page.path)}`,
  );
</script>

{#if table}
  <p class="soft mt-4">
    {FORMS[table.form]}{table.place.length ? `, in ${table.place.join(", ")}` : ""}{table.owner
      ? `, owned by ${table.owner}`
      : ""}{wholly ? "; only the database's catalogue tells of it" : ""}.
    {#each table.tags ?? [] as tag (tag)}<span class="tag ml-1">{tag}</span>{/each}
  </p>
  {#if table.rows !== undefined && table.rows !== null}<p class="small soft mt-2">
      In the database: about {count(table.rows, "row")}{#if table.changed}, last changed
        <time datetime={table.changed} title={exactTime(table.changed)}>{ago(table.changed)}</time
        >{/if}{#if table.seen_at}, seen
        <time datetime={table.seen_at} title={exactTime(table.seen_at)}>{ago(table.seen_at)}</time
        >{/if}.
    </p>{/if}
  {#if !wholly && table.from_catalog?.length}<p class="small soft mt-2">
      Only the database's catalogue told its {table.from_catalog.map(told).join(", ")}.
    </p>{/if}
  {#if table.row}<p class="mt-2">
      <span class="soft">A row:</span>
      <Html html={table.row} class="inline" />
    </p>{/if}
  <p class="small mt-2">
    <a href="/tables/{project}/{encodeURIComponent(page.navigation.version)}">All tables</a>
  </p>
  <ColumnList columns={table.columns ?? []} {project} isTold={!wholly} />
  {#each table.unknown ?? [] as why (why)}<p class="small soft mt-2">Not known: {why}.</p>{/each}
{/if}
{#if column}
  <p class="soft mt-4">
    {[mustWords(column.must), column.default ? `${column.default} if left out` : ""]
      .filter(Boolean)
      .join("; ")}
    {#each column.tags ?? [] as tag (tag)}<span class="tag ml-1">{tag}</span>{/each}
  </p>
  {#if column.computed?.length}<p class="mt-2">
      <span class="soft">computed:</span>
      <code class="text-[14px]"><Pieces pieces={column.computed} /></code>
    </p>{/if}
  {#if column.from_catalog?.length}<p class="small soft mt-2">
      Only the database's catalogue told its {column.from_catalog.map(told).join(", ")}.
    </p>{/if}
{/if}
{#if held}
  <section class="mt-10">
    <h2>Where its data come from</h2>
    <div class="mt-1">
      <WayList
        ways={held.came_from ?? []}
        own={project}
        none={table?.feeds?.length ? "" : "Nothing that is known here."}
      />
      {#each table?.feeds ?? [] as feed (feed.name)}
        <p>
          {#if feed.href}<a href={feed.href}>{feed.name}</a>{:else}<span
              class={feed.state ? `mention ${feed.state}` : ""}>{feed.name}</span
            >{/if}
          <span class="small soft">{feed.text}</span>
        </p>
      {/each}
      {#if column?.unknown}<p class="small soft">Not known: {column.unknown}.</p>{/if}
    </div>
  </section>
  <section class="mt-10">
    <h2>Where its data go</h2>
    <div class="mt-1">
      <WayList ways={held.goes_to ?? []} own={project} none="Nowhere that is known here." />
      <p class="mt-2"><a href={lineage}>The whole way</a></p>
    </div>
  </section>
  <CheckList checks={held.checks ?? []} keys={held.keys ?? []} />
  {#if Object.keys(held.meta ?? {}).length}
    <section class="mt-10">
      <h2>Noted of it</h2>
      <dl class="rows mt-1">
        {#each Object.entries(held.meta ?? {}) as [name, value] (name)}
          <div class="grid gap-x-6 sm:grid-cols-[200px_1fr]">
            <dt class="soft">{name}</dt>
            <dd>{value}</dd>
          </div>
        {/each}
      </dl>
    </section>
  {/if}
{/if}
{#if table?.query}
  <section class="mt-10">
    <h2>How it is made</h2>
    {#if table.query.compiled?.length}<p class="small soft mt-2">As written</p>{/if}
    <pre class="signature bg-code mt-1 overflow-x-auto px-4 py-3 text-[13.5px]"><Pieces
        pieces={table.query.written}
      /></pre>
    {#if table.query.compiled?.length}
      <p class="small soft mt-4">As its template is filled</p>
      <pre class="signature bg-code mt-1 overflow-x-auto px-4 py-3 text-[13.5px]"><Pieces
          pieces={table.query.compiled}
        /></pre>
    {/if}
  </section>
{/if}
{#if page.data?.body}
  <section class="mt-10">
    <h2>How it is written</h2>
    <pre class="signature bg-code mt-1 overflow-x-auto px-4 py-3 text-[13.5px]">{page.data
        .body}</pre>
  </section>
{/if}
