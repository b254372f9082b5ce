<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import type { Page } from "../../lib/types";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { type FindingRow as Row, listFindings } from "./api";
  import FindingRow from "./FindingRow.svelte";

  const loader = new Loader<Page<Row>>();
  const query = $derived(router.query.toString());
  $effect(() => {
    loader.load(query, () => listFindings(query));
  });
  const everything = new Loader<Page<Row>>();
  everything.load("", () => listFindings(""));
  const all = $derived(everything.data?.items ?? []);
  const uniq = (values: string[]) => [...new Set(values)].sort();
  const filters = $derived([
    ["project", "Project", uniq(all.map((r) => r.project))],
    ["family", "Family", ["dangling", "stale", "text"]],
    ["rule", "Rule", uniq(all.map((r) => r.finding.rule))],
    ["severity", "Severity", ["error", "warning", "note"]],
    ["owner", "Owner", uniq(all.map((r) => r.finding.owner ?? "").filter(Boolean))],
    ["state", "State", ["new", "open", "back", "fixed"]],
  ] as const);

  function choose(name: string, value: string) {
    const next = new URLSearchParams(router.query);
    if (value) next.set(name, value);
    else next.delete(name);
    router.go(`/findings${next.size ? `?${next}` : ""}`);
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
        uniq(loader.data.items.map((r) => r.project)).length,
        "project",
      )}.
    </p>
    <div class="mt-5 flex flex-wrap gap-x-5 gap-y-2">
      {#each filters as [name, title, values] (name)}
        <label class="small soft"
          >{title}
          <select
            class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
            value={router.query.get(name) ?? ""}
            onchange={(event) => choose(name, event.currentTarget.value)}
          >
            <option value="">{name === "state" ? "standing" : "every one"}</option>
            {#each values as value (value)}<option>{value}</option>{/each}
          </select>
        </label>
      {/each}
    </div>
    <ul class="rows mt-4">
      {#each loader.data.items as row (row.project + row.finding.fingerprint)}
        <FindingRow
          finding={row.finding}
          project={row.project}
          version={row.version}
          state={row.state}
        />
      {/each}
    </ul>
  </main>
{/if}
