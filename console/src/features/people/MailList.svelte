<script lang="ts">
  import { follow, type Mail, pauseMail, unfollow } from "./api";

  let { mail, onchange }: { mail: Mail; onchange: () => Promise<void> } = $props();
  let kind = $state<"project" | "owner">("project");
  let name = $state("");
  let trouble = $state("");

  async function change(act: () => Promise<unknown>) {
    trouble = "";
    try {
      await act();
      await onchange();
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
  async function add(event: SubmitEvent) {
    event.preventDefault();
    await change(() => follow(kind, name.trim()));
    if (!trouble) name = "";
  }
</script>

<h2 class="mt-10">Mail</h2>
<p>
  {#if mail.address}
    What is new in what you follow goes to {mail.address}{mail.is_paused ? ", and is paused" : ""}.
    <button
      type="button"
      class="text-accent cursor-pointer underline"
      onclick={() => change(() => pauseMail(!mail.is_paused))}
      >{mail.is_paused ? "Have it again" : "Pause it"}</button
    >
  {:else}Your account has no address for mail. An administrator can give it one.{/if}
</p>
{#if trouble}<p class="dangling" role="alert">{trouble}</p>{/if}
<ul class="rows mt-2">
  {#each mail.subscriptions as one (one.id)}
    <li class="grid items-baseline gap-x-6 sm:grid-cols-[1fr_120px]">
      <span
        >{#if one.project}What is new in <a href="/projects/{one.project}">{one.project}</a
          >{:else}What is the turn of <a href="/findings?owner={encodeURIComponent(one.owner)}"
            >{one.owner}</a
          >{/if}</span
      >
      <button
        type="button"
        class="text-accent cursor-pointer text-left underline"
        onclick={() => change(() => unfollow(one.id))}>No longer</button
      >
    </li>
  {:else}<li class="soft">You follow nothing yet.</li>
  {/each}
</ul>
{#if mail.address}
  <form class="mt-4 flex flex-wrap items-end gap-4" onsubmit={add}>
    <label class="small soft"
      >Follow
      <select class="bg-sheet text-ink mt-1 block rounded-sm border px-2 py-1.5" bind:value={kind}>
        <option value="project">a project</option><option value="owner">a team's turn</option>
      </select></label
    >
    <label class="small soft grow"
      >Called
      <input
        class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5"
        bind:value={name}
        required
        maxlength="200"
      /></label
    >
    <button
      class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
      >Follow it</button
    >
  </form>
{/if}
