<script lang="ts">
  import { SvelteSet } from "svelte/reactivity";
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import type { Page } from "../../lib/types";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, exactTime } from "../../lib/words";
  import { session } from "../session/session.svelte";
  import { type FindingRow as Row, grouped, listFindings } from "./api";
  import FindingRow from "./FindingRow.svelte";
  import WaiveForm from "./WaiveForm.svelte";

  const loader = new Loader<Page<Row>>();
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
  const everything = new Loader<Page<Row>>();
  everything.load("", () => listFindings(""));
  const all = $derived(everything.data?.items ?? []);
  const rows = $derived(loader.data?.items ?? []);
  const uniq = (values: string[]) => [...new Set(values)].sort();
  const filters = $derived([
    ["project", "Project", uniq(all.map((r) => r.project))],
    ["family", "Family", ["dangling", "stale", "text"]],
    ["rule", "Rule", uniq(all.map((r) => r.finding.rule))],
    ["severity", "Severity", ["error", "warning", "note"]],
    ["owner", "Owner", uniq(all.map((r) => r.finding.owner ?? "").filter(Boolean))],
    ["state", "State", ["new", "open", "back", "fixed"]],
    ["waived", "Waived", ["true", "false"]],
  ] as const);
  const GROUPS = [
    ["target", "By target"],
    ["owner", "By owner"],
    ["rule", "By rule"],
    ["", "One by one"],
  ] as const;
  const by = $derived(router.query.get("by") ?? "target");
  const groups = $derived(by ? grouped(rows, by) : [["", rows] as [string, Row[]]]);
  const chosen = new SvelteSet<string>();
  const chosenRows = $derived(rows.filter((r) => chosen.has(r.finding.fingerprint)));
  const mendable = $derived(chosenRows.filter((r) => r.finding.suggestion));
  const patchProject = $derived(
    uniq(mendable.map((r) => r.project)).length === 1 ? mendable[0]!.project : "",
  );
  const patchQuery = $derived(
    new URLSearchParams(mendable.map((r) => ["fingerprint", r.finding.fingerprint])),
  );
  let waiving = $state(false);

  function choose(name: string, value: string) {
    const next = new URLSearchParams(router.query);
    if (value || name === "by") next.set(name, value);
    else next.delete(name);
    router.go(`/findings${next.size ? `?${next}` : ""}`);
  }
  function mark(list: Row[], on: boolean) {
    for (const row of list) {
      if (on) chosen.add(row.finding.fingerprint);
      else chosen.delete(row.finding.fingerprint);
    }
  }
  function title(key: string, list: Row[]) {
    const message = list[0]!.finding.message;
    const name = key.split("/").slice(1).join("/");
    if (by !== "target") return { name: key, about: "" };
    return {
      name: name || key,
      about: message.startsWith(`${name} `) ? message.slice(name.length + 1) : "",
    };
  }
  const waivedWords = (row: Row) =>
    row.waived
      ? `Waived until ${row.waived.until} by ${row.waived.person}: ${row.waived.reason}`
      : "";
  async function waivedNow() {
    waiving = false;
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
      <strong>{count(loader.data.total, "finding")}</strong>
      {loader.data.total === 1 ? "stands" : "stand"} in {count(
        uniq(rows.map((r) => r.project)).length,
        "project",
      )}{#if by === "target" && groups.length}, about <strong
          >{count(groups.length, "thing")}</strong
        >{/if}.
      {#if query.includes("least=")}<button
          type="button"
          class="text-accent cursor-pointer underline underline-offset-4"
          onclick={() => choose("notes", "too")}>With notes</button
        >{/if}
    </p>
    <div class="mt-5 flex flex-wrap gap-x-5 gap-y-2">
      {#each filters as [name, label, values] (name)}
        <label class="small soft"
          >{label}
          <select
            class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
            value={router.query.get(name) ?? ""}
            onchange={(event) => choose(name, event.currentTarget.value)}
          >
            <option value=""
              >{name === "state" ? "standing" : name === "waived" ? "or not" : "every one"}</option
            >
            {#each values as value (value)}<option {value}
                >{name === "waived" ? (value === "true" ? "only" : "not") : value}</option
              >{/each}
          </select>
        </label>
      {/each}
    </div>
    <nav class="mt-5 flex flex-wrap gap-x-6 border-b" aria-label="Grouping">
      {#each GROUPS as [key, name] (key)}
        <button
          type="button"
          class="cursor-pointer pb-2 {by === key
            ? 'border-accent -mb-px border-b-2 font-semibold'
            : 'soft'}"
          aria-pressed={by === key}
          onclick={() => choose("by", key)}>{name}</button
        >
      {/each}
    </nav>
    {#if chosenRows.length}
      <div class="bg-sheet sticky top-[58px] z-10 mt-3 border-b py-3" aria-live="polite">
        <div class="flex flex-wrap items-baseline gap-x-6 gap-y-2">
          <strong>{count(chosenRows.length, "finding")} chosen</strong>
          {#if patchProject}<a href="/projects/{patchProject}/patch?{patchQuery}"
              >Put {mendable.length === 1 ? "its suggestion" : `${mendable.length} suggestions`} into
              a patch</a
            >{:else if mendable.length}<span class="soft"
              >A patch is for one project at a time.</span
            >{/if}
          {#if session.user}<button
              type="button"
              class="text-accent cursor-pointer underline underline-offset-4"
              aria-expanded={waiving}
              onclick={() => (waiving = !waiving)}>Waive until a day</button
            >{:else}<a href="/sign-in">Sign in to waive them</a>{/if}
          <button type="button" class="soft cursor-pointer" onclick={() => chosen.clear()}
            >Choose none</button
          >
        </div>
        {#if waiving}<WaiveForm rows={chosenRows} ondone={waivedNow} />{/if}
      </div>
    {/if}
    {#each groups as [key, list] (key)}
      {@const head = title(key, list)}
      {@const every = list.every((r) => chosen.has(r.finding.fingerprint))}
      <section class="mt-7">
        {#if by}
          <h2 class="flex flex-wrap items-baseline gap-x-2">
            <input
              type="checkbox"
              checked={every}
              aria-label="Choose all about {head.name}"
              onchange={() => mark(list, !every)}
            />
            {#if by === "target"}<code class="text-[14px] break-all">{head.name}</code
              >{:else}{head.name}{/if}
            <span class="soft font-normal"
              >{head.about}
              {count(list.length, "place")}{by === "target" && list.length > 1
                ? `, in ${count(uniq(list.map((r) => r.project)).length, "project")}`
                : ""}.</span
            >
          </h2>
        {/if}
        <ul class="rows">
          {#each list as row (row.project + row.branch + row.finding.fingerprint)}
            <FindingRow
              finding={row.finding}
              project={row.project}
              version={row.version}
              state="{row.state}{row.branch ? `, ${row.branch}` : ''}"
              waived={waivedWords(row)}
              chosen={chosen.has(row.finding.fingerprint)}
              onchoose={(on) => mark([row], on)}
            />
          {/each}
        </ul>
      </section>
    {/each}
    {#if rows.length}<p class="small soft mt-6">
        The oldest stands since {exactTime(
          rows.map((r) => r.first_seen_at).reduce((a, b) => (a < b ? a : b)),
        )}.
      </p>{/if}
  </main>
{/if}
