<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { Detail } from "./api";
  import Fields from "./Fields.svelte";
  import SignatureView from "./SignatureView.svelte";
  let { details }: { details: Detail[] } = $props();
  const told = $derived(details.filter((d) => d.summary || d.kind === "field"));
</script>

{#if told.length}
  <section class="mt-12">
    <h2>In full</h2>
    {#each told as member (member.path)}
      <article id={member.name} class="mt-6 scroll-mt-20 border-t pt-4">
        <h3 class="font-mono text-[17px] font-semibold">
          <a class="plain" href={member.href}>{member.name}</a>
          {#if member.deprecated}<span class="tag stale">deprecated</span>{/if}
        </h3>
        <div class="mt-2 grid gap-2">
          {#each member.signatures ?? [] as signature, index (index)}
            <SignatureView name={member.name} {signature} flags={member.flags ?? []} />
          {/each}
          {#if member.type?.length}
            <pre
              class="signature bg-code border-accent border-l-[3px] px-4 py-2 text-[14.5px]"><strong
                >{member.name}</strong
              >: <Pieces pieces={member.type} /></pre>
          {/if}
        </div>
        <div class="mt-3 grid gap-3">
          {#if member.summary}<Html html={member.summary} />{/if}
          {#if member.body}<Html html={member.body} />{/if}
        </div>
        <Fields title="What goes in" fields={member.parameters ?? []} level={4} />
        <Fields title="What comes out" fields={member.returns ?? []} level={4} />
        <Fields title="What can go wrong" fields={member.raises ?? []} level={4} />
      </article>
    {/each}
  </section>
{/if}
