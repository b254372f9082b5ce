<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { SafeHtml } from "../../lib/types";
  import type { SourcePart } from "./api";

  /** Lines of code beside their numbers, of which each can be linked to. */
  let {
    part,
    lineAsked,
    first = false,
  }: { part: SourcePart | undefined; lineAsked: number; first?: boolean } = $props();
  const numbers = $derived(
    part ? Array.from({ length: first ? 1 : part.lines }, (_, n) => part.line + n) : [],
  );
  // A block of code is lines; the first of them stands alone where the rest is folded.
  const html = $derived(
    first && part ? (`${part.html.split("\n")[0]}</code></pre>` as SafeHtml) : part?.html,
  );
</script>

{#if part && html}
  <div class="numbered">
    <div class="numbers">
      {#each numbers as n (n)}<a
          id="L{n}"
          href="#L{n}"
          class:asked={n === lineAsked}
          aria-label="Line {n}">{n}</a
        >{/each}
    </div>
    <Html {html} />
  </div>
{/if}
