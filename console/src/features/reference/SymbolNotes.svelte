<script lang="ts">
  import type { Snippet } from "svelte";
  import Html from "../../lib/ui/Html.svelte";
  import type { SymbolPage } from "./api";
  import ReferrerNote from "./ReferrerNote.svelte";
  let { page, children }: { page: SymbolPage; children: Snippet } = $props();
</script>

<div class="grid gap-8 [&>*]:border-t [&>*]:pt-2">
  {@render children()}
  {#if page.since || page.changes.length || page.deprecated}
    <div class="small soft">
      {#if page.deprecated}
        <strong class="stale">Deprecated</strong>{page.deprecated.since
          ? ` since ${page.deprecated.since}`
          : ""}.
        <Html html={page.deprecated.html} class="inline" />
      {/if}
      {#if page.since}<strong class="text-ink">Since {page.since}.</strong>{/if}
      {#each page.changes as change (change.version + change.html)}
        <p>Changed in {change.version}: <Html html={change.html} class="inline" /></p>
      {/each}
    </div>
  {/if}
  <div>
    <ReferrerNote slug={page.navigation.project} path={page.path} referrers={page.referrers} />
  </div>
  {#if page.names.length}
    <p class="small soft">
      Also called {#each page.names as name, i (name)}{i ? ", " : ""}<code>{name}</code>{/each}.
    </p>
  {/if}
</div>
