<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, capital, count, exactTime, figure, join, percent, spell } from "../../lib/words";
  import { getDashboard, type Dashboard } from "./api";
  import RunningLine from "./RunningLine.svelte";
  import Trend from "./Trend.svelte";

  const loader = new Loader<Dashboard>();
  loader.load("dashboard", getDashboard);
  const today = $derived(loader.data);
  const hour = new Date().getHours();
  const greeting = hour < 12 ? "Good morning" : hour < 18 ? "Good afternoon" : "Good evening";
  const turn = (t: Dashboard["by_owner"][number]) =>
    [
      t.dangling ? `${figure(t.dangling)} dangling` : "",
      t.stale ? `${figure(t.stale)} stale` : "",
      t.text ? count(t.text, "fault of text", "faults of text") : "",
    ]
      .filter(Boolean)
      .join(", ");
</script>

<svelte:head><title>Today</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if today}
  <main class="mx-auto grid max-w-[1140px] gap-14 px-6 py-9 min-[960px]:grid-cols-[1fr_330px]">
    <div class="min-w-0">
      <h1 class="sr-only">Today</h1>
      {#if today.projects}
        <p class="sentence text-[25px]!">
          {greeting}.
          <a class="plain" href="/projects"
            ><strong
              >{capital(spell(today.projects))}
              {today.projects === 1 ? "project" : "projects"}</strong
            ></a
          >
          {today.projects === 1 ? "is" : "are"} published; the portal's
          <strong>{figure(today.references)} references</strong>
          are
          <strong>{percent(today.references - today.dangling, today.references)}</strong> sound.
          {#if today.dangling}<a class="plain dangling" href="/findings?family=dangling"
              >{figure(today.dangling)} dangle</a
            >{#if today.new_dangling}, {figure(today.new_dangling)} of them new{/if}.{:else}None
            dangles.{/if}
        </p>
      {:else}
        <p class="sentence text-[25px]!">
          {greeting}. Nothing is published yet. <code>zarbek publish PATH</code> brings the first project.
        </p>
      {/if}
      <h2 class="mt-8">Published</h2>
      <ul class="rows">
        {#each today.published as run (run.run)}
          <li class="grid gap-x-6 sm:grid-cols-[150px_1fr_210px]">
            <a class="plain font-mono font-semibold" href="/projects/{run.project}">{run.project}</a
            >
            <span
              >{run.version},
              <time title={exactTime(run.at)} datetime={run.at}>{ago(run.at)}</time><br /><span
                class="small soft"
                >{figure(run.counts.total ?? 0)} references{#if run.counts.fixed}; mends {run.counts
                    .fixed}{/if}</span
              ></span
            >
            <a class="plain" href="/reports/{run.run}">
              {#if run.counts.dangling}<span class="tag dangling">{run.counts.dangling} dangle</span
                >{/if}
              {#if run.counts.stale}<span class="tag stale">{run.counts.stale} stale</span>{/if}
              {#if !run.counts.dangling && !run.counts.stale}<span class="small soft">sound</span
                >{/if}
            </a>
          </li>
        {/each}
      </ul>
      {#if today.by_owner.length}
        <h2 class="mt-8">Whose turn it is</h2>
        <ul class="rows">
          {#each today.by_owner as owner (owner.owner)}
            <li class="grid gap-x-6 sm:grid-cols-[150px_1fr_210px]">
              <strong>{owner.owner || "Nobody"}</strong>
              <span>{turn(owner)} <span class="small soft">in {join(owner.projects)}</span></span>
              <span
                ><a href="/findings?owner={encodeURIComponent(owner.owner)}">See them in place</a
                ></span
              >
            </li>
          {/each}
        </ul>
      {/if}
    </div>
    <aside class="min-w-0" aria-label="Health">
      {#if today.trend.length}<Trend days={today.trend} references={today.references} />{/if}
      {#if today.running.length}
        <h2 class="mt-9 mb-1">Running</h2>
        {#each today.running as run (run.id)}<RunningLine {run} />{/each}
      {/if}
    </aside>
  </main>
{/if}
