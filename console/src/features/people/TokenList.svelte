<script lang="ts">
  import { ago, exactTime } from "../../lib/words";
  import { makeToken, revokeToken, rotateToken, type Token } from "./api";

  let { tokens, onchange }: { tokens: Token[]; onchange: () => Promise<void> } = $props();
  const SCOPES = { read: "read", publish: "publish", manage: "do all that you may" };
  let name = $state("");
  let project = $state("");
  let scope = $state("publish");
  let days = $state<number | null>(90);
  let made = $state<Token>();
  let trouble = $state("");

  async function change(act: () => Promise<unknown>) {
    trouble = "";
    made = undefined;
    try {
      const answer = (await act()) as Token | null;
      made = answer?.text ? answer : undefined;
      await onchange();
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
  async function make(event: SubmitEvent) {
    event.preventDefault();
    await change(() => makeToken(name.trim(), project.trim(), scope, days || null));
    if (!trouble) name = "";
  }
</script>

<h2 class="mt-8">Tokens</h2>
{#if made}
  <p class="mt-2" role="status">
    This is <strong>{made.name}</strong>. It is shown now and never again:
    <code class="block overflow-x-auto py-2">{made.text}</code>
  </p>
{/if}
{#if trouble}<p class="dangling" role="alert">{trouble}</p>{/if}
<ul class="rows">
  {#each tokens as token (token.id)}
    <li class="grid items-baseline gap-x-6 sm:grid-cols-[1fr_230px_230px_150px]">
      <span class="min-w-0"
        ><strong>{token.name}</strong>
        <span class="small soft">of {token.maker}</span></span
      >
      <span
        >to {token.scope}
        {#if token.project}<a href="/projects/{token.project}">{token.project}</a>{:else}<span
            class="soft">every project</span
          >{/if}</span
      >
      <span class="small soft"
        >{#if token.expires_at}until <time title={exactTime(token.expires_at)}
            >{new Date(token.expires_at).toLocaleDateString()}</time
          >{:else}for good{/if},
        {#if token.last_used_at}used <time title={exactTime(token.last_used_at)}
            >{ago(token.last_used_at)}</time
          >{:else}never used{/if}</span
      >
      <span class="flex gap-4">
        <button
          type="button"
          class="text-accent cursor-pointer underline"
          title="A new one in its place; the old one goes on for a day"
          onclick={() => change(() => rotateToken(token.id))}>Rotate</button
        >
        <button
          type="button"
          class="text-accent cursor-pointer underline"
          onclick={() => change(() => revokeToken(token.id))}>Revoke</button
        >
      </span>
    </li>
  {:else}<li class="soft">There are none yet.</li>
  {/each}
</ul>
<form class="mt-4 flex flex-wrap items-end gap-4" onsubmit={make}>
  <label class="small soft grow"
    >A new one, called
    <input
      class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5"
      bind:value={name}
      required
      maxlength="100"
    /></label
  >
  <label class="small soft"
    >For the project
    <input
      class="bg-sheet text-ink mt-1 block rounded-sm border px-3 py-1.5"
      bind:value={project}
      placeholder="every project"
      maxlength="100"
    /></label
  >
  <label class="small soft"
    >To
    <select class="bg-sheet text-ink mt-1 block rounded-sm border px-2 py-1.5" bind:value={scope}>
      {#each Object.entries(SCOPES) as [value, words] (value)}<option {value}>{words}</option
        >{/each}
    </select></label
  >
  <label class="small soft"
    >For days
    <input
      type="number"
      min="1"
      max="3650"
      class="bg-sheet text-ink mt-1 block w-[90px] rounded-sm border px-3 py-1.5"
      bind:value={days}
    /></label
  >
  <button
    class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
    >Make it</button
  >
</form>
