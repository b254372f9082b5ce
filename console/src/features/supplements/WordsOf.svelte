<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { SymbolPage } from "../reference/api";
  import type { Words } from "./types";

  /** All that is said of an element, each paragraph beside whose words it is. */
  let { page }: { page: SymbolPage } = $props();
  const supplements = $derived(page.supplements ?? []);
  const all = $derived(page.words ?? []);
  const TITLES: Record<Words["kind"], string> = {
    summary: "Summary",
    text: "Text",
    parameter: "What goes in",
    remarks: "Remarks",
    examples: "Examples",
    see: "See also",
  };
  function whyHidden(words: Words): string {
    if (words.hidden_by === undefined) return "";
    const other = supplements[words.hidden_by];
    return other ? `${other.file} stands in its place` : "the source says something itself";
  }
</script>

<section class="mt-6" aria-label="Whose words these are">
  {#each all as words, at (at)}
    {@const supplement = supplements[words.by]}
    {#if words.kind !== all[at - 1]?.kind}<h2 class="mt-6 mb-1">{TITLES[words.kind]}</h2>{/if}
    <div class="words" class:hidden-words={words.hidden_by !== undefined}>
      {#if words.name}<p class="font-mono text-[14px]">{words.name}</p>{/if}
      <Html html={words.html} />
      <p class="small soft">
        {#if supplement}
          From <a href={supplement.href}>{supplement.file}</a>{words.line
            ? `, line ${words.line}`
            : ""}{supplement.project === page.navigation.project
            ? ""
            : `, of ${supplement.project} ${supplement.version}`}{supplement.language
            ? `, in ${supplement.language}`
            : ""}.
        {:else}
          From the source.
        {/if}
        {#if words.hidden_by !== undefined}
          <strong>Not shown</strong>: {whyHidden(words)}.
        {/if}
      </p>
    </div>
  {/each}
</section>
