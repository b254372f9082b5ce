<script lang="ts">
  import { lastPart } from "../../lib/languages";
  import Html from "../../lib/ui/Html.svelte";
  import type { Member } from "./api";
  let {
    title,
    members,
    sortable = false,
  }: { title: string; members: Member[]; sortable?: boolean } = $props();

  let order = $state<"declared" | "name">("declared");
  const shown = $derived(
    order === "name" ? [...members].sort((a, b) => a.name.localeCompare(b.name)) : members,
  );
  const simple = (name: string) => name.replace(/\(.*/, "");
  /** Overloads stand together; the name is bold only once. */
  const isOverload = (index: number) => {
    const [before, own] = [shown[index - 1], shown[index]];
    return Boolean(before && own?.name.includes("(") && simple(before.name) === simple(own.name));
  };
</script>

{#if members.length}
  <section class="mt-10">
    <div class="flex items-baseline justify-between gap-4">
      <h2>{title}</h2>
      {#if sortable && members.length > 5}
        <button
          type="button"
          class="small text-accent cursor-pointer underline underline-offset-4"
          onclick={() => (order = order === "name" ? "declared" : "name")}
          >{order === "name" ? "As declared" : "By name"}</button
        >
      {/if}
    </div>
    <ul class="rows mt-1">
      {#each shown as member, index (member.path)}
        <li class="grid gap-x-6 sm:grid-cols-[200px_1fr]">
          <span class="min-w-0"
            ><a
              class="font-mono text-[14px] break-words {isOverload(index) ? '' : 'font-semibold'}"
              title={member.path}
              href={member.href}>{member.name}</a
            ><br /><span class="small soft"
              >{member.kind}{member.origin ? ` from ${lastPart(member.origin)}` : ""}</span
            ></span
          >
          <span class="min-w-0">
            {#if member.is_new}<span class="tag">new</span>{/if}
            {#if member.deprecated}<span class="tag stale">deprecated</span>{/if}
            {#if member.summary}<Html html={member.summary} class="font-serif text-[16px]" />{/if}
          </span>
        </li>
      {/each}
    </ul>
  </section>
{/if}
