<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { Answer } from "./interface";
  import MediaView from "./MediaView.svelte";
  import SlotList from "./SlotList.svelte";
  let { title, answers }: { title: string; answers: Answer[] } = $props();
</script>

{#if answers.length}
  <section class="mt-10">
    <h2>{title}</h2>
    {#each answers as answer (answer.status)}
      <article id={answer.status} class="mt-4 scroll-mt-20 border-t pt-3">
        <h3>
          <span class="font-mono text-[17px] font-semibold">{answer.status}</span>
          {#if answer.words}<span class="soft ml-1">{answer.words}</span>{/if}
          {#if answer.href}<a class="small ml-2" href={answer.href}>shared answer</a>{/if}
        </h3>
        {#if answer.html}<Html html={answer.html} class="prose field mt-1" />{/if}
        {#if answer.headers?.length}
          <h4 class="small soft mt-3 font-semibold">Its headers</h4>
          <SlotList slots={answer.headers} anchored={false} />
        {/if}
        {#if answer.media?.length}<MediaView media={answer.media} />{/if}
        {#if answer.followups?.length}
          <h4 class="small soft mt-3 font-semibold">What can be done next</h4>
          <ul>
            {#each answer.followups as next (next.name)}
              <li>
                {#if next.href}<a class="font-mono text-[14px]" href={next.href}>{next.target}</a
                  >{:else}<code>{next.target}</code>{/if}
                {#if next.html}<Html html={next.html} class="inline" />{/if}
                {#each Object.entries(next.values ?? {}) as [name, value] (name)}
                  <span class="small soft">with <code>{name}</code> from <code>{value}</code></span>
                {/each}
              </li>
            {/each}
          </ul>
        {/if}
      </article>
    {/each}
  </section>
{/if}
