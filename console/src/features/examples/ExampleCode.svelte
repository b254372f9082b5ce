<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { ExamplePart } from "./types";

  /** The code of an example: what is set up can be unfolded, what comes out stands in words. */
  let { parts }: { parts: ExamplePart[] } = $props();
  const before = $derived(parts.filter((part) => part.kind === "set-up"));
  const own = $derived(parts.filter((part) => part.kind !== "set-up"));
</script>

<div class="example mt-2">
  {#if before.length}
    <details>
      <summary class="small soft">What is set up before</summary>
      {#each before as part, n (n)}<Html html={part.code} />{/each}
    </details>
  {/if}
  {#each own as part, n (n)}
    {#if part.kind === "outcome"}
      <div class="outcome">
        {#if part.code}<Html html={part.code} />{/if}
        <span class="small soft">{part.how}</span>
        {#if part.result}<Html html={part.result} />{/if}
      </div>
    {:else}
      <Html html={part.code} />
    {/if}
  {/each}
</div>

<style>
  .example :global(pre) {
    margin: 0;
    padding: 2px 12px;
    background: transparent;
  }
  .example {
    background: var(--code);
    border-radius: 4px;
    padding: 8px 0;
    max-width: 100%;
    overflow-x: auto;
  }
  .example summary {
    padding: 2px 12px;
    cursor: pointer;
  }
  .outcome {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    border-left: 2px solid var(--accent);
    margin: 2px 0;
  }
  .outcome :global(pre) {
    padding: 1px 10px;
  }
</style>
