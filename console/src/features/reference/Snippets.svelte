<script lang="ts">
  import Choices from "./Choices.svelte";
  import { copyText } from "../../lib/words";
  import type { Snippet } from "./interface";
  let { snippets }: { snippets: Snippet[] } = $props();
  let chosen = $state(0);
  let copied = $state(-1);
  const shown = $derived(snippets[Math.min(chosen, snippets.length - 1)]);
</script>

{#if shown}
  <section class="mt-10" aria-label="As a command or code">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h2>As a command or code</h2>
      <div class="small flex flex-wrap gap-x-3" role="group" aria-label="Form">
        <Choices labels={snippets.map((s) => s.label)} bind:chosen />
      </div>
      <button
        type="button"
        class="small text-accent ml-auto cursor-pointer underline underline-offset-4"
        onclick={async () => (copied = (await copyText(shown.text)) ? chosen : -1)}
        >{copied === chosen ? "Copied" : "Copy"}</button
      >
    </div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <pre class="code mt-2" tabindex="0" data-snippet={shown.label}><code>{shown.text}</code></pre>
  </section>
{/if}
