<script lang="ts">
  import Choices from "./Choices.svelte";
  import type { Media } from "./interface";
  import ExampleBox from "./ExampleBox.svelte";
  import SchemaTree from "./SchemaTree.svelte";
  let { media, anchored = false }: { media: Media[]; anchored?: boolean } = $props();
  let chosen = $state(0);
  const shown = $derived(media[Math.min(chosen, media.length - 1)]);
  const label = (m: Media) => (m.name ? `${m.name} (${m.type})` : m.type);
</script>

{#if shown}
  <p class="small soft mt-2 flex flex-wrap gap-x-3 font-mono">
    {#if media.length > 1}
      <Choices labels={media.map(label)} bind:chosen />
    {:else}{label(shown)}{/if}
  </p>
  {#key shown}
    {#if shown.rows.length}<SchemaTree rows={shown.rows} {anchored} />{/if}
    <ExampleBox examples={shown.examples} />
  {/key}
{/if}
