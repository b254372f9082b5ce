<script lang="ts">
  import { ListLoader } from "../../lib/loader.svelte";
  import MoreOf from "../../lib/ui/MoreOf.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { count } from "../../lib/words";
  import { type FindingGroup, type FindingRow, listFindings, listOfGroup, nameOf } from "./api";
  import StandingFindings from "./StandingFindings.svelte";

  /** A group of findings of a list that is too long to be shown at once: its places come when they are asked for. */
  let {
    by,
    group,
    query,
    isChosen,
    onchoose,
  }: {
    by: string;
    group: FindingGroup;
    query: string;
    isChosen: (row: FindingRow) => boolean;
    onchoose: (rows: FindingRow[], chosen: boolean) => void;
  } = $props();
  const loader = new ListLoader<FindingRow>();
  const name = $derived(nameOf(by, group.key));
  const open = () =>
    loader.load(group.key, () => listFindings(listOfGroup(by, group.key, query), 50));
</script>

{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  <StandingFindings
    {by}
    key={group.key}
    rows={loader.data.items}
    total={group.places}
    {isChosen}
    {onchoose}
  />
  <MoreOf {loader} what="places" />
{:else}
  <section class="mt-7">
    <h2 class="flex flex-wrap items-baseline gap-x-2">
      {#if by === "target"}<code class="text-[14px] break-all">{name}</code>{:else}{name}{/if}
      <span class="soft font-normal">{count(group.places, "place")}.</span>
      <button
        type="button"
        class="text-accent small cursor-pointer font-normal underline underline-offset-4"
        onclick={open}>Show {group.places === 1 ? "it" : "them"}</button
      >
    </h2>
    {#if by === "target"}<p class="soft small">{group.message}</p>{/if}
  </section>
{/if}
