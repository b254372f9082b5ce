<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { Field } from "./api";
  let { title, fields, level = 2 }: { title: string; fields: Field[]; level?: 2 | 4 } = $props();
</script>

{#if fields.length}
  <section class={level === 2 ? "mt-10" : "mt-5"}>
    <svelte:element this={`h${level}`} class="font-semibold">{title}</svelte:element>
    <dl class="mt-2 grid gap-y-3">
      {#each fields as field, index (index)}
        <div class="grid gap-x-6 sm:grid-cols-[144px_1fr]">
          <dt class="font-mono text-[14px] font-semibold break-words">
            <Pieces pieces={field.name ?? []} />
          </dt>
          <dd class="min-w-0">
            {#if field.type?.length || field.has_default || field.optional}
              <p class="soft font-mono text-[13px]">
                <Pieces pieces={field.type ?? []} />
                {#if field.has_default}<span>{field.default} if left out</span
                  >{:else if field.optional}<span>optional</span>{/if}
              </p>
            {/if}
            {#if field.html}<Html html={field.html} class="prose field" />{/if}
          </dd>
        </div>
      {/each}
    </dl>
  </section>
{/if}
