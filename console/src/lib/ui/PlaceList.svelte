<script lang="ts">
  import type { Placement } from "../types";
  let { place }: { place: Placement } = $props();
</script>

<nav aria-label="Contents of {place.project}" class="place-list min-w-0">
  <p class="small soft mb-2 font-semibold">
    <a class="plain inline! border-0! p-0!" href="/projects/{place.project}">{place.project}</a>
    {place.version}
    {#if place.version === place.newest}<span class="text-accent ml-1">newest</span>{:else}<a
        class="ml-1 inline! border-0! p-0!"
        href="/projects/{place.project}">newest is {place.newest}</a
      >{/if}
  </p>
  {#each place.modules as crumb (crumb.path + crumb.depth)}
    <a
      class="plain {crumb.depth ? 'inner' : ''}"
      href={crumb.href}
      title={crumb.path}
      aria-current={crumb.current ? "page" : undefined}>{crumb.name}</a
    >
  {/each}
  {#if place.guides.length}
    <p class="small soft mt-6 mb-2 font-semibold">Guides</p>
    {#each place.guides as crumb (crumb.path)}
      <a
        class="plain {crumb.depth ? 'inner' : ''}"
        href={crumb.href}
        aria-current={crumb.current ? "page" : undefined}>{crumb.name}</a
      >
    {/each}
  {/if}
</nav>
