<script lang="ts">
  import { tick } from "svelte";
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import { placeOf, spellings } from "../../lib/place";
  import { router } from "../../lib/router.svelte";
  import Html from "../../lib/ui/Html.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { getGuide, type GuidePage } from "./api";
  import ReadingPage from "./ReadingPage.svelte";

  let { slug, rest }: { slug: string; rest: string } = $props();
  const loader = new Loader<GuidePage>();
  $effect(() => {
    loader.load(`${slug}/${rest}`, () => getGuide(slug, rest));
  });
  const page = $derived(loader.data);
  $effect(() => {
    // A page that has moved is shown where it is now, under the version that was asked for.
    if (!page || decodeURIComponent(rest).endsWith(page.path)) return;
    const asked = rest.split("/")[0];
    const pinned = asked === page.navigation.version ? `${encodeURIComponent(asked)}/` : "";
    const place = `/guide/${slug}/${pinned}${encodePath(page.path)}${location.hash}`;
    history.replaceState(null, "", place);
  });
  const whole = $derived(page?.elements.find((element) => !element.anchor));
  // Who comes by an old address is led on to the element that it names.
  const here = $derived.by(() => {
    const places = spellings(router.hash).filter((place) => place);
    return page?.elements.find((element) => places.includes(element.anchor));
  });
  $effect(() => {
    if (page && router.hash) tick().then(() => placeOf(router.hash)?.scrollIntoView());
  });
</script>

<svelte:head><title>{page?.title ?? rest}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if page}
  <ReadingPage {page}>
    <h1>
      {#if page.number}<span class="number">{page.number}</span>{/if}
      {page.title}
    </h1>
    <p class="soft mt-1 mb-6">
      {page.original ? "page" : "guide"} of
      <a href="/projects/{page.navigation.project}">{page.navigation.title}</a>, {page.file}
      {#if whole}
        <br />in the reference: <a href={whole.href}>{whole.kind} {whole.name}</a>
      {/if}
    </p>
    {#if here}
      <p class="small bg-paper sticky top-[58px] z-10 border-b py-2">
        This place in the reference: <a href={here.href}>{here.kind} {here.name}</a>
      </p>
    {/if}
    <Html html={page.html} class={page.original ? "prose tree" : "prose"} />
    <footer class="small soft mt-12 flex flex-wrap justify-between gap-3 border-t pt-3">
      {#if page.previous}<a href={page.previous.href}>Before: {page.previous.name}</a>{/if}
      {#if page.following}<a href={page.following.href}>Next: {page.following.name}</a>{/if}
      {#if page.original}
        <a href={page.original} target="_blank" rel="noopener">As it was gathered</a>
      {/if}
      <a href={page.permanent}>Permanent address</a>
    </footer>
    {#snippet aside()}
      {#if page.headings.length > 1}
        <nav aria-label="On this page" class="small mb-6 hidden border-t pt-2 min-[1100px]:block">
          {#each page.headings as heading (heading.anchor)}
            <a
              class="plain soft block py-0.5 {heading.level > 2 ? 'pl-3' : ''}"
              href="#{encodeURIComponent(heading.anchor)}"
              >{#if heading.number}<span class="number">{heading.number}</span>{/if}
              {heading.title}</a
            >
          {/each}
        </nav>
      {/if}
    {/snippet}
  </ReadingPage>
{/if}
