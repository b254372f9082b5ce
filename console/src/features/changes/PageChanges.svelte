<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { count } from "../../lib/words";
  import { PAGE_TITLES, type PageChange } from "./api";
  import PageWords from "./PageWords.svelte";

  /** What became of the pages of a release. */
  let {
    pages,
    slug,
    old,
    newer,
  }: { pages: PageChange[]; slug: string; old: string; newer: string } = $props();
  const groups = $derived(
    PAGE_TITLES.map(
      ([kind, title]) => [title, pages.filter((page) => page.kind === kind)] as const,
    ).filter(([, found]) => found.length),
  );
  const SHOWN = 12;
  const named = (places: string[]) =>
    places.slice(0, SHOWN).join(", ") +
    (places.length > SHOWN ? ` and ${places.length - SHOWN} more` : "");
</script>

{#each groups as [title, found] (title)}
  <h2 class="mt-8">{title} <span class="soft font-normal">{found.length}</span></h2>
  <ul class="rows">
    {#each found as page (page.path + (page.was ?? ""))}
      <li>
        <div class="flex flex-wrap items-baseline gap-x-3">
          {#if page.was}<code class="soft text-[14px] break-all">{page.was}</code><span class="soft"
              >is now</span
            >{/if}
          <a
            class="font-mono text-[14px] font-semibold break-all"
            href="/guide/{slug}/{page.kind === 'removed' ? old : newer}/{encodePath(page.path)}"
            >{page.path}</a
          >
          <span class="small soft">{page.title}</span>
        </div>
        {#if page.why}<p class="small soft">{page.why}</p>{/if}
        {#if page.gone?.length}<p class="small">
            {count(page.gone.length, "place")} gone:
            <code class="break-words">{named(page.gone)}</code>
          </p>{/if}
        {#if page.come?.length}<p class="small soft">
            {count(page.come.length, "place")} new:
            <code class="break-words">{named(page.come)}</code>
          </p>{/if}
        {#if page.kind === "text"}<PageWords {slug} {old} {newer} page={page.path} />{/if}
      </li>
    {/each}
  </ul>
{/each}
