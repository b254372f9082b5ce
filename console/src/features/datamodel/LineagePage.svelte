<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { getSymbol, type SymbolPage } from "../reference/api";
  import { getLineage, type Lineage, type LineageNode } from "./api";
  import LineageGraph from "./LineageGraph.svelte";

  /** Where the data of a table or column come from and go to: drawn, and as a list. */
  let { slug, version, path }: { slug: string; version: string; path: string } = $props();
  const name = $derived(decodeURIComponent(path));
  const loader = new Loader<Lineage>();
  const own = new Loader<SymbolPage>();
  const ofColumn = new Loader<Lineage>();
  $effect(() => {
    loader.load(`${slug}/${version}/${path}`, () =>
      getLineage(slug, decodeURIComponent(version), name),
    );
    own.load(`${slug}/${version}/${path}`, () => getSymbol(slug, `${version}/${encodePath(name)}`));
  });
  let direction = $state("both");
  let depth = $state(0);
  let project = $state("");
  let tag = $state("");
  let column = $state("");
  $effect(() => {
    if (column)
      ofColumn.load(`${slug}/${version}/${name}.${column}`, () =>
        getLineage(slug, decodeURIComponent(version), `${name}.${column}`),
      );
  });
  const found = $derived(loader.data);
  const start = $derived(found?.nodes[0]);
  const columns = $derived(own.data?.data?.table?.columns ?? []);
  const projects = $derived([...new Set(found?.nodes.map((node) => node.project))].sort());
  const tags = $derived([...new Set(found?.nodes.flatMap((node) => node.tags ?? []))].sort());
  const deepest = $derived(
    Math.max(0, ...(found?.nodes.map((node) => Math.abs(node.depth)) ?? [])),
  );
  const steps = $derived([...Array(deepest).keys()].map((n) => n + 1));
  const isShown = (node: LineageNode) =>
    node.depth === 0 ||
    ((direction === "both" || (direction === "up") === node.depth < 0) &&
      (!depth || Math.abs(node.depth) <= depth) &&
      (!project || node.project === project) &&
      (!tag || (node.tags ?? []).includes(tag)));
  const shown = $derived.by(() => {
    const all = found?.nodes ?? [];
    const kept = all.flatMap((node, at) => (isShown(node) ? [at] : []));
    const places = Object.fromEntries(kept.map((at, n) => [at, n]));
    const edges = (found?.edges ?? []).flatMap((edge) => {
      const [source, target] = [places[edge.source], places[edge.target]];
      return source === undefined || target === undefined ? [] : [{ ...edge, source, target }];
    });
    return { nodes: all.filter((_, at) => at in places), edges };
  });
  const lit = $derived.by(() => {
    if (!column || !ofColumn.data) return null;
    return new Set(
      ofColumn.data.nodes.map((node) => `${node.project}/${node.path.replace(/\.[^.]+$/, "")}`),
    );
  });
  const others = $derived((found?.nodes.length ?? 1) - 1);
  const missing = $derived(found?.nodes.filter((node) => node.is_missing).length ?? 0);
</script>

<svelte:head><title>Where {name} comes from</title></svelte:head>
<main class="mx-auto max-w-[1180px] px-5 py-7 sm:px-10">
  {#if loader.problem}
    <Trouble problem={loader.problem} />
  {:else if found && start}
    <p class="soft">
      <a href="/ref/{slug}/{version}/{encodePath(name)}">{name}</a>, {start.kind} of {found.project}
      {found.version}
    </p>
    <h1>Where its data come from and go to</h1>
    {#if others}
      <p class="sentence mt-3">
        <strong>{count(others, start.kind === "column" ? "column" : "table")}</strong> in
        <strong>{count(projects.length, "project")}</strong>
        {others === 1 ? "is" : "are"} on its way{#if missing}, <span class="dangling"
            >{missing} of them not there</span
          >{/if}.
      </p>
    {:else}<p class="sentence mt-3">
        Nothing that is known here feeds it, and nothing takes from it.
      </p>{/if}
    <div class="small mt-4 flex flex-wrap items-center gap-x-5 gap-y-2">
      <label class="soft"
        >Way <select class="try-input w-auto! ml-1" bind:value={direction}
          ><option value="both">both</option><option value="up">where from</option><option
            value="down">where to</option
          ></select
        ></label
      >
      <label class="soft"
        >Steps <select class="try-input w-auto! ml-1" bind:value={depth}
          ><option value={0}>all</option>{#each steps as step (step)}<option value={step}
              >{step}</option
            >{/each}</select
        ></label
      >
      <label class="soft"
        >Project <select class="try-input w-auto! ml-1" bind:value={project}
          ><option value="">every one</option>{#each projects as each (each)}<option>{each}</option
            >{/each}</select
        ></label
      >
      {#if tags.length}<label class="soft"
          >Tag <select class="try-input w-auto! ml-1" bind:value={tag}
            ><option value="">any</option>{#each tags as each (each)}<option>{each}</option
              >{/each}</select
          ></label
        >{/if}
      {#if columns.length}<label class="soft"
          >Column <select class="try-input w-auto! ml-1" bind:value={column}
            ><option value="">none</option>{#each columns as each (each.name)}<option
                >{each.name}</option
              >{/each}</select
          ></label
        >{/if}
    </div>
    <LineageGraph nodes={shown.nodes} edges={shown.edges} {start} {lit} title={name} />
    {#if found.more}<p class="small soft mt-2">There is more than is shown.</p>{/if}
    <table class="small mt-6 w-full max-w-[760px]">
      <thead
        ><tr class="soft text-left"
          ><th class="py-1 font-semibold">From</th><th class="font-semibold">To</th><th
            class="font-semibold">How</th
          ></tr
        ></thead
      >
      <tbody>
        {#each shown.edges as edge (`${edge.source} ${edge.target}`)}
          <tr class="border-t"
            ><td class="py-1.5 font-mono">{shown.nodes[edge.source]?.path}</td><td class="font-mono"
              >{shown.nodes[edge.target]?.path}</td
            ><td>{edge.how ?? ""}</td></tr
          >
        {/each}
      </tbody>
    </table>
    {#each found.nodes.filter((node) => node.unknown?.length) as node (node.project + node.path)}
      <p class="small soft mt-2">Not known of {node.path}: {node.unknown?.join("; ")}.</p>
    {/each}
  {/if}
</main>
