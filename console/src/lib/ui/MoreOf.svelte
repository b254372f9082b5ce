<script lang="ts">
  import type { ListLoader } from "../loader.svelte";
  import { figure } from "../words";

  /** How much of a long list is shown, and the way to the rest. */
  let { loader, what }: { loader: ListLoader<unknown>; what: string } = $props();
</script>

{#if loader.data?.next}
  <p class="mt-7">
    The first {figure(loader.data.items.length)} of {figure(loader.data.total)}
    {what}.
    <button
      type="button"
      class="text-accent cursor-pointer underline underline-offset-4"
      onclick={() => loader.more()}>Show more</button
    >
  </p>
{/if}
