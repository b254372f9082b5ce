<script lang="ts">
  /** A few words of which one is chosen. */
  let { labels, chosen = $bindable() }: { labels: string[]; chosen: number } = $props();
</script>

{#each labels as label, index (index)}
  <button
    type="button"
    class="cursor-pointer {index === chosen
      ? 'text-ink font-semibold'
      : 'text-accent underline underline-offset-4'}"
    aria-pressed={index === chosen}
    onclick={() => (chosen = index)}>{label}</button
  >
{/each}
