<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { SymbolPage } from "./api";
  import ContentModel from "./ContentModel.svelte";
  import ExampleBox from "./ExampleBox.svelte";
  import MediaView from "./MediaView.svelte";
  import OperationView from "./OperationView.svelte";
  import SchemaTree from "./SchemaTree.svelte";
  import ServiceView from "./ServiceView.svelte";
  import SlotList from "./SlotList.svelte";
  let { page }: { page: SymbolPage } = $props();
  const view = $derived(page.interface!);
  const FACETS: Record<string, string> = {
    enumeration: "one of",
    pattern: "matches",
    minInclusive: "at least",
    maxInclusive: "at most",
    minExclusive: "more than",
    maxExclusive: "less than",
    minLength: "characters, at least",
    maxLength: "characters, at most",
    length: "characters",
    totalDigits: "digits, at most",
    fractionDigits: "decimals, at most",
    whiteSpace: "blanks",
    assertion: "holds",
  };
</script>

{#if view.evidence}
  <p class="mt-4 border-l-2 pl-3">
    <span class="tag stale">inferred</span> Nobody has declared this. It was worked out from
    {view.evidence}; other documents may look different.
  </p>
{/if}
{#if view.sides}<p class="soft mt-3">{view.sides}</p>{/if}
{#if view.service}
  <ServiceView
    service={view.service}
    path={page.path}
    slug={page.navigation.project}
    version={page.navigation.version}
  />
{/if}
{#if view.operation}
  <OperationView
    operation={view.operation}
    path={page.path}
    slug={page.navigation.project}
    version={page.navigation.version}
  />
{/if}
{#if view.rows?.length}
  <section class="mt-8">
    <h2>What it holds</h2>
    <SchemaTree rows={view.rows} anchored />
  </section>
{/if}
{#if view.facets && Object.keys(view.facets).length}
  <section class="mt-8">
    <h2>What it admits</h2>
    <dl class="mt-1 grid gap-x-6 sm:grid-cols-[168px_1fr]">
      {#each Object.entries(view.facets) as [facet, value] (facet)}
        <dt class="soft">{FACETS[facet] ?? facet}</dt>
        <dd class="font-mono text-[14px] break-words">{value}</dd>
      {/each}
    </dl>
  </section>
{/if}
{#if view.content}
  <section class="mt-8">
    <h2>What it holds</h2>
    <ContentModel content={view.content} name={page.name} />
  </section>
{/if}
{#if view.slot}
  <section class="mt-8">
    <h2>What it takes</h2>
    <SlotList slots={[view.slot]} />
  </section>
{/if}
{#if view.answer}
  <section class="mt-8">
    <h2>What it holds</h2>
    {#if view.answer.headers?.length}
      <h3 class="small soft mt-3 font-semibold">Headers</h3>
      <SlotList slots={view.answer.headers} />
    {/if}
    <MediaView media={view.answer.media ?? []} anchored />
  </section>
{/if}
{#if view.examples?.length}<ExampleBox examples={view.examples} />{/if}
{#if view.source}
  <section class="mt-8">
    <h2>As it is written</h2>
    <Html html={view.source} class="example mt-2" />
  </section>
{/if}
{#if view.used_by?.length}
  <section class="mt-10">
    <h2>Used by</h2>
    <ul class="rows mt-1">
      {#each view.used_by as user (user.href)}
        <li class="grid gap-x-6 sm:grid-cols-[200px_1fr]">
          <span class="min-w-0"
            ><a class="font-mono text-[14px] break-words" href={user.href}>{user.name}</a><br
            /><span class="small soft">{user.kind}</span></span
          >
          {#if user.html}<Html html={user.html} class="font-serif text-[16px]" />{/if}
        </li>
      {/each}
    </ul>
  </section>
{/if}
