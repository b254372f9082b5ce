<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import type { Page } from "../../lib/types";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import { type AuditEntry, inWords, listAudit } from "./api";

  const loader = new Loader<Page<AuditEntry>>();
  const project = $derived(router.query.get("project") ?? "");
  const query = $derived(
    new URLSearchParams(
      [...router.query].filter(([name]) => ["project", "actor", "action", "cursor"].includes(name)),
    ).toString(),
  );
  $effect(() => {
    const asked = query;
    loader.load(asked || "all", () => listAudit(asked));
  });
  const older = $derived.by(() => {
    const cursor = new URLSearchParams(loader.data?.next?.split("?")[1] ?? "").get("cursor");
    if (!cursor) return "";
    const following = new URLSearchParams(query);
    following.set("cursor", cursor);
    return `/audit?${following}`;
  });
</script>

<svelte:head><title>What was done</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1>What was done</h1>
    <p class="sentence mt-2">
      <strong>{count(loader.data.total, "change")}</strong>
      {project ? "to" : "to the portal and its projects"}
      {#if project}<a href="/projects/{project}">{project}</a>{/if} so far, the newest first. All of it
      as
      <a href="/api/v1/audit/lines{project ? `?project=${project}` : ''}" target="_self" download
        >JSON Lines</a
      >.
    </p>
    <ul class="rows mt-6">
      {#each loader.data.items as entry (entry.id)}
        {@const before = inWords(entry.before)}
        {@const after = inWords(entry.after)}
        <li class="grid items-baseline gap-x-6 sm:grid-cols-[110px_190px_1fr_210px]">
          <time class="small soft" title={exactTime(entry.at)}>{ago(entry.at)}</time>
          <span class="font-mono text-[14px]">{entry.action}</span>
          <span class="min-w-0 [overflow-wrap:anywhere]">
            {#if entry.project && entry.project !== project}<a href="/projects/{entry.project}"
                >{entry.project}</a
              >{/if}
            {entry.subject}
            {#if before || after}<span class="small soft block"
                >{before}{before && after ? " → " : ""}{after}</span
              >{/if}
          </span>
          <span class="small soft"
            >{entry.actor || "nobody"}{entry.token ? `, by ${entry.token}` : ""}{entry.address
              ? `, from ${entry.address}`
              : ""}</span
          >
        </li>
      {:else}<li class="soft">Nothing of that kind was done yet.</li>
      {/each}
    </ul>
    {#if older}<p class="mt-4"><a href={older}>What was done before</a></p>{/if}
  </main>
{/if}
