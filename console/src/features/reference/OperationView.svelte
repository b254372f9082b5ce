<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { Operation } from "./interface";
  import AnswerList from "./AnswerList.svelte";
  import MediaView from "./MediaView.svelte";
  import SlotList from "./SlotList.svelte";
  import TryIt from "./TryIt.svelte";
  let {
    operation,
    path,
    slug,
    version,
  }: { operation: Operation; path: string; slug: string; version: string } = $props();

  const PLACES = [
    ["path", "In the path"],
    ["query", "In the query"],
    ["querystring", "As the whole query"],
    ["header", "Headers"],
    ["cookie", "Cookies"],
  ] as const;
  const isMessage = $derived(["SEND", "RECEIVE"].includes(operation.method));
  const groups = $derived(
    PLACES.map(([place, title]) => ({
      title: isMessage && place === "path" ? "In the address" : title,
      slots: (operation.parameters ?? []).filter((p) => p.place === place),
    })).filter((g) => g.slots.length),
  );
  const isGood = (status: string) => /^[123]|answer/.test(status);
  const goesIn = $derived(operation.method === "SEND" ? "What is sent" : "What goes in");
</script>

{#if operation.servers?.length && !operation.incoming}
  <p class="small soft mt-3 break-words">
    {isMessage ? "Goes over" : "Served at"}
    {#each operation.servers as server, i (server)}{i ? ", " : ""}<code>{server}</code>{/each}
  </p>
{:else if operation.incoming}
  <p class="soft mt-3">The service asks this of you: you answer it.</p>
{/if}
{#if operation.security}
  <section class="mt-8">
    <h2>Who may ask</h2>
    {#if !operation.security.length || operation.security.some((needs) => !needs.length)}
      <p class="soft">Anyone.</p>
    {/if}
    {#each operation.security.filter((needs) => needs.length) as needs, index (index)}
      <p>
        {#if index}<span class="soft">Or: </span>{/if}
        {#each needs as need, at (need.scheme)}
          {#if at}<span class="soft">and</span>{/if}
          {need.words}
          {#if need.scopes?.length}<span class="soft">With {need.scopes.join(", ")}.</span>{/if}
          {#if need.html}<Html html={need.html} class="soft inline" />{/if}
        {/each}
      </p>
    {/each}
  </section>
{/if}

{#if groups.length || operation.body}
  <section class="mt-10">
    <h2>{goesIn}</h2>
    {#each groups as group (group.title)}
      <h3 class="small soft mt-3 font-semibold">{group.title}</h3>
      <SlotList slots={group.slots} />
    {/each}
    {#if operation.body}
      <h3 id="request" class="small soft mt-5 scroll-mt-20 font-semibold">
        {isMessage ? "Message" : "Body"}{operation.body.required ? ", must be sent" : ""}
      </h3>
      {#if operation.body.html}<Html html={operation.body.html} class="prose field mt-1" />{/if}
      <MediaView media={operation.body.media ?? []} />
    {/if}
  </section>
{/if}

<AnswerList
  title="What comes out"
  answers={(operation.answers ?? []).filter((a) => isGood(a.status))}
/>
<AnswerList
  title="What can go wrong"
  answers={(operation.answers ?? []).filter((a) => !isGood(a.status))}
/>

{#if operation.callbacks?.length}
  <section class="mt-10">
    <h2>What is called back</h2>
    <ul>
      {#each operation.callbacks as callback (callback.href)}
        <li><a class="font-mono text-[14px]" href={callback.href}>{callback.name}</a></li>
      {/each}
    </ul>
  </section>
{/if}
{#if operation.snippets?.length || operation.callable?.length}
  {#key path + version}<TryIt {operation} {path} {slug} {version} />{/key}
{/if}
