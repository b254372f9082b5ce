<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, figure, spell } from "../../lib/words";
  import { counting, getReport, type Report } from "./api";
  import FindingGroups from "./FindingGroups.svelte";
  import FindingRow from "./FindingRow.svelte";

  let { id }: { id: string } = $props();
  const loader = new Loader<Report>();
  $effect(() => {
    loader.load(id, () => getReport(id));
  });
  const report = $derived(loader.data);
  const broken = $derived(
    (report?.elsewhere ?? [])
      .map((e) => ({ ...e, findings: counting(e.findings), fixed: counting(e.fixed) }))
      .filter((e) => e.findings.length || e.fixed.length),
  );
  const elsewhere = $derived(broken.flatMap((e) => e.findings).length);
  const shown = $derived({
    new: counting(report?.new ?? []),
    open: counting(report?.open ?? []),
    fixed: counting(report?.fixed ?? []),
    notes: [...(report?.new ?? []), ...(report?.open ?? [])].filter((f) => f.severity === "note"),
  });
  const views = $derived(
    report
      ? ([
          ["new", "New here", shown.new.length],
          ["elsewhere", "Broken elsewhere", elsewhere],
          ["open", "Still open", shown.open.length],
          ["fixed", "Mended", shown.fixed.length],
          ["waived", "Waived", report.waived.length],
          ["notes", "Notes", shown.notes.length],
        ] as const)
      : [],
  );
  const view = $derived(router.query.get("view") ?? views.find(([, , size]) => size)?.[0] ?? "new");
  const newDangling = $derived(shown.new.filter((f) => f.rule.startsWith("dangling/")).length);
  const newWords = $derived(
    !newDangling
      ? ""
      : report?.counts.dangling === 1
        ? ", and it is new"
        : newDangling === report?.counts.dangling
          ? ", all of them new"
          : `, ${spell(newDangling)} of them new`,
  );
</script>

<svelte:head><title>Report of run {id}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if report}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <p class="soft">
      Report of <a class="plain" href="/runs/{report.run}">run {report.run}</a>{report.previous
        ? `, against ${report.previous}`
        : ", the first"}
    </p>
    <h1>{report.project} {report.version} {report.dry ? "was tried" : "is live"}</h1>
    <p class="sentence mt-2">
      <strong>{figure(report.counts.held)} of {figure(report.counts.total)}</strong> references
      hold.
      {#if report.counts.dangling}<strong class="dangling"
          >{figure(report.counts.dangling)}
          {report.counts.dangling === 1 ? "dangles" : "dangle"}</strong
        >{newWords};{/if}
      {#if report.counts.stale}<strong class="stale"
          >{figure(report.counts.stale)} {report.counts.stale === 1 ? "is" : "are"} stale</strong
        >;{/if}
      {shown.fixed.length
        ? `${count(shown.fixed.length, "finding")} of before mended.`
        : "nothing was mended."}
      {#if elsewhere}This release {report.dry ? "would touch" : "touched"}
        <strong class="dangling"
          >{count(elsewhere, "reference")} in {count(
            new Set(broken.filter((e) => e.findings.length).map((e) => e.project)).size,
            "other project",
          )}</strong
        >.{/if}
    </p>
    {#if report.held_for}<p class="mt-3">
        <span class="tag dangling">held back from latest</span>
        {report.held_for}
      </p>{/if}
    {#if report.examined.judged}<p class="small soft mt-3">
        Looked again at {figure(report.examined.mentions)} of {figure(report.examined.judged)} references
        of other releases; the others cannot have changed.
      </p>{/if}
    <nav class="mt-5 flex flex-wrap gap-x-6 border-b" aria-label="Findings">
      {#each views as [key, name, size] (key)}
        <a
          href="/reports/{id}?view={key}"
          class="plain pb-2 {view === key
            ? 'border-accent -mb-px border-b-2 font-semibold'
            : 'soft'}"
          aria-current={view === key ? "page" : undefined}>{name} {size}</a
        >
      {/each}
    </nav>
    {#if view === "waived"}
      <ul class="rows mt-4">
        {#each report.waived as waived (waived.finding.fingerprint)}
          <FindingRow
            finding={waived.finding}
            project={report.project}
            version={report.version}
            state={waived.ended ? "ended" : "waived"}
            waived="{waived.ended
              ? 'Was waived'
              : 'Waived'} until {waived.until} by {waived.person}: {waived.reason}"
          />
        {:else}<li class="soft">Nothing is waived.</li>{/each}
      </ul>
    {:else if view === "elsewhere"}
      {#each broken as other (other.project + other.version)}
        <h2 class="mt-6">
          {other.project}
          {other.version}, {other.owner ? `owned by ${other.owner}` : "owned by nobody"}
        </h2>
        <FindingGroups
          findings={other.findings}
          project={other.project}
          version={other.version}
          state="new"
        />
        {#if other.fixed.length}
          <FindingGroups
            findings={other.fixed}
            project={other.project}
            version={other.version}
            state="mended"
          />
        {/if}
      {:else}
        <p class="soft mt-6">This release broke nothing in other projects.</p>
      {/each}
    {:else}
      {@const findings = view in shown ? shown[view as keyof typeof shown] : shown.new}
      <FindingGroups
        {findings}
        project={report.project}
        version={report.version}
        state={{ open: "still open", fixed: "mended", notes: "a note" }[view] ?? "new"}
      />
      {#if !findings.length}<p class="soft mt-6">Nothing here.</p>{/if}
    {/if}
  </main>
{/if}
