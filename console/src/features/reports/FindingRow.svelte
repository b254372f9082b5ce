<script lang="ts">
  import { lastPart, shortPath } from "../../lib/languages";
  import type { Finding } from "../../lib/types";
  import FamilyTag from "../../lib/ui/FamilyTag.svelte";
  import FindingText from "../../lib/ui/FindingText.svelte";
  import { count } from "../../lib/words";
  import SideBySide from "../../lib/ui/SideBySide.svelte";
  let {
    finding,
    project,
    version,
    state = "",
    waived = "",
    chosen,
    onchoose,
  }: {
    finding: Finding;
    project: string;
    version: string;
    state?: string;
    waived?: string;
    chosen?: boolean;
    onchoose?: (chosen: boolean) => void;
  } = $props();
  /** The last part of what to write, or all of it where that alone says nothing new. */
  const mend = $derived(
    lastPart(finding.suggestion ?? "") === lastPart(finding.text ?? "")
      ? finding.suggestion
      : lastPart(finding.suggestion ?? ""),
  );
  const base = $derived(finding.subject_kind === "page" ? "guide" : "ref");
</script>

<li
  class="grid gap-x-6 gap-y-1 {onchoose
    ? 'min-[860px]:grid-cols-[90px_minmax(0,1fr)_280px_70px]'
    : 'min-[860px]:grid-cols-[66px_minmax(0,1fr)_280px_70px]'}"
>
  <span class="flex items-start gap-2"
    >{#if onchoose}<input
        type="checkbox"
        class="mt-1"
        checked={chosen}
        aria-label="Choose this finding: {finding.message}"
        onchange={(event) => onchoose(event.currentTarget.checked)}
      />{/if}<FamilyTag rule={finding.rule} /></span
  >
  <span class="min-w-0">
    <FindingText {finding} />
    <span class="small soft block break-words"
      >{finding.file}, line {finding.line}{(finding.places ?? 1) > 1
        ? ` and ${count((finding.places ?? 1) - 1, "more place")}`
        : ""}{#if finding.subject}, in <a href="/{base}/{project}/{version}/{finding.subject}"
          ><code>{shortPath(finding.subject)}</code></a
        >{/if}{finding.owner ? `, owned by ${finding.owner}` : ""}</span
    >
  </span>
  <span class="min-w-0">
    {#if finding.suggestion}
      {finding.certain ? "Use" : "Likely"}
      <code class="break-words">{mend}</code>
      <span class="small soft block">{finding.why}</span>
    {:else}
      <span class="small soft block">{finding.message}</span>
    {/if}
  </span>
  <span class="small soft">{state}</span>
  {#if waived}<span class="small soft min-[860px]:col-start-2 min-[860px]:col-end-4">{waived}</span
    >{/if}
  {#if finding.was || finding.now}
    <div class="min-[860px]:col-start-2 min-[860px]:col-end-5">
      <SideBySide
        left={finding.was ?? ""}
        right={finding.now ?? ""}
        leftTitle="When it was written"
        rightTitle="Now"
        prose={!/[(=:]/.test(finding.was ?? "")}
      />
    </div>
  {/if}
</li>
