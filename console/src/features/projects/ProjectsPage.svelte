<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime, figure } from "../../lib/words";
  import { listProjects, type Project } from "./api";

  const loader = new Loader<Project[]>();
  loader.load("projects", listProjects);
  const releases = $derived((loader.data ?? []).reduce((sum, p) => sum + p.releases.length, 0));
</script>

<svelte:head><title>Projects</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Projects</h1>
    <p class="sentence">
      {#if loader.data.length}
        <strong>{count(loader.data.length, "project")}</strong> with {count(releases, "release")}.
      {:else}
        There is no project yet. <code>zarbek publish PATH</code> brings the first.
      {/if}
    </p>
    <ul class="rows mt-6">
      {#each loader.data as project (project.slug)}
        {@const latest = project.releases.find((r) => r.version === project.latest)}
        <li class="grid gap-x-8 gap-y-1 sm:grid-cols-[180px_1fr_250px]">
          <a class="font-mono font-semibold" href="/projects/{project.slug}">{project.slug}</a>
          <span
            ><span class="font-serif text-[16px]">{project.summary || project.title}</span><br
            /><span class="small soft">{project.owner || "owned by nobody"}</span></span
          >
          <span class="small soft"
            >{project.latest || "no release yet"}{#if latest}, <time
                title={exactTime(latest.published_at)}>{ago(latest.published_at)}</time
              ><br />{figure(latest.symbols)} symbols, {count(latest.pages, "guide")}{/if}</span
          >
        </li>
      {/each}
    </ul>
  </main>
{/if}
