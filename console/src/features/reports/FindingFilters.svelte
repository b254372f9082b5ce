<script lang="ts">
  import { router } from "../../lib/router.svelte";
  import { distinct, type FindingRow } from "./api";

  /** What of all findings is shown, and in which groups. */
  let {
    rows,
    by,
    onchoose,
  }: { rows: FindingRow[]; by: string; onchoose: (name: string, value: string) => void } = $props();
  const filters = $derived([
    ["project", "Project", distinct(rows.map((r) => r.project))],
    ["family", "Family", ["dangling", "stale", "text"]],
    ["rule", "Rule", distinct(rows.map((r) => r.finding.rule))],
    ["severity", "Severity", ["error", "warning", "note"]],
    ["owner", "Owner", distinct(rows.map((r) => r.finding.owner ?? "").filter(Boolean))],
    ["state", "State", ["new", "open", "back", "fixed"]],
    ["waived", "Waived", ["true", "false"]],
  ] as const);
  const GROUPS = [
    ["target", "By target"],
    ["owner", "By owner"],
    ["rule", "By rule"],
    ["", "One by one"],
  ] as const;
</script>

<div class="mt-5 flex flex-wrap gap-x-5 gap-y-2">
  {#each filters as [name, label, values] (name)}
    <label class="small soft"
      >{label}
      <select
        class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
        value={router.query.get(name) ?? ""}
        onchange={(event) => onchoose(name, event.currentTarget.value)}
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
      onclick={() => onchoose("by", key)}>{name}</button
    >
  {/each}
</nav>
