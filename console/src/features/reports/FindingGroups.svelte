<script lang="ts">
  import type { Finding } from "../../lib/types";
  import { count } from "../../lib/words";
  import { byTarget, placesOf } from "./api";
  import FindingRow from "./FindingRow.svelte";
  let {
    findings,
    project,
    version,
    state = "",
  }: { findings: Finding[]; project: string; version: string; state?: string } = $props();
  const groups = $derived(byTarget(findings));
  /** The message without the name that stands before it. */
  const about = (target: string, message: string) => {
    const name = `${target.split("/").slice(1).join("/")} `;
    return message.startsWith(name) ? message.slice(name.length) : message;
  };
</script>

{#each groups as group (group.target)}
  <section class="mt-7">
    <h3>
      <code class="text-[14px] font-semibold"
        >{group.target.split("/").slice(1).join("/") || group.target}</code
      >
      <span class="soft ml-1"
        >{about(group.target, group.findings[0]!.message)}
        {count(placesOf(group.findings), "place")}.</span
      >
    </h3>
    <ul class="rows">
      {#each group.findings as finding (finding.fingerprint)}
        <FindingRow {finding} {project} {version} {state} />
      {/each}
    </ul>
  </section>
{/each}
