<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { getTested, type ModuleTested, placeOf, type Tested } from "./api";
  import VerdictLine from "./VerdictLine.svelte";

  /** What is tested of a release, in words for whoever does not read code; made to be printed, too. */
  let { slug, version }: { slug: string; version: string } = $props();
  const loader = new Loader<Tested>();
  $effect(() => {
    loader.load(`${slug}/${version}`, () => getTested(slug, decodeURIComponent(version)));
  });
  const found = $derived(loader.data);
  const all = $derived(Object.values(found?.examples ?? {}).reduce((a, b) => a + b, 0));
  const share = (part: number, whole: number) =>
    whole ? `${Math.round((100 * part) / whole)} %` : "none";
  /** How many elements of a module no example shows. */
  const without = (module: ModuleTested) => module.others.length + module.left;
  const WENT: [string, string, string][] = [
    ["failed", "failed", "dangling"],
    ["skipped", "skipped", "stale"],
    ["not-run", "not run", ""],
  ];
  const shown = $derived(found?.modules.filter((module) => module.shown.length) ?? []);
  const bare = $derived(found?.modules.filter((module) => !module.shown.length) ?? []);
  const wrong = $derived(WENT.filter(([state]) => found?.examples[state]));
</script>

<svelte:head><title>What is tested of {slug}</title></svelte:head>
<main class="mx-auto max-w-[1180px] px-5 py-7 sm:px-10">
  {#if loader.problem}
    <Trouble problem={loader.problem} />
  {:else if found}
    <p class="soft"><a href="/projects/{found.project}">{found.project}</a> {found.version}</p>
    <h1>What is tested of {found.title || found.project}</h1>
    {#if !all}
      <p class="sentence mt-3">
        Of <strong>{count(found.elements, "thing")}</strong> that can be called none is shown by a test.
      </p>
    {:else}
      <p class="sentence mt-3">
        <strong>{found.shown} of {found.elements}</strong> things that can be called ({share(
          found.shown,
          found.elements,
        )}) are shown by <strong>{count(all, "example")}</strong>{#if wrong.length}:
          {#each wrong as [state, word, look], n (state)}{n ? ", " : ""}<span
              class={look && `text-${look}`}>{found.examples[state]} {word}</span
            >{/each}.{:else}, which all passed.{/if}
      </p>
    {/if}
    <p class="small mt-3 print:hidden">
      <a href="/api/v1{placeOf(found.project, found.version)}.csv" download>As a table (CSV)</a>
      <button
        type="button"
        class="text-accent ml-4 cursor-pointer underline underline-offset-4"
        onclick={() => window.print()}>Print, or keep as PDF</button
      >
    </p>
    {#each shown as module (module.path)}
      <section class="module mt-9">
        <h2><a class="plain font-mono" href={module.href}>{module.path}</a></h2>
        <p class="soft small">
          {module.shown.length} of {module.shown.length + without(module)} shown
        </p>
        <table class="mt-2 w-full">
          <thead class="small soft text-left"
            ><tr><th class="w-[30%] font-normal">What</th><th class="font-normal">Shown by</th></tr
            ></thead
          >
          <tbody>
            {#each module.shown as element (element.path)}
              <tr class="border-t align-top">
                <td class="py-2 pr-4"
                  ><a class="font-mono text-[14px] break-all" href={element.href}>{element.name}</a>
                  <span class="small soft">{element.kind}</span></td
                >
                <td class="py-2">
                  {#each element.examples ?? [] as example (example.href)}
                    <div>
                      <a href={example.href}>{example.title}</a>
                      <VerdictLine verdict={example.verdict} />
                      {#if example.project !== found.project}<span class="small soft"
                          >in {example.project} {example.version}</span
                        >{/if}
                    </div>
                  {/each}
                  {#if element.left}<a class="small" href={element.href}
                      >{count(element.left, "example")} more</a
                    >{/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        {#if module.others.length}
          <details class="small mt-2">
            <summary class="soft cursor-pointer">{without(module)} without an example</summary>
            <p class="mt-1">
              {#each module.others as other, n (other.path)}{n ? ", " : ""}<a
                  class="font-mono"
                  href={other.href}>{other.name}</a
                >{/each}{#if module.left}, and {module.left} more, which the table has{/if}
            </p>
          </details>
        {/if}
      </section>
    {/each}
    {#if bare.length}
      <section class="mt-9">
        <h2>Modules without an example</h2>
        <ul class="rows mt-1">
          {#each bare as module (module.path)}
            <li>
              <a class="font-mono text-[14px]" href={module.href}>{module.path}</a>
              <span class="small soft">{count(without(module), "thing")} that can be called</span>
            </li>
          {/each}
        </ul>
      </section>
    {/if}
  {/if}
</main>

<style>
  @media print {
    .module {
      break-inside: avoid;
    }
  }
</style>
