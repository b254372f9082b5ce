<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import { router } from "../../lib/router.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { getPatch, type Patch } from "./api";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Patch>();
  const query = $derived(router.query.toString());
  $effect(() => {
    loader.load(`${slug}?${query}`, () => getPatch(slug, query));
  });
  const patch = $derived(loader.data);
  const address = $derived(
    patch ? URL.createObjectURL(new Blob([patch.diff], { type: "text/x-diff" })) : "",
  );
  const side = (line: string) =>
    /^(\+\+\+|---|diff )/.test(line)
      ? "soft"
      : line.startsWith("+")
        ? "font-semibold"
        : line.startsWith("-")
          ? "line-through"
          : line.startsWith("@@")
            ? "soft"
            : "";
</script>

<svelte:head><title>A patch for {slug}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if patch}
  <main class="mx-auto max-w-[1140px] px-6 py-9">
    <p class="soft"><a class="plain" href="/projects/{slug}">{slug}</a></p>
    <h1>A patch for {patch.version}</h1>
    <p class="sentence mt-2">
      {#if patch.made}It mends <strong>{count(patch.made, "name")}</strong> and touches nothing else.
      {:else}There is nothing to mend beyond doubt.{/if}
      {#if patch.diff}<a href={address} download="{slug}-{patch.version}.diff">Save it</a>, then
        <code class="text-[18px]">git apply</code> it on
        <code class="text-[18px]">{patch.commit.slice(0, 10)}</code>.{/if}
    </p>
    {#each patch.left as line (line)}<p class="soft mt-2">Left alone: {line}.</p>{/each}
    {#if patch.diff}
      <pre class="code mt-5">{#each patch.diff.split("\n") as line, index (index)}<span
            class="block min-h-[1.6em] {side(line)}">{line}</span
          >{/each}</pre>
    {/if}
  </main>
{/if}
