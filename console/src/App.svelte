<script lang="ts">
  import type { Component } from "svelte";
  import { pending } from "./lib/http/pending.svelte";
  import { router } from "./lib/router.svelte";
  import Masthead from "./features/session/Masthead.svelte";

  type Loaded = { default: Component<Record<string, string>> };
  const routes: [RegExp, string[], () => Promise<unknown>][] = [
    [/^\/$/, [], () => import("./features/dashboard/DashboardPage.svelte")],
    [/^\/reference$/, [], () => import("./features/reference/ReferencePage.svelte")],
    [/^\/search$/, [], () => import("./features/search/SearchPage.svelte")],
    [/^\/projects$/, [], () => import("./features/projects/ProjectsPage.svelte")],
    [/^\/projects\/([^/]+)$/, ["slug"], () => import("./features/projects/ProjectPage.svelte")],
    [
      /^\/projects\/([^/]+)\/compare$/,
      ["slug"],
      () => import("./features/changes/ComparePage.svelte"),
    ],
    [
      /^\/projects\/([^/]+)\/impact$/,
      ["slug"],
      () => import("./features/changes/ImpactPage.svelte"),
    ],
    [/^\/projects\/([^/]+)\/patch$/, ["slug"], () => import("./features/reports/PatchPage.svelte")],
    [
      /^\/projects\/([^/]+)\/members$/,
      ["slug"],
      () => import("./features/people/MembersPage.svelte"),
    ],
    [/^\/account$/, [], () => import("./features/people/AccountPage.svelte")],
    [
      /^\/unsubscribe\/([\w-]+)$/,
      ["key"],
      () => import("./features/people/UnsubscribePage.svelte"),
    ],
    [/^\/audit$/, [], () => import("./features/people/AuditPage.svelte")],
    [/^\/health$/, [], () => import("./features/health/HealthPage.svelte")],
    [
      /^\/ref\/([^/]+)\/(.+)$/,
      ["slug", "rest"],
      () => import("./features/reference/SymbolPage.svelte"),
    ],
    [
      /^\/lineage\/([^/]+)\/([^/]+)\/(.+)$/,
      ["slug", "version", "path"],
      () => import("./features/datamodel/LineagePage.svelte"),
    ],
    [
      /^\/tables\/([^/]+)\/([^/]+)$/,
      ["slug", "version"],
      () => import("./features/datamodel/TablesPage.svelte"),
    ],
    [
      /^\/tested\/([^/]+)\/([^/]+)$/,
      ["slug", "version"],
      () => import("./features/examples/TestedPage.svelte"),
    ],
    [
      /^\/source\/([^/]+)\/(.+)$/,
      ["slug", "rest"],
      () => import("./features/sources/SourcePage.svelte"),
    ],
    [
      /^\/supplements\/([^/]+)$/,
      ["slug"],
      () => import("./features/supplements/WrittenPage.svelte"),
    ],
    [
      /^\/supplements\/([^/]+)\/([^/]+)$/,
      ["slug", "name"],
      () => import("./features/supplements/WritePage.svelte"),
    ],
    [
      /^\/guide\/([^/]+)\/(.+)$/,
      ["slug", "rest"],
      () => import("./features/reference/GuidePage.svelte"),
    ],
    [/^\/runs\/(\d+)$/, ["id"], () => import("./features/runs/RunPage.svelte")],
    [/^\/reports$/, [], () => import("./features/runs/RunsPage.svelte")],
    [/^\/reports\/(\d+)$/, ["id"], () => import("./features/reports/ReportPage.svelte")],
    [/^\/findings$/, [], () => import("./features/reports/FindingsPage.svelte")],
    [/^\/sign-in$/, [], () => import("./features/session/SignInPage.svelte")],
  ];

  const found = $derived.by(() => {
    for (const [pattern, names, load] of routes) {
      const match = pattern.exec(router.path);
      if (match) {
        const values = names.map((name, i) => [name, decodeURIComponent(match[i + 1] ?? "")]);
        // With its page: the one before must not see another's.
        return load().then((part) => ({ ...(part as Loaded), values: Object.fromEntries(values) }));
      }
    }
    return null;
  });
</script>

<a href="#main" class="sr-only focus:not-sr-only">Skip to the text</a>
<Masthead />
<p role="status" class="waiting small soft">{pending.slow ? "Loading …" : ""}</p>
<div id="main" tabindex="-1" class="outline-none">
  {#if found}
    {#await found then loaded}
      <loaded.default {...loaded.values} />
    {:catch}
      <main class="mx-auto max-w-[1140px] px-6 py-10">
        <h1>That did not work</h1>
        <p class="sentence mt-3">
          A part of the portal could not be loaded; it may have been renewed since you came.
          <a href={router.path} target="_self">Load it again</a>
        </p>
      </main>
    {/await}
  {:else}
    <main class="mx-auto max-w-[1140px] px-6 py-10">
      <h1>Not here</h1>
      <p class="sentence mt-3">
        There is no page at this address. <a href="/">Today</a> is a good place to start.
      </p>
    </main>
  {/if}
</div>
