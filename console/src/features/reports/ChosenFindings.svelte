<script lang="ts">
  import { count } from "../../lib/words";
  import { session } from "../session/session.svelte";
  import { distinct, type FindingRow } from "./api";
  import WaiveForm from "./WaiveForm.svelte";

  /** What may be done with the findings that are chosen. */
  let {
    rows,
    onclear,
    onwaived,
  }: { rows: FindingRow[]; onclear: () => void; onwaived: () => void } = $props();
  const fixable = $derived(rows.filter((r) => r.finding.suggestion));
  const projects = $derived(distinct(fixable.map((r) => r.project)));
  const query = $derived(
    new URLSearchParams(fixable.map((r) => ["fingerprint", r.finding.fingerprint])),
  );
  let waiving = $state(false);
</script>

<div class="bg-sheet sticky top-[58px] z-10 mt-3 border-b py-3" aria-live="polite">
  <div class="flex flex-wrap items-baseline gap-x-6 gap-y-2">
    <strong>{count(rows.length, "finding")} chosen</strong>
    {#if !session.user}<a href="/sign-in">Sign in to mend or waive them</a>
    {:else if projects.length === 1}<a href="/projects/{projects[0]}/patch?{query}"
        >Put {fixable.length === 1 ? "its suggestion" : `${fixable.length} suggestions`} into a patch</a
      >{:else if projects.length}<span class="soft">A patch is for one project at a time.</span
      >{/if}
    {#if session.user}<button
        type="button"
        class="text-accent cursor-pointer underline underline-offset-4"
        aria-expanded={waiving}
        onclick={() => (waiving = !waiving)}>Waive until a day</button
      >{/if}
    <button type="button" class="soft cursor-pointer" onclick={onclear}>Choose none</button>
  </div>
  {#if waiving}<WaiveForm {rows} ondone={onwaived} />{/if}
</div>
