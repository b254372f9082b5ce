<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { comparePage, type PageWords } from "./api";

  /** What one page says differently, when somebody asks for it. */
  let { slug, old, newer, page }: { slug: string; old: string; newer: string; page: string } =
    $props();
  const loader = new Loader<PageWords>();
  let isOpen = $state(false);
  $effect(() => {
    if (isOpen)
      loader.load(`${slug} ${old} ${newer} ${page}`, () => comparePage(slug, page, old, newer));
  });
  const KINDS: Record<string, string> = { removed: "gone", added: "new" };
  /** A space that the compiler does not take for layout. */
  const BETWEEN = " ";
</script>

<details class="mt-1" bind:open={isOpen}>
  <summary class="small cursor-pointer">What it says differently</summary>
  {#if loader.problem}
    <Trouble problem={loader.problem} />
  {:else if loader.data}
    {#each loader.data.sections as section, n (n)}
      <p class="small soft mt-3">
        {#if section.kind === "removed"}{section.title || "Before the first heading"}
        {:else}<a
            class="plain"
            href="/guide/{slug}/{newer}/{encodePath(page)}{section.anchor &&
              '#' + encodeURIComponent(section.anchor)}"
            >{section.title || "Before the first heading"}</a
          >{/if}
        {#if KINDS[section.kind]}({KINDS[section.kind]}){/if}
      </p>
      <p class="differs">
        {#each section.passages as passage, k (k)}
          {#if passage.sign === "gone"}<del>{passage.text}</del>
          {:else if passage.sign === "come"}<ins>{passage.text}</ins>
          {:else}{passage.text}{/if}{BETWEEN}
        {/each}
      </p>
    {:else}<p class="small soft mt-2">
        Its words are the same; only how they are set has changed.
      </p>{/each}
    {#if loader.data.more}<p class="small soft mt-2">More sections differ.</p>{/if}
  {/if}
</details>
