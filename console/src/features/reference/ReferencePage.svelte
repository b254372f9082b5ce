<script lang="ts">
  import { call } from "../../lib/http/client";
  import { ListLoader } from "../../lib/loader.svelte";
  import type { Page, Navigation } from "../../lib/types";
  import MoreOf from "../../lib/ui/MoreOf.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";

  const loader = new ListLoader<Navigation>();
  loader.load("reference", () => call<Page<Navigation>>("/contents?limit=60"));
  const places = $derived(loader.data?.items ?? []);
  const modules = $derived(places.map((p) => p.modules.length + p.more_modules));
  const guides = $derived(places.map((p) => p.guides.length + p.more_guides));
  const sum = (figures: number[]) => figures.reduce((a, b) => a + b, 0);
</script>

<svelte:head><title>Reference</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Reference</h1>
    <p class="sentence">
      {#if places.length}
        {#if !loader.data.next}<strong>{count(sum(modules), "module")}</strong> and
          <strong>{count(sum(guides), "guide")}</strong> in{/if}
        {count(loader.data.total, "project")}. Press <kbd class="font-mono text-[0.8em]">/</kbd> to look
        something up.
      {:else}
        There is nothing to read yet. <code>zarbek publish PATH</code> brings the first project.
      {/if}
    </p>
    <div class="mt-8 grid gap-x-11 gap-y-8 sm:grid-cols-2 lg:grid-cols-3">
      {#each places as place (place.project)}
        <section class="min-w-0">
          <h2><a class="plain" href="/projects/{place.project}">{place.title}</a></h2>
          <p class="small soft mb-2">{place.project} {place.version}</p>
          <ul class="grid gap-1">
            {#each place.guides as guide (guide.path)}
              <li><a class="font-serif text-[16px]" href={guide.href}>{guide.name}</a></li>
            {/each}
            {#each place.modules as module (module.path)}
              <li class="truncate">
                <a class="font-mono text-[13px]" href={module.href}>{module.path}</a>
              </li>
            {/each}
            {#if place.more_modules || place.more_guides}
              <li>
                <a class="small" href="/projects/{place.project}"
                  >All {count(
                    place.modules.length + place.more_modules,
                    "module",
                  )}{place.more_guides
                    ? ` and ${count(place.guides.length + place.more_guides, "guide")}`
                    : ""}</a
                >
              </li>
            {/if}
          </ul>
        </section>
      {/each}
    </div>
    <MoreOf {loader} what="projects" />
  </main>
{/if}
