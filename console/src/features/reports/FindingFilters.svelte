<script lang="ts">
  import { router } from "../../lib/router.svelte";
  import { Loader } from "../../lib/loader.svelte";
  import { listKeys } from "./api";

  /** What of all findings is shown, and in which groups. */
  let { by, onchoose }: { by: string; onchoose: (name: string, value: string) => void } = $props();
  const known = new Loader<string[][]>();
  known.load("", () => Promise.all(["project", "rule", "owner"].map(listKeys)));
  const filters = $derived([
    ["project", "Project", known.data?.[0] ?? []],
    ["family", "Family", ["dangling", "stale", "text"]],
    ["rule", "Rule", known.data?.[1] ?? []],
    ["severity", "Severity", ["error", "warning", "note"]],
    ["owner", "Owner", known.data?.[2] ?? []],
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
