<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import type { SymbolPage } from "./api";
  let { page }: { page: SymbolPage } = $props();
  const others = $derived(page.navigation.versions.filter((v) => v !== page.navigation.version));
  const unversioned = $derived(`/ref/${page.navigation.project}/${encodePath(page.path)}`);
</script>

<footer class="small soft mt-12 border-t pt-3">
  <p>
    {#if page.source_page}<a href={page.source_page}>{page.file}, line {page.line}</a
      >{#if page.source_url}, <a href={page.source_url}>in its repository</a
        >{/if}{:else if page.source_url}<a href={page.source_url}>{page.file}, line {page.line}</a
      >{:else}{page.file}, lines
      {page.line} to {page.end_line}{/if}.
    <a href={page.permanent}>Permanent address</a>, <a href={unversioned}>always the newest</a>.
  </p>
  {#if others.length}
    <p class="mt-1">
      In other releases: {#each others as version, i (version)}{i ? ", " : ""}<a
          href="/ref/{page.navigation.project}/{version}/{encodePath(page.path)}">{version}</a
        >{/each}.
    </p>
  {/if}
</footer>
