<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import TimePlot from "../../lib/ui/TimePlot.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, figure, percent } from "../../lib/words";
  import { listProjects } from "../projects/api";
  import { type Ahead, type Edge, getMap, getTrend, listAhead, type TrendDay } from "./api";
  import ProjectMap from "./ProjectMap.svelte";

  const trend = new Loader<TrendDay[]>();
  const names = new Loader<{ projects: string[]; owners: string[] }>();
  const edges = new Loader<Edge[]>();
  const ahead = new Loader<Ahead[]>();
  const query = $derived(router.query.toString());
  $effect(() => {
    trend.load(`?${query}`, () => getTrend(query));
  });
  edges.load("map", getMap);
  ahead.load("ahead", listAhead);
  names.load("names", async () => {
    const projects = await listProjects();
    const owners = [...new Set(projects.map((p) => p.owner).filter(Boolean))].sort();
    return { projects: projects.map((p) => p.slug), owners };
  });
  const days = $derived(trend.data ?? []);
  const last = $derived(days.at(-1));
  const whose = $derived(
    router.query.get("project") ?? router.query.get("owner") ?? "the whole portal",
  );
  const times = $derived(days.map((d) => Date.parse(d.at) / 1000));
  const column = (name: "dangling" | "stale" | "open" | "new" | "fixed") =>
    days.map((d) => d[name]);

  function choose(name: string, value: string) {
    router.go(`/health${value ? `?${new URLSearchParams({ [name]: value })}` : ""}`);
  }
</script>

<svelte:head><title>Health</title></svelte:head>
{#if trend.problem}
  <Trouble problem={trend.problem} />
{:else if trend.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Health</h1>
    <p class="sentence">
      {#if last}
        Of <strong>{figure(last.total)} references</strong> of {whose},
        <strong>{percent(last.total - last.dangling - last.stale, last.total)}</strong> hold;
        <span class="dangling">{figure(last.dangling)} dangle</span>,
        <span class="stale">{figure(last.stale)} {last.stale === 1 ? "is" : "are"} stale</span>.
        <span class="soft"
          >{count(last.open, "finding")}
          {last.open === 1 ? "stands" : "stand"}, notes left aside.</span
        >
      {:else}Nothing was published yet.{/if}
    </p>
    <div class="mt-5 flex flex-wrap gap-x-5 gap-y-2">
      {#each [["owner", "Team", names.data?.owners ?? []], ["project", "Project", names.data?.projects ?? []]] as const as [name, title, values] (name)}
        <label class="small soft"
          >{title}
          <select
            class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
            value={router.query.get(name) ?? ""}
            onchange={(event) => choose(name, event.currentTarget.value)}
          >
            <option value="">every one</option>
            {#each values as value (value)}<option>{value}</option>{/each}
          </select>
        </label>
      {/each}
    </div>
    {#if days.length}
      <div class="mt-7 grid gap-x-12 gap-y-8 min-[900px]:grid-cols-2">
        {#key days}
          <section>
            <h2 class="mb-2">References that do not hold</h2>
            <TimePlot
              {times}
              label="Dangling and stale references over {days.length} points in time"
              series={[
                { name: "dangling", colour: "--dangling", values: column("dangling") },
                { name: "stale", colour: "--stale", values: column("stale"), dashed: true },
              ]}
            />
          </section>
          <section>
            <h2 class="mb-2">Findings: standing, new, mended</h2>
            <TimePlot
              {times}
              label="Findings that stand, new ones and mended ones over {days.length} points in time"
              series={[
                { name: "standing", colour: "--ink", values: column("open") },
                { name: "new", colour: "--dangling", values: column("new") },
                { name: "mended", colour: "--accent", values: column("fixed"), dashed: true },
              ]}
            />
          </section>
        {/key}
      </div>
    {/if}
    {#if ahead.data?.length}
      <h2 class="mt-9">Repositories that are ahead</h2>
      <ul class="rows">
        {#each ahead.data as source (source.id)}
          <li>
            <a class="font-mono font-semibold" href="/projects/{source.project}">{source.project}</a
            >
            {source.ahead.tags.length
              ? `has ${count(source.ahead.tags.length, "unpublished tag")} (${source.ahead.tags.join(", ")})`
              : "has no new tag"}{source.ahead.commits
              ? ` and ${count(source.ahead.commits, "commit")} on ${source.ahead.branch} since ${source.ahead.since}`
              : ""}.
          </li>
        {/each}
      </ul>
    {/if}
    {#if edges.data?.length}
      <h2 class="mt-9">Who refers to whom</h2>
      <ProjectMap edges={edges.data} known={names.data?.projects ?? []} />
    {/if}
  </main>
{/if}
