<script lang="ts">
  import { tick } from "svelte";
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import ContentsList from "../../lib/ui/ContentsList.svelte";
  import Html from "../../lib/ui/Html.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, figure } from "../../lib/words";
  import { getSource, type SourcePage, type SourceRow } from "./api";
  import CodePart from "./CodePart.svelte";

  let { slug, rest }: { slug: string; rest: string } = $props();
  const loader = new Loader<SourcePage>();
  $effect(() => {
    loader.load(`${slug}/${rest}`, () => getSource(slug, rest, (first) => (loader.data = first)));
  });
  const page = $derived(loader.data);
  let isPlain = $state(false);
  let folded = $state<Record<number, boolean>>({});

  const lineAsked = $derived(Number(/^L(\d+)/.exec(router.hash)?.[1] ?? 0));
  $effect(() => {
    if (page && lineAsked)
      tick().then(() =>
        document.getElementById(`L${lineAsked}`)?.scrollIntoView({ block: "center" }),
      );
  });
  const canFold = (row: SourceRow) => (row.end_line ?? 0) > row.line + 2 && row.elements?.length;
  /** Whether what a row stands in is folded. */
  const isWithin = (row: SourceRow) =>
    (page?.rows ?? []).some(
      (other) => folded[other.line] && other.line < row.line && row.line <= (other.end_line ?? 0),
    );
  const faults = (row: SourceRow, next?: SourceRow) =>
    (page?.findings ?? []).filter(
      ({ line = 0, severity }) =>
        line >= row.line && line < (next?.line ?? Infinity) && severity !== "note",
    );
</script>

<svelte:head><title>{page?.file ?? rest}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if page}
  <div
    class="mx-auto grid max-w-[1280px] gap-x-9 px-5 py-7 sm:px-10 min-[900px]:grid-cols-[200px_minmax(0,1fr)]"
  >
    <div class="order-2 mt-12 min-[900px]:order-none min-[900px]:mt-0">
      <ContentsList navigation={page.navigation} />
    </div>
    <main class="min-w-0">
      <h1 class="font-mono text-[22px]! break-all">{page.file}</h1>
      <p class="soft mt-1 mb-5">
        {count(page.lines, "line")} of
        <a href="/projects/{page.navigation.project}">{page.navigation.title}</a>
        {page.navigation.version}.
        <button
          type="button"
          class="link"
          aria-pressed={isPlain}
          onclick={() => (isPlain = !isPlain)}
          >{isPlain ? "Comments beside the code" : "As it is written"}</button
        >
      </p>
      <div class:annotated={!isPlain} class="source">
        {#each page.rows as row, at (row.line)}
          {#if isPlain || !isWithin(row)}
            {@const wrong = faults(row, page.rows[at + 1])}
            <section class="row">
              {#if !isPlain}
                <div class="prose-of" style:--depth={row.depth ?? 0}>
                  {#if row.elements?.length}
                    <p class="small">
                      {#if canFold(row)}<button
                          type="button"
                          class="fold"
                          aria-expanded={!folded[row.line]}
                          aria-label="{folded[row.line] ? 'Unfold' : 'Fold'} {row.elements[0]
                            ?.name}"
                          onclick={() => (folded[row.line] = !folded[row.line])}
                          >{folded[row.line] ? "▸" : "▾"}</button
                        >{/if}
                      {#each row.elements as element, i (element.path)}{i ? ", " : ""}<a
                          class="font-mono"
                          href={element.href}>{element.name}</a
                        >{/each}
                    </p>
                  {/if}
                  <Html html={row.prose} />
                  {#each wrong as finding (finding.fingerprint)}
                    <p class="small">
                      <strong class={finding.rule.split("/")[0]}
                        >{finding.rule.startsWith("dangling") ? "Dangling" : "Stale"}</strong
                      >
                      {finding.message}
                    </p>
                  {/each}
                </div>
              {/if}
              <div class="code-of">
                {#if folded[row.line] && !isPlain}
                  <CodePart
                    part={row.parts.find((p) => !p.is_words) ?? row.parts[0]}
                    first
                    {lineAsked}
                  />
                  <p class="small soft pl-14">
                    {figure((row.end_line ?? row.line) - row.line)} lines more
                  </p>
                {:else}
                  {#each row.parts as part (part.line)}
                    {#if isPlain || !part.is_words}<CodePart {part} {lineAsked} />{/if}
                  {/each}
                {/if}
              </div>
            </section>
          {/if}
        {/each}
      </div>
    </main>
  </div>
{/if}
