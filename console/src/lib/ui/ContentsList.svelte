<script lang="ts">
  import type { Navigation } from "../types";
  import { figure, pagesOf } from "../words";
  let { navigation }: { navigation: Navigation } = $props();

  /** From now on the service answers with another edition. */
  function choose(name: string) {
    document.cookie = `zarbek-edition=${encodeURIComponent(name)}; path=/; SameSite=Lax`;
    location.reload();
  }
</script>

<nav aria-label="Contents of {navigation.project}" class="contents-list min-w-0">
  <p class="small soft mb-2 font-semibold">
    <a class="plain inline! border-0! p-0!" href="/projects/{navigation.project}"
      >{navigation.project}</a
    >
    {navigation.version}
    {#if navigation.version === navigation.newest}<span class="text-accent ml-1">newest</span
      >{:else}<a class="ml-1 inline! border-0! p-0!" href="/projects/{navigation.project}"
        >newest is {navigation.newest}</a
      >{/if}
  </p>
  {#if navigation.editions?.length}
    <p class="small mb-3">
      {#each navigation.editions as edition, i (edition.name)}{i ? " · " : ""}<button
          type="button"
          class="link"
          aria-pressed={edition.is_current}
          onclick={() => choose(edition.name)}>{edition.title}</button
        >{/each}
    </p>
  {/if}
  {#each navigation.modules as crumb (crumb.path + crumb.depth)}
    <a
      class="plain {crumb.depth ? 'inner' : ''}"
      href={crumb.href}
      title={crumb.path}
      aria-current={crumb.current ? "page" : undefined}>{crumb.name}</a
    >
  {/each}
  {#if navigation.more_modules}<a class="small" href="/projects/{navigation.project}"
      >{figure(navigation.more_modules)} more modules</a
    >{/if}
  {#if navigation.guides.length}
    <p class="small soft mt-6 mb-2 font-semibold">{pagesOf(navigation.guides)}</p>
    {#each navigation.guides as crumb (crumb.path)}
      <a
        class="plain {crumb.depth ? 'inner' : ''}"
        style:--depth={crumb.depth || 1}
        href={crumb.href}
        aria-current={crumb.current ? "page" : undefined}
        >{#if crumb.number}<span class="number">{crumb.number}</span>{/if}
        {crumb.name}</a
      >
    {/each}
    {#if navigation.more_guides}<a class="small" href="/projects/{navigation.project}"
        >{figure(navigation.more_guides)} more guides</a
      >{/if}
  {/if}
</nav>
