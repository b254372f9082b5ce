<script lang="ts">
  import type { SymbolPage } from "../reference/api";
  import ExampleCode from "./ExampleCode.svelte";
  import VerdictLine from "./VerdictLine.svelte";

  /** What the page of an example has: how it went, its code, and what it calls. */
  let { page }: { page: SymbolPage } = $props();
</script>

{#if page.example}
  <p class="mt-4"><VerdictLine verdict={page.example.verdict} /></p>
  <ExampleCode parts={page.example.parts} />
  {#if page.exercises?.length}
    <section class="mt-8">
      <h2>What it shows</h2>
      <ul class="rows mt-1">
        {#each page.exercises as one (one.href)}
          <li><a class="font-mono text-[14px]" href={one.href}>{one.name}</a></li>
        {/each}
      </ul>
    </section>
  {/if}
  <p class="small soft mt-4">A test of {page.example.framework}.</p>
{/if}
