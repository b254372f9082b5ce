<script lang="ts">
  import { copyText } from "../../lib/words";
  import type { Snippet } from "./interface";
  let { snippets }: { snippets: Snippet[] } = $props();
  let chosen = $state(0);
  let copied = $state(false);
  const shown = $derived(snippets[Math.min(chosen, snippets.length - 1)]);
</script>

{#if shown}
  <section class="mt-10" aria-label="As a command or code">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h2>As a command or code</h2>
      <div class="small flex flex-wrap gap-x-3" role="group" aria-label="Form">
        {#each snippets as snippet, index (snippet.label)}
          <button
            type="button"
            class="cursor-pointer {index === chosen
              ? 'text-ink font-semibold'
              : 'text-accent underline underline-offset-4'}"
            aria-pressed={index === chosen}
            onclick={() => ((chosen = index), (copied = false))}>{snippet.label}</button
          >
        {/each}
      </div>
      <button
        type="button"
        class="small text-accent ml-auto cursor-pointer underline underline-offset-4"
        onclick={async () => (copied = await copyText(shown.text))}
        >{copied ? "Copied" : "Copy"}</button
      >
    </div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <pre class="code mt-2" tabindex="0" data-snippet={shown.label}><code>{shown.text}</code></pre>
  </section>
{/if}
