<script lang="ts">
  import { encodePath, Problem } from "../../lib/http/client";
  import { router } from "../../lib/router.svelte";
  import { ago, exactTime } from "../../lib/words";
  import { session } from "../session/session.svelte";
  import type { SymbolPage } from "../reference/api";
  import {
    elementOf,
    listRevisions,
    nameFor,
    previewOn,
    remove,
    type Revision,
    startOf,
    write,
  } from "./api";
  import WordsOf from "./WordsOf.svelte";

  /** One supplement as text beside the page that it makes. */
  let { slug, name }: { slug: string; name: string } = $props();
  const PAUSE_MS = 400;
  const wanted = router.query.get("for") ?? "";

  let file = $state("");
  let text = $state("");
  let reason = $state("");
  let revisions = $state.raw<Revision[]>([]);
  let seen = $state.raw<SymbolPage>();
  let problem = $state("");
  let run = $state(0);
  const newest = $derived(revisions[0]);
  const element = $derived(elementOf(text, slug));

  async function load() {
    file = name === "new.md" ? nameFor(wanted) : name;
    try {
      revisions = await listRevisions(slug, file);
    } catch (error) {
      if (!(error instanceof Problem) || error.status !== 404) problem = String(error);
      revisions = [];
    }
    text = newest?.text || startOf(slug, wanted);
  }
  load();

  $effect(() => {
    const [draft, path, called] = [text, element, file];
    if (!draft || !path || !session.user) {
      seen = undefined;
      return;
    }
    const timer = setTimeout(async () => {
      try {
        seen = await previewOn(slug, called, path, draft);
        problem = "";
      } catch (error) {
        problem = error instanceof Error ? error.message : String(error);
      }
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  });

  async function keep(act: () => Promise<{ run: number }>) {
    problem = "";
    try {
      run = (await act()).run;
      revisions = await listRevisions(slug, file);
      reason = "";
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
  const save = (event: SubmitEvent) => {
    event.preventDefault();
    keep(() => write(slug, file, { text, reason, after: newest?.text ? newest.id : 0 }));
  };
</script>

<svelte:head><title>{file}, written for {slug}</title></svelte:head>
<main class="mx-auto max-w-[1280px] px-6 py-7">
  <h1 class="font-mono text-[22px]!">{file}</h1>
  <p class="soft">
    A supplement for <a href="/projects/{slug}">{slug}</a>,
    <a href="/supplements/{slug}">written here</a>. It is Markdown; a heading says what a part is:
    Summary, Text, Remarks, Examples, See also, Parameters.
  </p>
  <div class="mt-5 grid gap-x-9 gap-y-6 min-[1000px]:grid-cols-2">
    <form onsubmit={save}>
      {#if name === "new.md"}
        <label class="small soft mb-3 block"
          >Name
          <input
            class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5 font-mono"
            bind:value={file}
            pattern="[a-z0-9][a-z0-9\-]*\.md"
            required
          /></label
        >
      {/if}
      <label class="small soft block"
        >Text
        <textarea
          class="bg-sheet text-ink mt-1 block min-h-[420px] w-full rounded-sm border px-3 py-2 font-mono text-[14px] leading-[1.6]"
          bind:value={text}
          spellcheck="true"
          required></textarea></label
      >
      <div class="mt-3 flex flex-wrap items-end gap-4">
        <label class="small soft grow"
          >Why
          <input
            class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5"
            bind:value={reason}
            required
            minlength="3"
          /></label
        >
        <button
          class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
          >Keep and publish</button
        >
        {#if newest?.text}
          <button
            type="button"
            class="link small mb-2"
            disabled={reason.length < 3}
            title={reason.length < 3 ? "Say why first" : undefined}
            onclick={() => keep(() => remove(slug, file, reason))}>Remove it</button
          >
        {/if}
      </div>
      {#if problem}<p class="dangling mt-3" role="alert">{problem}</p>{/if}
      {#if run}<p class="mt-3" role="status">
          Kept. <a href="/runs/{run}">Run {run}</a> brings it to readers.
        </p>{/if}
      {#if !session.user}<p class="soft mt-3">
          Reading is for everybody; to write, <a href="/sign-in">sign in</a>.
        </p>{/if}
      {#if revisions.length}
        <h2 class="mt-8">What it was before</h2>
        <ul>
          {#each revisions as revision (revision.id)}
            <li class="border-t py-2">
              <button type="button" class="link" onclick={() => (text = revision.text || text)}
                >{revision.text ? "Take this text" : "Removed"}</button
              >
              <span class="small soft"
                >{revision.reason},
                <span title={exactTime(revision.written_at)}>{ago(revision.written_at)}</span>
                by {revision.author}</span
              >
            </li>
          {/each}
        </ul>
      {/if}
    </form>
    <section aria-label="The page with it">
      {#if seen}
        <h2>
          <a class="font-mono text-[18px]" href="/ref/{slug}/{encodePath(element)}">{seen.name}</a>,
          as it would be
        </h2>
        <WordsOf page={seen} />
      {:else}
        <p class="soft">
          {element
            ? "The page stands here as it would be."
            : `Name an element behind for:, as api://${slug}/ and its path, and its page stands here.`}
        </p>
      {/if}
    </section>
  </div>
</main>
