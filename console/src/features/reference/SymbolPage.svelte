<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import Html from "../../lib/ui/Html.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { router } from "../../lib/router.svelte";
  import SupplementNote from "../supplements/SupplementNote.svelte";
  import WordsOf from "../supplements/WordsOf.svelte";
  import { getSymbol, type SymbolPage } from "./api";
  import DataSections from "../datamodel/DataSections.svelte";
  import ExampleList from "../examples/ExampleList.svelte";
  import ExampleSections from "../examples/ExampleSections.svelte";
  import Fields from "./Fields.svelte";
  import InterfaceSections from "./InterfaceSections.svelte";
  import MemberDetails from "./MemberDetails.svelte";
  import MemberList from "./MemberList.svelte";
  import ReadingPage from "./ReadingPage.svelte";
  import SymbolFoot from "./SymbolFoot.svelte";
  import SymbolHead from "./SymbolHead.svelte";
  import SymbolNotes from "./SymbolNotes.svelte";

  let { slug, rest }: { slug: string; rest: string } = $props();
  const loader = new Loader<SymbolPage>();
  const language = $derived(router.query.get("language") ?? "");
  $effect(() => {
    loader.load(`${slug}/${rest} ${language}`, () => getSymbol(slug, rest, language));
  });
  const speak = (other: string) =>
    router.go(location.pathname + (other ? `?language=${other}` : ""));
  let isTold = $state(false);
  $effect(() => {
    if (rest) isTold = false;
  });
  const page = $derived(loader.data);
  $effect(() => {
    // A symbol that has moved is shown where it is now, under the version that was asked for.
    if (!page || decodeURIComponent(rest).endsWith(page.path)) return;
    const asked = rest.split("/")[0];
    const pinned = asked === page.navigation.version ? `${encodeURIComponent(asked)}/` : "";
    history.replaceState(
      null,
      "",
      `/ref/${slug}/${pinned}${encodePath(page.path)}${location.search}`,
    );
  });
  const TITLES: Record<string, string> = {
    examples: "Examples",
    remarks: "Remarks",
    notes: "Notes",
    note: "Note",
    warning: "Warning",
    references: "Sources",
  };
</script>

<svelte:head><title>{page?.name ?? rest}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if page}
  <ReadingPage {page}>
    <SymbolHead {page} />
    {#if isTold && page.words?.length}
      <WordsOf {page} />
    {:else if page.summary}<Html html={page.summary} class="summary mt-6" />{:else}<p
        class="soft mt-6"
      >
        Nobody has written about it yet.
      </p>{/if}
    {#if page.place}
      <p class="small soft mt-3">
        {page.place.certainty === "named"
          ? "Told from its name on the page"
          : "Told from its declaration on the page"}
        <a href={page.place.href}>{page.place.title}</a>.
      </p>
    {/if}
    {#if page.text_from}
      <p class="small soft mt-3">
        The text is that of <a class="font-mono" href={page.text_from.href}>{page.text_from.path}</a
        >.
      </p>
    {/if}
    {#if page.body && !isTold}<div class="mt-6"><Html html={page.body} /></div>{/if}
    {#if page.example}<ExampleSections {page} />{/if}
    {#if page.data}{#key page}<DataSections {page} />{/key}{/if}
    {#if page.kind === "database"}<p class="mt-4">
        <a href="/tables/{page.navigation.project}/{encodeURIComponent(page.navigation.version)}"
          >All tables, by database or by file</a
        >
      </p>{/if}
    {#if page.interface}{#key page}<InterfaceSections {page} />{/key}{/if}
    {#if !isTold}<Fields title="What goes in" fields={page.parameters} />{/if}
    <Fields title="What comes out" fields={page.returns} />
    <Fields title="What it yields" fields={page.yields} />
    <Fields title="What can go wrong" fields={page.raises} />
    <Fields title="What it holds" fields={page.attributes} />
    {#each isTold ? [] : page.sections as section, i (i)}
      <section class="mt-10">
        <h2 class="mb-2">{section.title || (TITLES[section.kind] ?? section.kind)}</h2>
        <Html html={section.html} />
      </section>
    {/each}
    {#if page.examples?.length}<ExampleList
        examples={page.examples}
        home={page.navigation.project}
      />{/if}
    <Fields title="See also" fields={page.see} />
    {#if !page.data?.table}<MemberList title="Members" members={page.members} sortable />{/if}
    {#if page.members_left}
      <p class="soft mt-2">
        {page.members_left} more; press <kbd class="font-mono">/</kbd> to look one up.
      </p>
    {/if}
    {#key page}<MemberDetails details={page.details} next={page.details_next} />{/key}
    <MemberList title="Inherited" members={page.inherited} />
    {#if page.subclasses.length}
      <section class="mt-10">
        <h2>Known subclasses</h2>
        <p>
          {#each page.subclasses as sub, i (sub.path)}{i ? ", " : ""}<a
              class="font-mono text-[14px]"
              href={sub.href}>{sub.name}</a
            >{/each}
        </p>
      </section>
    {/if}
    <SymbolFoot {page} />
    {#snippet aside()}<SymbolNotes {page}
        ><SupplementNote {page} bind:isTold {language} {speak} /></SymbolNotes
      >{/snippet}
  </ReadingPage>
{/if}
