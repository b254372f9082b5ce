<script lang="ts">
  import type { Hit } from "./api";
  let { hit }: { hit: Hit } = $props();
</script>

<span class="flex flex-wrap items-baseline gap-x-3">
  <span
    class={hit.kind === "guide" || hit.kind === "topic"
      ? "font-semibold"
      : "font-mono text-[14px] font-semibold"}>{hit.name}</span
  >
  <span class="soft small">{hit.kind}, {hit.project} {hit.version}</span>
  {#if hit.is_deprecated}<span class="tag stale">deprecated</span>{/if}
</span>
<span class="soft small block truncate">{hit.summary || hit.path}</span>
