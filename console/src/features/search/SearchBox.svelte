<script lang="ts">
  import { router } from "../../lib/router.svelte";
  import HitLine from "./HitLine.svelte";
  import { SearchState } from "./search.svelte";

  const finder = new SearchState();
  let box: HTMLInputElement;
  let open = $state(false);

  function shortcut(event: KeyboardEvent) {
    const target = event.target as HTMLElement;
    if (event.key !== "/" || /INPUT|TEXTAREA|SELECT/.test(target.tagName)) return;
    event.preventDefault();
    box.focus();
    box.select();
  }
  function keydown(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      finder.move(event.key === "ArrowDown" ? 1 : -1);
    } else if (event.key === "Escape") {
      open = false;
      box.blur();
    } else if (event.key === "Enter" && finder.query.trim()) {
      const hit = open && finder.answered === finder.query ? finder.hits[finder.active] : undefined;
      router.go(hit?.href ?? `/search?q=${encodeURIComponent(finder.query)}`);
      open = false;
      box.blur();
    }
  }
</script>

<svelte:window onkeydown={shortcut} />
<div class="relative min-w-0">
  <input
    bind:this={box}
    class="w-full rounded border bg-paper px-3 py-1.5 pr-10"
    type="search"
    role="combobox"
    aria-label="Look up a name or words"
    aria-expanded={open && finder.hits.length > 0}
    aria-controls="hits"
    aria-activedescendant={open && finder.hits.length ? `hit-${finder.active}` : undefined}
    placeholder="Look up a name, a shape, or words"
    autocomplete="off"
    spellcheck="false"
    oninput={(event) => {
      open = true;
      finder.type(event.currentTarget.value);
    }}
    onfocus={() => (open = true)}
    onblur={() => setTimeout(() => (open = false), 120)}
    onkeydown={keydown}
  />
  <kbd
    class="soft small pointer-events-none absolute top-1/2 right-3 hidden -translate-y-1/2 rounded-sm border px-1.5 sm:block"
    aria-hidden="true">/</kbd
  >
  <ul
    id="hits"
    role="listbox"
    aria-label="Hits"
    class="bg-sheet absolute inset-x-0 top-full z-30 mt-1 rounded border py-1 {open &&
    finder.answered
      ? ''
      : 'hidden'}"
  >
    {#each finder.hits as hit, index (hit.href)}
      <li id="hit-{index}" role="option" aria-selected={index === finder.active}>
        <a
          class="plain block px-3 py-1.5 {index === finder.active ? 'bg-code' : ''}"
          href={hit.href}
          tabindex="-1"><HitLine {hit} /></a
        >
      </li>
    {:else}
      <li class="soft px-3 py-1.5" role="option" aria-selected="false">
        Nothing is called that or speaks of it.
      </li>
    {/each}
  </ul>
</div>
