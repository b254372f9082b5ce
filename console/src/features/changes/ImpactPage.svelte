<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, join } from "../../lib/words";
  import { getImpact, type Impact, type Place } from "./api";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Impact>();
  const isAsked = $derived(router.query.get("name")?.trim() || router.query.get("release"));
  const query = $derived(isAsked ? router.query.toString() : "");
  $effect(() => {
    if (query) loader.load(`${slug}?${query}`, () => getImpact(slug, query));
  });
  let asked = $state(router.query.get("name") ?? "");
  const found = $derived(query ? loader.data : undefined);
  const ofRelease = $derived(router.query.get("release"));

  function ask(event: SubmitEvent) {
    event.preventDefault();
    router.go(`/projects/${slug}/impact?${new URLSearchParams({ name: asked })}`);
  }
  const href = (project: string, version: string, place: Place) =>
    `/${place.kind === "page" ? "guide" : "ref"}/${project}/${version}/${encodePath(place.path)}`;
</script>

<svelte:head><title>Who refers to it</title></svelte:head>
<main class="mx-auto max-w-[1140px] px-6 py-9">
  <p class="soft"><a class="plain" href="/projects/{slug}">{slug}</a></p>
  <h1>{ofRelease ? `What ${ofRelease} breaks` : "Who refers to it"}</h1>
  {#if !ofRelease}
    <form class="mt-4 flex flex-wrap items-end gap-3" onsubmit={ask}>
      <label class="small soft w-full max-w-[520px]"
        >A symbol, with all that is in it, or a pattern with *
        <input
          class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5 font-mono text-[14px]"
          bind:value={asked}
        /></label
      >
      <button
        class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
        >Ask</button
      >
    </form>
  {/if}
  {#if query && loader.problem}
    <Trouble problem={loader.problem} />
  {:else if found}
    <p class="sentence mt-5">
      {#if found.places}
        <strong>{count(found.places, "reference")}</strong> to {count(found.targets, "symbol")}, in
        <strong>{count(found.projects, "other project")}</strong>{found.owners.length
          ? `. ${join(found.owners)} would have to follow.`
          : "."}
      {:else}Nobody refers to {found.targets === 1 ? "it" : "them"}.{/if}
    </p>
    {#each found.referring as referring (referring.project + referring.version)}
      <h2 class="mt-8">
        {referring.project}
        {referring.version}<span class="soft font-normal"
          >{referring.owner ? `, owned by ${referring.owner}` : ""}, {count(
            referring.places.length,
            "place",
          )}</span
        >
      </h2>
      <ul class="rows">
        {#each referring.places as place, index (index)}
          <li class="grid gap-x-6 sm:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)]">
            <a
              class="font-mono text-[13.5px] break-all"
              href={href(referring.project, referring.version, place)}>{place.path}</a
            >
            <span class="min-w-0 break-all"
              ><code class="text-[13.5px]">{place.target}</code>{#if place.via}<span
                  class="small soft block">through {place.via}</span
                >{/if}</span
            >
            <span class="small soft break-all">{place.file}, line {place.line}</span>
          </li>
        {/each}
      </ul>
    {/each}
    {#if found.more}<p class="soft mt-5">There are more; ask for less at a time.</p>{/if}
  {/if}
</main>
