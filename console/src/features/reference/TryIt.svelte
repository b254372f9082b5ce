<script lang="ts">
  import Button from "flowbite-svelte/Button.svelte";
  import { TryState } from "./tryit.svelte";
  import type { Operation } from "./interface";
  import Snippets from "./Snippets.svelte";
  let {
    operation,
    path,
    slug,
    version,
  }: { operation: Operation; path: string; slug: string; version: string } = $props();
  // svelte-ignore state_referenced_locally
  const state = new TryState(operation, path, slug, version);
  const PLACES: Record<string, string> = {
    path: "path",
    query: "query",
    header: "header",
    cookie: "cookie",
  };
</script>

<section class="mt-10" aria-label="Try it">
  <h2>Try it</h2>
  {#if operation.callable?.length}
    <form
      class="mt-2 grid gap-3"
      onsubmit={(event) => {
        event.preventDefault();
        state.send();
      }}
    >
      <label class="try-line">
        <span>Server</span>
        <select bind:value={state.server} class="try-input font-mono">
          {#each operation.callable as server (server)}<option>{server}</option>{/each}
        </select>
      </label>
      {#each state.fields as field (field.place + field.name)}
        <label class="try-line">
          <span class="min-w-0"
            ><span class="font-mono text-[14px] break-words">{field.name}</span>
            <span class="small soft block"
              >{field.secret ? "secret; stays in this browser" : PLACES[field.place]}{field.required
                ? ", needed"
                : ""}</span
            ></span
          >
          {#if field.choices?.length}
            <select bind:value={field.value} class="try-input font-mono">
              {#if !field.required}<option value="">left out</option>{/if}
              {#each field.choices as choice (choice)}<option>{choice}</option>{/each}
            </select>
          {:else}
            <input
              bind:value={field.value}
              type={field.secret ? "password" : "text"}
              autocomplete="off"
              spellcheck="false"
              class="try-input font-mono"
            />
          {/if}
        </label>
      {/each}
      {#if operation.body?.media?.length}
        <label class="grid gap-1">
          <span>Body <span class="small soft font-mono">{state.mediaType}</span></span>
          <textarea
            bind:value={state.body}
            rows={Math.min(state.body.split("\n").length + 1, 16)}
            spellcheck="false"
            class="try-input font-mono"></textarea>
        </label>
      {/if}
      <div class="flex items-baseline gap-4">
        <Button
          type="submit"
          size="sm"
          class="bg-accent! rounded-sm text-[var(--accent-ink)]!"
          disabled={state.busy}>{state.busy ? "Asking …" : `Send ${operation.method}`}</Button
        >
        <button
          type="button"
          class="small text-accent cursor-pointer underline underline-offset-4"
          onclick={() => state.refresh()}>Take these values into the code below</button
        >
      </div>
    </form>
    <div aria-live="polite">
      {#if state.problem}<p class="mt-3">
          <span class="tag dangling">refused</span>
          {state.problem}
        </p>{/if}
      {#if state.answer}
        {@const answer = state.answer}
        <div class="mt-4 border-t pt-3" data-answer>
          <p>
            <span class="font-mono text-[17px] font-semibold">{answer.status}</span>
            <span class="soft">{answer.reason}</span>
            <span class="soft">after {answer.time_ms} ms.</span>
            {#if answer.fits === true}
              <strong>It fits its description.</strong>
            {:else if answer.fits === false || !answer.described}
              <span class="tag dangling">does not fit</span>
            {/if}
          </p>
          {#each answer.faults as fault (fault)}<p class="small mention-line">{fault}</p>{/each}
          <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
          <pre class="code mt-2" tabindex="0"><code>{state.shownBody}</code></pre>
          {#if answer.truncated}<p class="small soft">The rest is left out.</p>{/if}
          <details class="small mt-2">
            <summary class="cursor-pointer">{answer.headers.length} headers</summary>
            <dl class="mt-1 font-mono text-[13px]">
              {#each answer.headers as [name, value], index (index)}
                <div>
                  <dt class="inline font-semibold">{name}:</dt>
                  <dd class="inline break-all">{value}</dd>
                </div>
              {/each}
            </dl>
          </details>
        </div>
      {/if}
    </div>
  {:else}
    <p class="soft mt-1">
      The project names no server that may be asked from here: <code>servers</code> in its
      <code>zarbek.toml</code>.
    </p>
  {/if}
</section>
<Snippets snippets={state.snippets} />
