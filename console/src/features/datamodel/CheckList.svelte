<script lang="ts">
  import { KEY_WORDS, type Check, type TableKey } from "./types";
  import { ago } from "../../lib/words";
  import Pieces from "../../lib/ui/Pieces.svelte";

  /** What holds for every row: checks with their last verdicts, then keys. */
  let { checks, keys }: { checks: Check[]; keys: TableKey[] } = $props();
  const VERDICTS: Record<string, string> = {
    passed: "mended",
    failed: "dangling",
    skipped: "stale",
  };
</script>

{#if checks.length || keys.length}
  <section class="mt-10">
    <h2>What holds for every row</h2>
    <ul class="rows mt-1">
      {#each checks as check, n (n)}
        <li>
          <code class="text-[14px]">{check.text}</code>
          {#if check.verdict}<span class="tag {VERDICTS[check.verdict] ?? ''} ml-2"
              >{check.verdict}</span
            >{/if}
          <span class="small soft block"
            >{[
              check.name,
              check.is_enforced ? "the database refuses what breaks it" : "",
              check.told,
              check.looked_at ? `looked at ${ago(check.looked_at)}` : "",
            ]
              .filter(Boolean)
              .join("; ")}</span
          >
        </li>
      {/each}
      {#each keys as key, n (n)}
        <li>
          <code class="text-[14px]">{key.columns.join(", ")}</code>
          <span class="small soft">{KEY_WORDS[key.kind]}</span>
          {#if key.target?.length}<span class="font-mono text-[14px]"
              ><Pieces pieces={key.target} /></span
            >{#if key.there?.length}<code class="soft text-[14px]"
                >&#32;({key.there.join(", ")})</code
              >{/if}{/if}
          {#if key.name}<span class="small soft block">{key.name}</span>{/if}
        </li>
      {/each}
    </ul>
  </section>
{/if}
