<script lang="ts">
  import { encodePath } from "../../lib/http/client";
  import { count, join } from "../../lib/words";
  import { listReferrers, type Referrer } from "./api";
  let {
    slug,
    path,
    referrers,
  }: { slug: string; path: string; referrers: { total: number; projects: string[] } } = $props();
  let rows = $state.raw<Referrer[]>();

  async function show() {
    rows = rows ? undefined : (await listReferrers(slug, path)).filter((r) => r.path !== path);
  }
  const href = (r: Referrer) =>
    `/${r.kind === "page" ? "guide" : "ref"}/${r.project}/${r.version}/${encodePath(r.path)}`;
</script>

{#if referrers.total}
  <p class="small soft">
    <strong class="text-ink">{count(referrers.total, "referrer")}</strong> in {join(
      referrers.projects,
    )}.
    <button
      type="button"
      class="text-accent cursor-pointer underline underline-offset-4"
      aria-expanded={Boolean(rows)}
      onclick={show}>{rows ? "Hide them" : "Who would a change break?"}</button
    >
  </p>
  {#if rows}
    <ul class="small mt-1 grid gap-1">
      {#each rows as row (row.project + row.path)}
        <li class="break-words">
          <a href={href(row)}>{row.path}</a> <span class="soft">{row.project}</span>
        </li>
      {/each}
    </ul>
  {/if}
  <p class="small mt-1">
    <a href="/projects/{slug}/impact?name={encodeURIComponent(path)}">Every place, by owner</a>
  </p>
{:else}
  <p class="small soft">Nothing in the portal refers to it.</p>
{/if}
