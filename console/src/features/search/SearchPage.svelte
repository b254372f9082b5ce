<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { type Hit, search } from "./api";
  import HitLine from "./HitLine.svelte";

  const loader = new Loader<Hit[]>();
  const query = $derived(router.query.get("q") ?? "");
  $effect(() => {
    loader.load(query, () => search(query, 100));
  });
  const projects = $derived([...new Set((loader.data ?? []).map((hit) => hit.project))].sort());
  const kinds = $derived([...new Set((loader.data ?? []).map((hit) => hit.kind))].sort());
  let project = $state("");
  let kind = $state("");
  const shown = $derived(
    (loader.data ?? []).filter(
      (hit) => (!project || hit.project === project) && (!kind || hit.kind === kind),
    ),
  );
</script>

<svelte:head><title>{query}: search</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-10">
    <p class="sentence">
      {#if loader.data.length}
        <strong>{count(loader.data.length, "place")}</strong> in {count(projects.length, "project")} answer
        to
        <strong>{query}</strong>.
      {:else}
        Nothing is called <strong>{query}</strong> or speaks of it.
      {/if}
    </p>
    {#if loader.data.length}
      <div class="mt-5 flex flex-wrap gap-5">
        {#each [["Project", projects], ["Kind", kinds]] as const as [title, values] (title)}
          <label class="small soft"
            >{title}
            <select
              class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
              onchange={(event) => {
                if (title === "Project") project = event.currentTarget.value;
                else kind = event.currentTarget.value;
              }}
            >
              <option value="">every one</option>
              {#each values as value (value)}<option>{value}</option>{/each}
            </select>
          </label>
        {/each}
      </div>
    {/if}
    <ul class="rows mt-4">
      {#each shown as hit (hit.href)}
        <li><a class="plain block" href={hit.href}><HitLine {hit} /></a></li>
      {/each}
    </ul>
  </main>
{/if}
