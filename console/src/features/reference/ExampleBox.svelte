<script lang="ts">
  import Choices from "./Choices.svelte";
  import { copyText } from "../../lib/words";
  import Html from "../../lib/ui/Html.svelte";
  import type { Example } from "./interface";
  let { examples, title = "Example" }: { examples: Example[]; title?: string } = $props();
  let chosen = $state(0);
  let copied = $state(-1);
  const shown = $derived(examples[Math.min(chosen, examples.length - 1)]);

  async function copy() {
    copied = (await copyText(shown?.raw ?? "")) ? chosen : -1;
  }
</script>

{#if shown}
  <figure class="mt-3">
    <figcaption class="small soft flex flex-wrap items-baseline gap-x-3">
      <span>{shown.made ? `${title}, made from the schema` : title}</span>
      {#if examples.length > 1}
        <Choices labels={examples.map((e, n) => e.name || `No. ${n + 1}`)} bind:chosen />
      {:else if shown.name}<span class="text-ink">{shown.name}</span>{/if}
      <button
        type="button"
        class="text-accent ml-auto cursor-pointer underline underline-offset-4"
        onclick={copy}>{copied === chosen ? "Copied" : "Copy"}</button
      >
    </figcaption>
    {#if shown.text}<p class="small">{shown.text}</p>{/if}
    {#if shown.html}<Html html={shown.html} class="example mt-1" />{:else}<div class="example mt-1">
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <pre tabindex="0">{shown.raw}</pre>
      </div>{/if}
    {#if shown.faults?.length}
      <p class="small mt-1">
        <span class="tag stale">stale</span> It does not fit: {shown.faults.join("; ")}.
      </p>
    {/if}
  </figure>
{/if}
