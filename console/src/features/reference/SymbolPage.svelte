<script lang="ts">
  import { baseWord, languageName } from "../../lib/languages";
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import Html from "../../lib/ui/Html.svelte";
  import MarginNotes from "../../lib/ui/MarginNotes.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import PlaceList from "../../lib/ui/PlaceList.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { getSymbol, type SymbolPage } from "./api";
  import Fields from "./Fields.svelte";
  import InterfaceSections from "./InterfaceSections.svelte";
  import MemberDetails from "./MemberDetails.svelte";
  import MemberList from "./MemberList.svelte";
  import SignatureView from "./SignatureView.svelte";
  import SymbolFoot from "./SymbolFoot.svelte";
  import SymbolNotes from "./SymbolNotes.svelte";

  let { slug, rest }: { slug: string; rest: string } = $props();
  const loader = new Loader<SymbolPage>();
  $effect(() => {
    loader.load(`${slug}/${rest}`, () => getSymbol(slug, rest));
  });
  const page = $derived(loader.data);
  $effect(() => {
    // A symbol that has moved is shown where it is now, under the version that was asked for.
    if (!page || decodeURIComponent(rest).endsWith(page.path)) return;
    const asked = rest.split("/")[0];
    const pinned = asked === page.place.version ? `${encodeURIComponent(asked)}/` : "";
    history.replaceState(null, "", `/ref/${slug}/${pinned}${encodePath(page.path)}`);
  });
  const TITLES: Record<string, string> = {
    examples: "Examples",
    notes: "Notes",
    note: "Note",
    warning: "Warning",
    references: "Sources",
  };
  /** What the signature says already, or what only the resolver needs. */
  const UNSAID = [
    "bare",
    "exception",
    "untold",
    "open",
    "scoped",
    "unscoped",
    "implementation",
    "component",
    "lent",
    "internal",
    "noexcept",
    "constexpr",
    "inline",
    "override",
    "request",
    "response",
    "inferred",
    "required",
  ];
  const told = $derived(page?.signatures.some((s) => s.text?.length) ?? false);
</script>

<svelte:head><title>{page?.name ?? rest}</title></svelte:head>
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
      <h1 class="break-words {page.kind === 'topic' ? '' : 'font-mono!'}">{page.name}</h1>
      <p class="soft mt-1">
        {[
          ...page.flags.filter((f) => !UNSAID.includes(f) && f !== page.kind),
          page.flags.includes("dataclass") ? "" : page.kind === "api" ? "API" : page.kind,
        ]
          .filter(Boolean)
          .join(" ")}{#if page.parent}&#32;in <a href={page.parent.href}>{page.parent.path}</a>{/if}
        <span class="tag ml-2">{languageName(page.language)}</span>
      </p>
      <div class="mt-6 grid gap-2">
        {#each page.decorators as decorator (decorator)}<code class="small soft">{decorator}</code
          >{/each}
        {#each page.signatures as signature, index (index)}
          <SignatureView name={page.name} {signature} flags={page.flags} />
        {/each}
        {#if (page.type.length || page.value) && !told}
          <pre
            class="signature bg-code border-accent overflow-x-auto border-l-[3px] px-4 py-3.5 text-[14.5px]"><strong
              >{page.name}</strong
            >{#if page.type.length}: <Pieces pieces={page.type} />{/if}{page.value
              ? ` = ${page.value}`
              : ""}</pre>
        {/if}
      </div>
      {#if page.bases.length && (!told || ["rust", "go"].includes(page.language))}
        <p class="mt-3 font-mono text-[13px]">
          <span class="soft font-sans">{baseWord(page.language, page.kind)}</span>
          {#each page.bases as base, i (i)}{i ? ", " : ""}<Pieces pieces={base} />{/each}
        </p>
      {/if}
      {#if page.summary}<Html html={page.summary} class="summary mt-6" />{:else}<p
          class="soft mt-6"
        >
          Nobody has written about it yet.
        </p>{/if}
      {#if page.text_from}
        <p class="small soft mt-3">
          The text is that of <a class="font-mono" href={page.text_from.href}
            >{page.text_from.path}</a
          >.
        </p>
      {/if}
      {#if page.body}<div class="mt-6"><Html html={page.body} /></div>{/if}
      {#if page.interface}{#key page}<InterfaceSections {page} />{/key}{/if}
      <Fields title="What goes in" fields={page.parameters} />
      <Fields title="What comes out" fields={page.returns} />
      <Fields title="What it yields" fields={page.yields} />
      <Fields title="What can go wrong" fields={page.raises} />
      <Fields title="What it holds" fields={page.attributes} />
      {#each page.sections as section, i (i)}
        <section class="mt-10">
          <h2 class="mb-2">{section.title || (TITLES[section.kind] ?? section.kind)}</h2>
          <Html html={section.html} />
        </section>
      {/each}
      <Fields title="See also" fields={page.see} />
      <MemberList title="Members" members={page.members} sortable />
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
    </main>
    <div class="min-w-0 max-[1099px]:mt-8 min-[760px]:max-[1099px]:col-start-2 min-[1100px]:mt-2">
      <SymbolNotes {page} />
      {#key page}<MarginNotes findings={page.findings} project={page.place.project} />{/key}
    </div>
  </div>
{/if}
