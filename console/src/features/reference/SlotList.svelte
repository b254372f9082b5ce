<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { Slot } from "./interface";
  let { slots, anchored = true }: { slots: Slot[]; anchored?: boolean } = $props();
</script>

<dl class="mt-1 grid gap-y-3">
  {#each slots as slot (slot.place + slot.name)}
    <div
      id={anchored ? slot.name : undefined}
      class="grid scroll-mt-20 gap-x-6 sm:grid-cols-[168px_1fr]"
    >
      <dt class="font-mono text-[14px] font-semibold break-words">
        {#if slot.href}<a class="plain" href={slot.href}>{slot.name}</a>{:else}{slot.name}{/if}
      </dt>
      <dd class="min-w-0">
        <p>
          <span class="mr-1 font-mono text-[13px]"><Pieces pieces={slot.type} /></span>
          {#if slot.required}<strong class="small mr-1">must be given</strong>{/if}
          {#if slot.deprecated}<span class="tag stale">deprecated</span>{/if}
        </p>
        {#if slot.words?.length || slot.value}
          <p class="small soft break-words">
            {slot.words?.join(", ")}{#if slot.value}{slot.words?.length ? "; " : ""}such as
              <code>{slot.value}</code>{/if}
          </p>
        {/if}
        {#if slot.html}<Html html={slot.html} class="prose field" />{/if}
      </dd>
    </div>
  {/each}
</dl>
