<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import ExampleCode from "./ExampleCode.svelte";
  import type { ExampleView } from "./types";
  import VerdictLine from "./VerdictLine.svelte";

  /** Examples of an element: the first stand open. home: the project whose page it is. */
  let { examples, home }: { examples: ExampleView[]; home: string } = $props();
  const OPEN = 2;
</script>

{#if examples.length}
  <section class="mt-10" id="examples">
    <h2>Examples from tests</h2>
    {#each examples as example, n (example.href)}
      <details class="mt-4" open={n < OPEN}>
        <summary class="cursor-pointer">
          <span class="font-semibold">Example {n + 1}: {example.title}</span>
          <VerdictLine verdict={example.verdict} />
        </summary>
        {#if example.summary}<p class="mt-1"><Html html={example.summary} /></p>{/if}
        {#if example.parts.length}<ExampleCode parts={example.parts} />{/if}
        <p class="small soft mt-1">
          {#if example.project !== home}In {example.project} {example.version}:{/if}
          <a class="font-mono" href={example.href}>{example.path}</a>
        </p>
      </details>
    {/each}
  </section>
{/if}
