<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import type { Member } from "./api";
  let { title, members }: { title: string; members: Member[] } = $props();
</script>

{#if members.length}
  <section class="mt-10">
    <h2>{title}</h2>
    <ul class="rows mt-1">
      {#each members as member (member.path)}
        <li class="grid gap-x-6 sm:grid-cols-[200px_1fr]">
          <span class="min-w-0"
            ><a class="font-mono text-[14px] font-semibold break-words" href={member.href}
              >{member.name}</a
            ><br /><span class="small soft"
              >{member.kind}{member.origin ? ` from ${member.origin.split(".").at(-1)}` : ""}</span
            ></span
          >
          <span class="min-w-0">
            {#if member.deprecated}<span class="tag stale">deprecated</span>{/if}
            {#if member.summary}<Html html={member.summary} class="font-serif text-[16px]" />{/if}
          </span>
        </li>
      {/each}
    </ul>
  </section>
{/if}
