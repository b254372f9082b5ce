<script lang="ts">
  import { SvelteMap } from "svelte/reactivity";
  import { ListLoader, Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import MoreOf from "../../lib/ui/MoreOf.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, exactTime } from "../../lib/words";
  import {
    distinct,
    type FindingGroup,
    type FindingRow,
    grouped,
    listFindings,
    listGroups,
  } from "./api";
  import ChosenFindings from "./ChosenFindings.svelte";
  import FindingFilters from "./FindingFilters.svelte";
  import FoldedGroup from "./FoldedGroup.svelte";
  import StandingFindings from "./StandingFindings.svelte";

  const loader = new ListLoader<FindingRow>();
  const query = $derived.by(() => {
    const next = new URLSearchParams(router.query);
    next.delete("by");
    next.delete("notes");
    const asks = ["severity", "rule", "state", "family"].some((name) => next.has(name));
    if (!asks && !router.query.has("notes")) next.set("least", "warning");
    return next.toString();
  });
  $effect(() => {
    loader.load(query, () => listFindings(query));
  });
  const rows = $derived(loader.data?.items ?? []);
  const by = $derived(router.query.get("by") ?? "target");
  const groups = $derived(by ? grouped(rows, by) : [["", rows] as [string, FindingRow[]]]);
  /** Of a list that is too long to be shown at once. */
  const tally = new Loader<FindingGroup[]>();
  const isFolded = $derived(Boolean(by && loader.data?.next));
  $effect(() => {
    if (isFolded) tally.load(`${by} ${query}`, () => listGroups(by, query));
  });
  const things = $derived(isFolded ? tally.data?.length : groups.length);
  const where = $derived(
    loader.data?.next ? "" : ` in ${count(distinct(rows.map((r) => r.project)).length, "project")}`,
  );
  const chosen = new SvelteMap<string, FindingRow>();
  const isChosen = (row: FindingRow) => chosen.has(row.finding.fingerprint);
  const chosenRows = $derived([...chosen.values()]);

  function show(name: string, value: string) {
    const next = new URLSearchParams(router.query);
    if (value || name === "by") next.set(name, value);
    else next.delete(name);
    router.go(`/findings${next.size ? `?${next}` : ""}`);
  }
  function choose(list: FindingRow[], on: boolean) {
    for (const row of list) {
      if (on) chosen.set(row.finding.fingerprint, row);
      else chosen.delete(row.finding.fingerprint);
    }
  }
  async function waived() {
    chosen.clear();
    await loader.again(() => listFindings(query));
  }
</script>

<svelte:head><title>Findings</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <h1 class="sr-only">Findings</h1>
    <p class="sentence">
      {#if loader.data.total}
        <strong>{count(loader.data.total, "finding")}</strong>
        {loader.data.total === 1 ? "stands" : "stand"}{where}{#if by === "target" && things}, about
          <strong>{count(things, "thing")}</strong>{/if}.
      {:else}{[...router.query.keys()].some((name) => name !== "by" && name !== "notes")
          ? "No finding is like that."
          : "No finding stands."}{/if}
      {#if query.includes("least=")}<button
          type="button"
          class="text-accent cursor-pointer underline underline-offset-4"
          onclick={() => show("notes", "too")}>With notes</button
        >{/if}
    </p>
    <FindingFilters {by} onchoose={show} />
    {#if chosenRows.length}
      <ChosenFindings rows={chosenRows} onclear={() => chosen.clear()} onwaived={waived} />
    {/if}
    {#if isFolded}
      {#if tally.problem}<Trouble problem={tally.problem} />{/if}
      {#each tally.data ?? [] as group (`${by} ${group.key} ${query}`)}
        <FoldedGroup {by} {group} {query} {isChosen} onchoose={choose} />
      {/each}
    {:else}
      {#each groups as [key, list] (key)}
        <StandingFindings {by} {key} rows={list} {isChosen} onchoose={choose} />
      {/each}
      <MoreOf {loader} what="findings" />
    {/if}
    {#if rows.length && !loader.data.next}<p class="small soft mt-6">
        The oldest stands since {exactTime(
          rows.map((r) => r.first_seen_at).reduce((a, b) => (a < b ? a : b)),
        )}.
      </p>{/if}
  </main>
{/if}
