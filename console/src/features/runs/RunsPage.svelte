<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import type { Page, Run } from "../../lib/types";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import { listRuns } from "./api";

  const loader = new Loader<Page<Run>>();
  loader.load("runs", listRuns);
  const failed = $derived((loader.data?.items ?? []).filter((r) => r.state === "failed").length);
</script>

<svelte:head><title>Reports</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Reports</h1>
    <p class="sentence">
      {#if loader.data.total}
        <strong>{count(loader.data.total, "run")}</strong> so far{#if failed}, <span
            class="dangling">{failed} of the last hundred failed</span
          >{/if}. <a href="/findings">All findings</a> that stand now.
      {:else}
        Nothing was published yet. <code>zarbek publish PATH</code> makes the first report.
      {/if}
    </p>
    <ul class="rows mt-6">
      {#each loader.data.items as run (run.id)}
        <li class="grid gap-x-8 sm:grid-cols-[230px_1fr_230px]">
          <span
            ><a
              class="font-mono font-semibold"
              href={run.state === "done" ? `/reports/${run.id}` : `/runs/${run.id}`}
              >{run.project} {run.version}</a
            >
            <span class="small soft"
              >{run.is_dry ? "dry run" : run.is_preview ? "preview" : ""}</span
            ></span
          >
          <span class="soft"
            ><time title={exactTime(run.created_at)}>{ago(run.created_at)}</time>,
            <a class="plain" href="/runs/{run.id}">run {run.id}</a>{run.state === "done"
              ? ""
              : `, ${run.state}`}</span
          >
          <span>
            {#if run.counts.new}<span class="tag dangling">{run.counts.new} new</span>{/if}
            {#if run.counts.elsewhere}<span class="tag dangling"
                >{run.counts.elsewhere} elsewhere</span
              >{/if}
            {#if run.counts.fixed}<span class="tag mended">mended {run.counts.fixed}</span>{/if}
            {#if run.state === "done" && !run.counts.new && !run.counts.elsewhere && !run.counts.fixed}<span
                class="small soft"
                >{run.counts.open ? `${run.counts.open} still open` : "sound"}</span
              >{/if}
          </span>
        </li>
      {/each}
    </ul>
  </main>
{/if}
