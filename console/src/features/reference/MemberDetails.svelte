<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import { router } from "../../lib/router.svelte";
  import { tick } from "svelte";
  import { type Detail, getDetails } from "./api";
  import Fields from "./Fields.svelte";
  import SignatureView from "./SignatureView.svelte";
  let { details, next }: { details: Detail[]; next: string | null } = $props();
  /** What came after the page was shown. */
  let later = $state.raw<Detail[]>([]);
  let problem = $state("");
  const told = $derived([...details, ...later].filter((d) => d.summary || d.kind === "field"));

  async function complete(from: string | null) {
    for (let address = from; address;) {
      const chunk = await getDetails(address);
      later = [...later, ...chunk.items];
      address = chunk.next;
      if (chunk.items.some((member) => member.name === router.hash)) {
        await tick();
        document.getElementById(router.hash)?.scrollIntoView();
      }
    }
  }
  $effect(() => {
    complete(next).catch((error) => (problem = error.message));
  });
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
    {#if problem}<p class="soft mt-6">The other members did not come: {problem}</p>{/if}
  </section>
{/if}
