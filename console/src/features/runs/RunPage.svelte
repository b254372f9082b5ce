<script lang="ts">
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { exactTime, figure } from "../../lib/words";
  import { RunState, STAGES } from "./run.svelte";

  let { id }: { id: string } = $props();
  const state = new RunState();
  $effect(() => state.follow(id));
  const run = $derived(state.run);
  const MEANING: Record<string, string> = {
    receive: "check what came",
    store: "keep what is new",
    link: "resolve every mention",
    index: "make it searchable",
    live: "switch the names",
    report: "see what it did to others",
  };
  const WORDS = { done: "done", now: "now", failed: "failed here", later: "to come" };
</script>

<svelte:head><title>Run {id}</title></svelte:head>
{#if state.problem}
  <Trouble problem={state.problem} />
{:else if run}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <p class="soft">
      Run {run.id}{run.actor ? `, started by ${run.actor}` : ""}, {exactTime(run.created_at)}
    </p>
    <h1>
      {run.project}
      {run.version}
      {run.state === "done"
        ? run.is_dry
          ? "was tried"
          : "is live"
        : run.state === "failed"
          ? "failed"
          : run.state === "queued"
            ? "waits for a worker"
            : "is being published"}
    </h1>
    {#if run.problem}<p class="sentence dangling mt-2" role="alert">{run.problem}</p>{/if}
    {#if run.state === "done"}
      <p class="sentence mt-2">
        <strong>{figure(run.counts.held ?? 0)} of {figure(run.counts.total ?? 0)}</strong>
        references hold. <a href="/reports/{run.id}">Read the report</a>
      </p>
    {/if}
    <ol class="rows mt-6 max-w-[660px]" aria-live="polite">
      {#each STAGES as stage (stage)}
        {@const standing = state.standing(stage)}
        <li class="grid grid-cols-[100px_1fr_160px] items-baseline gap-4">
          <strong class={standing === "later" ? "soft font-normal!" : ""}>{stage}</strong>
          <span class="soft">{MEANING[stage]}</span>
          <span
            class={standing === "failed" ? "dangling" : standing === "now" ? "text-accent" : "soft"}
            >{WORDS[standing]}{#if standing === "now" && run.total}, {figure(run.done)} of {figure(
                run.total,
              )}{/if}</span
          >
          {#if standing === "now" && run.total}
            <progress
              class="col-span-3 h-1 w-full"
              max={run.total}
              value={run.done}
              aria-label="Progress of {stage}"
            ></progress>
          {/if}
        </li>
      {/each}
    </ol>
    <h2 class="mt-8">What it said</h2>
    <ul class="mt-1">
      {#each state.lines as line, i (i)}
        <li class="grid grid-cols-[80px_1fr] gap-3 py-0.5">
          <time class="small soft font-mono" datetime={line.at}>{line.at.slice(11, 19)}</time>
          <span
            class={line.level === "error" ? "dangling" : line.level === "warning" ? "stale" : ""}
            >{line.level === "info" ? "" : `${line.level}: `}{line.text}</span
          >
        </li>
      {/each}
    </ul>
  </main>
{/if}
