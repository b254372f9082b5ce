<script lang="ts">
  import { router } from "../../lib/router.svelte";
  import SearchBox from "../search/SearchBox.svelte";
  import { count } from "../../lib/words";
  import { preview } from "./preview.svelte";
  import { session } from "./session.svelte";
  import { theme } from "./theme.svelte";

  session.load().catch(() => undefined);
  const links = [
    ["/", "Today", /^\/$/],
    ["/reference", "Reference", /^\/(reference|ref|guide)/],
    ["/reports", "Reports", /^\/(reports|runs|findings)/],
    ["/health", "Health", /^\/health/],
    ["/projects", "Projects", /^\/projects/],
  ] as const;
</script>

<header class="border-b bg-sheet sticky top-0 z-20">
  <div
    class="mx-auto grid max-w-[1280px] grid-cols-[auto_1fr] items-center gap-x-6 gap-y-2 px-4 py-2.5 sm:px-7 min-[860px]:grid-cols-[auto_minmax(160px,440px)_1fr]"
  >
    <a href="/" aria-label="Today" class="plain flex items-center gap-2.5 font-semibold">
      <svg width="26" height="26" viewBox="0 0 26 26" fill="none" aria-hidden="true"
        ><path
          d="M4 6h13.5a3.5 3.5 0 0 1 2.6 5.8L11 21.2"
          stroke="var(--accent)"
          stroke-width="3"
          stroke-linecap="round"
        /><path
          d="M22 20H8.5a3.5 3.5 0 0 1-2.6-5.8L15 4.8"
          stroke="currentColor"
          stroke-width="3"
          stroke-linecap="round"
        /></svg
      >
      <span class="hidden sm:inline">{session.isPreview ? "Preview" : session.portal}</span>
    </a>
    <SearchBox />
    <nav
      aria-label="Portal"
      class="col-span-2 flex flex-wrap items-center gap-x-4 gap-y-1 whitespace-nowrap min-[860px]:col-span-1 min-[860px]:flex-nowrap min-[860px]:justify-end"
    >
      {#if session.isPreview && preview.shown}
        {@const shown = preview.shown}
        <a href="/projects/{shown.project}" class="plain soft">{shown.project}</a>
        {#if shown.problem}
          <strong class="dangling small min-w-0 truncate" role="status" title={shown.problem}
            >Not shown: {shown.problem}</strong
          >
        {:else}
          <span role="status"
            ><a href="/reports/{shown.run}" class="plain soft"
              >{shown.errors + shown.warnings
                ? `${count(shown.errors, "error")}, ${count(shown.warnings, "warning")}`
                : "Nothing is wrong"}</a
            ></span
          >
        {/if}
      {/if}
      {#each session.isPreview ? [] : links as [href, name, here] (href)}
        {@const current = here.test(router.path)}
        <a
          {href}
          class="plain {current ? 'font-semibold' : 'soft'}"
          aria-current={current ? "page" : undefined}>{name}</a
        >
      {/each}
      <button type="button" class="small soft cursor-pointer" onclick={() => theme.toggle()}
        >{theme.dark ? "Light" : "Dark"}</button
      >
      {#if session.user}
        <a href="/account" class="plain small soft">{session.user}</a>
        <button type="button" class="small soft cursor-pointer" onclick={() => session.signOut()}
          >Sign out</button
        >
      {:else if !session.isPreview}
        <a href="/sign-in" class="plain small soft">Sign in</a>
      {/if}
    </nav>
  </div>
</header>
