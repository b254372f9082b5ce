<script lang="ts">
  import { call } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import type { Page, Navigation } from "../../lib/types";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";

  interface Brief {
    slug: string;
    latest: string;
  }
  const MOST = 12;
  const loader = new Loader<Navigation[]>();
  loader.load("reference", async () => {
    const projects = (await call<Page<Brief>>("/projects?limit=500")).items.filter((p) => p.latest);
    return Promise.all(
      projects.map((p) => call<Navigation>(`/projects/${p.slug}/releases/latest/contents`)),
    );
  });
  const modules = $derived((loader.data ?? []).flatMap((p) => p.modules).length);
  const guides = $derived((loader.data ?? []).flatMap((p) => p.guides).length);
</script>

<svelte:head><title>Reference</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Reference</h1>
    <p class="sentence">
      {#if loader.data.length}
        <strong>{count(modules, "module")}</strong> and <strong>{count(guides, "guide")}</strong> in
        {count(loader.data.length, "project")}. Press <kbd class="font-mono text-[0.8em]">/</kbd> to look
        something up.
      {:else}
        There is nothing to read yet. <code>zarbek publish PATH</code> brings the first project.
      {/if}
    </p>
    <div class="mt-8 grid gap-x-11 gap-y-8 sm:grid-cols-2 min-[960px]:grid-cols-3">
      {#each loader.data as place (place.project)}
        <section class="min-w-0">
          <h2><a class="plain" href="/projects/{place.project}">{place.title}</a></h2>
          <p class="small soft mb-2">{place.project} {place.version}</p>
          <ul class="grid gap-1">
            {#each place.guides.slice(0, 12) as guide (guide.path)}
              <li><a class="font-serif text-[16px]" href={guide.href}>{guide.name}</a></li>
            {/each}
            {#each place.modules.slice(0, MOST) as module (module.path)}
              <li class="truncate">
                <a class="font-mono text-[13px]" href={module.href}>{module.path}</a>
              </li>
            {/each}
            {#if place.modules.length > MOST}
              <li>
                <a class="small" href="/projects/{place.project}"
                  >All {place.modules.length} modules</a
                >
              </li>
            {/if}
          </ul>
        </section>
      {/each}
    </div>
  </main>
{/if}
