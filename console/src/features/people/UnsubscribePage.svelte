<script lang="ts">
  import { unsubscribe } from "./api";

  let { key }: { key: string } = $props();
  let step = $state<"asked" | "done">("asked");
  let trouble = $state("");

  async function end() {
    trouble = "";
    try {
      await unsubscribe(key);
      step = "done";
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<svelte:head><title>No more mail</title></svelte:head>
<main class="mx-auto max-w-[560px] px-6 py-12">
  <h1>No more mail</h1>
  {#if step === "done"}
    <p class="sentence mt-3" role="status">
      No more mail of this kind will come. <a href="/account">Your account</a> has it again.
    </p>
  {:else}
    <p class="sentence mt-3">This ends the mail that led you here, until you want it again.</p>
    <button
      type="button"
      class="border-accent text-accent mt-4 cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
      onclick={end}>End it</button
    >
    {#if trouble}<p class="dangling mt-3" role="alert">{trouble}</p>{/if}
  {/if}
</main>
