<script lang="ts">
  import { count } from "../../lib/words";
  import { type FindingRow, waive } from "./api";
  let { rows, ondone }: { rows: FindingRow[]; ondone: () => void } = $props();

  const THREE_MONTHS_MS = 92 * 24 * 3600 * 1000;
  let reason = $state("");
  let until = $state(new Date(Date.now() + THREE_MONTHS_MS).toISOString().slice(0, 10));
  let problem = $state("");

  async function send(event: SubmitEvent) {
    event.preventDefault();
    problem = "";
    try {
      for (const project of new Set(rows.map((r) => r.project))) {
        const fingerprints = rows
          .filter((r) => r.project === project)
          .map((r) => r.finding.fingerprint);
        await waive({ project, fingerprints, reason, until });
      }
      ondone();
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<form class="mt-3 flex flex-wrap items-end gap-4" onsubmit={send}>
  <label class="small soft grow"
    >Why
    <input
      class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5"
      bind:value={reason}
      required
      minlength="3"
    /></label
  >
  <label class="small soft"
    >Until, the last day
    <input
      type="date"
      class="bg-sheet text-ink mt-1 block rounded-sm border px-3 py-1.5"
      bind:value={until}
      required
    /></label
  >
  <button
    class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
    >Waive {count(rows.length, "finding")}</button
  >
  {#if problem}<p class="dangling w-full" role="alert">{problem}</p>{/if}
</form>
