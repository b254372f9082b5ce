<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime, figure, pagesOf } from "../../lib/words";
  import { FOR_WHOM } from "../people/api";
  import { session } from "../session/session.svelte";
  import { byHost, getProject, type Release } from "./api";
  import HealthPlot from "./HealthPlot.svelte";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Awaited<ReturnType<typeof getProject>>>();
  $effect(() => {
    loader.load(slug, () => getProject(slug));
  });
  const project = $derived(loader.data?.project);
  const now = $derived(loader.data?.health.at(-1));
  const notes = (release: Release) =>
    [
      release.is_preview ? "preview" : "",
      release.held_for ? "held back" : "",
      release.support || (release.is_judged ? "" : "superseded"),
    ].filter(Boolean);
  const unreachable = $derived(byHost(loader.data?.addresses.unreachable ?? []));
  const modules = $derived((loader.data?.navigation?.modules ?? []).filter((m) => !m.depth));
</script>

<svelte:head><title>{slug}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data && project}
  <main class="mx-auto grid max-w-[1140px] gap-14 px-6 py-9 min-[960px]:grid-cols-[1fr_330px]">
    <div class="min-w-0">
      <p class="soft">
        {project.slug}{project.owner
          ? `, owned by ${project.owner}`
          : ", owned by nobody"}{project.visibility === "public"
          ? ""
          : `, for ${FOR_WHOM[project.visibility]}`}
      </p>
      <h1>{project.title}</h1>
      <p class="sentence mt-2">
        {project.summary}
        {#if now}
          <strong>{figure(now.total - now.dangling - now.stale)} of {figure(now.total)}</strong>
          references hold{#if now.dangling}; <a
              class="plain dangling font-semibold"
              href="/findings?project={slug}&family=dangling">{figure(now.dangling)} dangle</a
            >{/if}{#if now.stale}; <a
              class="plain stale font-semibold"
              href="/findings?project={slug}&family=stale"
              >{figure(now.stale)} {now.stale === 1 ? "is" : "are"} stale</a
            >{/if}.
        {/if}
      </p>
      <p class="mt-4 flex flex-wrap gap-x-6 gap-y-1">
        {#if project.releases.length > 1}<a href="/projects/{slug}/compare">What changed</a>{/if}
        <a href="/projects/{slug}/impact">Who refers to it</a>
        <a href="/findings?project={slug}">Its findings</a>
        <a href="/health?project={slug}">Health over time</a>
        {#if project.latest}<a href="/tested/{slug}/{encodeURIComponent(project.latest)}"
            >What is tested</a
          >{/if}
        <a href="/projects/{slug}/patch">A patch</a>
        <a href="/feeds/projects/{slug}.atom">Feed</a>
        {#if session.user}
          <a href="/projects/{slug}/members">Who may read it</a>
          <a href="/audit?project={slug}">What was done</a>
        {/if}
      </p>
      {#if modules.length}
        <h2 class="mt-8">Modules of {project.latest}</h2>
        <ul class="rows">
          {#each modules as module (module.path)}
            <li><a class="font-mono text-[14px]" href={module.href}>{module.path}</a></li>
          {/each}
        </ul>
      {/if}
      {#if loader.data.navigation?.guides.length}
        <h2 class="mt-8">{pagesOf(loader.data.navigation.guides)}</h2>
        <ul class="rows">
          {#each loader.data.navigation.guides as guide (guide.path)}
            <li class={guide.depth ? "pl-6" : ""}>
              <a class="font-serif text-[16px]" href={guide.href}>{guide.name}</a>
            </li>
          {/each}
        </ul>
      {/if}
    </div>
    <aside class="min-w-0" aria-label="Releases and health">
      <h2>Releases</h2>
      <ul class="rows">
        {#each project.releases as release (release.version)}
          <li class="flex items-baseline justify-between gap-3">
            <span
              ><strong>{release.version}</strong>
              <span class="small soft">{[...release.aliases, ...notes(release)].join(", ")}</span
              ></span
            >
            <span class="small soft"
              ><time title={exactTime(release.published_at)}>{ago(release.published_at)}</time>, {release.symbols
                ? count(release.symbols, "symbol")
                : count(release.pages, "guide")}</span
            >
          </li>
        {:else}<li class="soft">Nothing of it is published yet.</li>
        {/each}
      </ul>
      {#if loader.data.health.length > 1}
        <h2 class="mt-8 mb-2">Link health</h2>
        <HealthPlot points={loader.data.health} />
      {/if}
      {#if unreachable.length}
        <h2 class="mt-8">Addresses of the web</h2>
        <p class="small soft">
          {figure(loader.data.addresses.unreachable.length)} of {figure(
            loader.data.addresses.known,
          )} could not be reached, which is no fault of the references.
        </p>
        <ul class="rows">
          {#each unreachable as { host, count: size, first } (host)}
            <li>
              <span class="font-mono text-[14px]">{host}</span>
              <span class="small soft"
                >{count(size, "address", "addresses")}, since
                <time title={exactTime(first.since)}>{ago(first.since)}</time>: {first.why}</span
              >
            </li>
          {/each}
        </ul>
      {/if}
    </aside>
  </main>
{/if}
