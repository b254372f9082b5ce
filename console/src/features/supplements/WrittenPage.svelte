<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import { listWritten, patchOf, type Written } from "./api";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Written>();
  $effect(() => {
    loader.load(slug, () => listWritten(slug));
  });
  const rows = $derived(loader.data?.items ?? []);
</script>

<svelte:head><title>Written here for {slug}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[860px] px-6 py-9">
    <h1>Written here for <a href="/projects/{slug}">{slug}</a></h1>
    <p class="sentence mt-3">
      {#if rows.length}
        {count(rows.length, "supplement")}
        {rows.length === 1 ? "says" : "say"} what the source does not.
        <a href={patchOf(slug)} download>Take them into the repository</a> as a patch.
      {:else}
        Nothing has been written here yet. Whoever maintains {slug} may add to any of its pages.
      {/if}
    </p>
    <ul class="mt-6">
      {#each rows as row (row.name)}
        <li class="border-t py-3">
          <a class="font-mono text-[14px]" href="/supplements/{slug}/{row.name}">{row.name}</a>
          <p class="small soft">
            {row.reason}, <span title={exactTime(row.written_at)}>{ago(row.written_at)}</span> by {row.author}
          </p>
        </li>
      {/each}
    </ul>
    {#if loader.data.may_write}
      <p class="mt-6"><a href="/supplements/{slug}/new.md">Write a supplement</a></p>
    {/if}
  </main>
{/if}
