<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count, figure } from "../../lib/words";
  import { getProject } from "../projects/api";
  import { compare, type Comparison, TITLES } from "./api";
  import ChangeRow from "./ChangeRow.svelte";
  import PageChanges from "./PageChanges.svelte";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Comparison>();
  const versions = new Loader<string[]>();
  const asked = (name: string) => router.query.get(name) ?? "";
  $effect(() => {
    const [old, newer] = [asked("old"), asked("new")];
    loader.load(`${slug} ${old} ${newer}`, () => compare(slug, old, newer));
  });
  $effect(() => {
    versions.load(slug, async () =>
      (await getProject(slug)).project.releases.map((r) => r.version),
    );
  });
  const found = $derived(loader.data);
  const groups = $derived(
    TITLES.map(
      ([kind, title]) => [title, (found?.changes ?? []).filter((c) => c.kind === kind)] as const,
    ).filter(([, changes]) => changes.length),
  );
  const breaking = $derived(found?.counts.breaking ?? 0);

  function choose(name: string, value: string) {
    const next = { old: found?.old ?? "", new: found?.new ?? "", [name]: value };
    router.go(`/projects/${slug}/compare?${new URLSearchParams(next)}`);
  }
</script>

<svelte:head><title>Changes in {slug}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if found}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <p class="soft"><a class="plain" href="/projects/{slug}">{slug}</a></p>
    <h1>From {found.old} to {found.new}</h1>
    <p class="sentence mt-2">
      {#if found.changes.length}
        <strong>{count(found.changes.length, "change")}</strong>,
        {#if breaking}<strong class="dangling">{figure(breaking)} breaking</strong>{:else}none
          breaking{/if}.
        {#if found.suggested && found.hides_break}The number <strong class="dangling"
            >hides the break</strong
          >: by Semantic Versioning it asks for {found.suggested}.{:else if found.suggested}By
          Semantic Versioning they ask for {found.suggested}.{/if}
        {#if breaking}<a href="/projects/{slug}/impact?release={encodeURIComponent(found.new)}"
            >Who would notice?</a
          >{/if}
      {:else if !found.pages.length}Nothing that a reader sees has changed.{/if}
      {#if found.pages.length}<strong>{count(found.pages.length, "page")}</strong>
        {found.pages.length === 1 ? "differs" : "differ"}.{/if}
    </p>
    <div class="mt-5 flex flex-wrap gap-x-5 gap-y-2">
      {#each [["old", "Older", found.old], ["new", "Newer", found.new]] as const as [name, title, value] (name)}
        <label class="small soft"
          >{title}
          <select
            class="bg-sheet text-ink ml-1 rounded-sm border px-2 py-1"
            {value}
            onchange={(event) => choose(name, event.currentTarget.value)}
          >
            {#each versions.data ?? [value] as version (version)}<option>{version}</option>{/each}
          </select>
        </label>
      {/each}
    </div>
    {#each groups as [title, changes] (title)}
      <h2 class="mt-8">{title} <span class="soft font-normal">{changes.length}</span></h2>
      <ul class="rows">
        {#each changes as change (change.path + change.was)}
          <ChangeRow {change} {slug} old={found.old} newer={found.new} />
        {/each}
      </ul>
    {/each}
    <PageChanges pages={found.pages} {slug} old={found.old} newer={found.new} />
  </main>
{/if}
