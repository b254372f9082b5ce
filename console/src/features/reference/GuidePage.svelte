<script lang="ts">
  import { tick } from "svelte";
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Html from "../../lib/ui/Html.svelte";
  import MarginNotes from "../../lib/ui/MarginNotes.svelte";
  import PlaceList from "../../lib/ui/PlaceList.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { getGuide, type GuidePage } from "./api";

  let { slug, rest }: { slug: string; rest: string } = $props();
  const loader = new Loader<GuidePage>();
  $effect(() => {
    loader.load(`${slug}/${rest}`, () => getGuide(slug, rest));
  });
  const page = $derived(loader.data);
  $effect(() => {
    if (page && router.hash)
      tick().then(() => document.getElementById(router.hash)?.scrollIntoView());
  });
</script>

<svelte:head><title>{page?.title ?? rest}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if page}
  <div
    data-noted
    class="mx-auto grid max-w-[1280px] gap-x-11 px-5 py-7 sm:px-10 min-[1100px]:grid-cols-[212px_minmax(0,660px)_236px] min-[760px]:max-[1099px]:grid-cols-[200px_minmax(0,1fr)]"
  >
    <div class="order-2 mt-12 min-[760px]:order-none min-[760px]:mt-0">
      <PlaceList place={page.place} />
    </div>
    <main class="min-w-0">
      <h1>{page.title}</h1>
      <p class="soft mt-1 mb-6">
        guide of <a href="/projects/{page.place.project}">{page.place.title}</a>, {page.file}
      </p>
      <Html html={page.html} />
      <footer class="small soft mt-12 flex flex-wrap justify-between gap-3 border-t pt-3">
        {#if page.previous}<a href={page.previous.href}>Before: {page.previous.name}</a>{/if}
        {#if page.following}<a href={page.following.href}>Next: {page.following.name}</a>{/if}
        <a href={page.permanent}>Permanent address</a>
      </footer>
    </main>
    <div class="min-w-0 min-[760px]:max-[1099px]:col-start-2">
      {#if page.headings.length > 1}
        <nav aria-label="On this page" class="small mb-6 hidden border-t pt-2 min-[1100px]:block">
          {#each page.headings as heading (heading.anchor)}
            <a
              class="plain soft block py-0.5 {heading.level > 2 ? 'pl-3' : ''}"
              href="#{heading.anchor}">{heading.title}</a
            >
          {/each}
        </nav>
      {/if}
      {#key page}<MarginNotes findings={page.findings} project={page.place.project} />{/key}
    </div>
  </div>
{/if}
