<script lang="ts">
  import type { Way } from "./types";

  /** Tables or columns that data come from or go to. own: the project at hand, which goes without saying. */
  let { ways, own, none = "" }: { ways: Way[]; own: string; none?: string } = $props();
</script>

{#if ways.length}
  <ul>
    {#each ways as way (way.project + way.path)}
      <li class="break-words">
        {#if way.href}<a
            class="font-mono text-[13.5px] {way.state ? `mention ${way.state}` : ''}"
            href={way.href}>{way.path}</a
          >{:else}<span class="font-mono text-[13.5px] {way.state ? `mention ${way.state}` : ''}"
            >{way.path}</span
          >{/if}
        <span class="small soft"
          >{[
            way.how,
            way.project !== own ? `in ${way.project}` : "",
            way.state === "dangling" ? "which is not there" : "",
          ]
            .filter(Boolean)
            .join(", ")}</span
        >
      </li>
    {/each}
  </ul>
{:else if none}<p class="small soft">{none}</p>{/if}
