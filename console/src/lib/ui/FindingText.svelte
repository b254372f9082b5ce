<script lang="ts">
  import type { Finding } from "../types";
  let { finding }: { finding: Finding } = $props();
  const family = $derived(finding.rule.split("/")[0]);
</script>

{#if finding.text && (finding.before || finding.after)}
  <span class="font-serif text-[16px]"
    >{finding.before ?? ""}<span class="mention {family === 'dangling' ? 'dangling' : 'stale'}"
      >{finding.text}</span
    >{finding.after ?? ""}</span
  >
{:else}
  <span class="font-serif text-[16px]">{finding.message}</span>
{/if}
