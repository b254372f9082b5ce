<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import SideBySide from "../../lib/ui/SideBySide.svelte";
  import type { Change } from "./api";
  let { change, slug, old, newer }: { change: Change; slug: string; old: string; newer: string } =
    $props();
  const gone = $derived(change.kind === "removed");
  const href = $derived(`/ref/${slug}/${gone ? old : newer}/${encodePath(change.path)}`);
  const text = $derived(change.details?.find((d) => d.kind === "text"));
  const was = $derived(change.kind === "text" ? text?.before : change.before);
  const now = $derived(change.kind === "text" ? text?.after : change.after);
  const shown = $derived(["signature", "moved", "text"].includes(change.kind) && was !== now);
</script>

<li>
  <div class="flex flex-wrap items-baseline gap-x-3">
    {#if change.was && change.was !== change.path}<code class="soft text-[14px] break-all"
        >{change.was}</code
      ><span class="soft">is now</span>{/if}
    <a class="font-mono text-[14px] font-semibold break-all" {href}>{change.path}</a>
    <span class="small soft">{change.symbol_kind}</span>
    {#if change.breaks}<span class="tag dangling">breaks callers</span>{/if}
  </div>
  {#if change.kind === "moved"}
    <p class="small soft">{change.certain === false ? "Likely: " : ""}{change.why}</p>
  {/if}
  {#if shown}<SideBySide
      left={was ?? ""}
      right={now ?? ""}
      leftTitle={old}
      rightTitle={newer}
      prose={change.kind === "text"}
    />{/if}
  {#each (change.details ?? []).filter((d) => d.kind !== "text") as detail (detail.kind + detail.text)}
    <p class="mt-1 {detail.breaks ? 'dangling' : 'soft'}">{detail.text}</p>
  {/each}
</li>
