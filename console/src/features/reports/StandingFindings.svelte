<script lang="ts">
  import { count } from "../../lib/words";
  import { distinct, type FindingRow as Row, nameOf, placesOf } from "./api";
  import FindingRow from "./FindingRow.svelte";

  /** A group of findings, each to be chosen, alone or all together. */
  let {
    by,
    key,
    rows,
    total = placesOf(rows.map((row) => row.finding)),
    isChosen,
    onchoose,
  }: {
    by: string;
    key: string;
    rows: Row[];
    total?: number;
    isChosen: (row: Row) => boolean;
    onchoose: (rows: Row[], chosen: boolean) => void;
  } = $props();
  const every = $derived(rows.every(isChosen));
  const name = $derived(nameOf(by, key));
  const message = $derived(rows[0]!.finding.message);
  /** The message without the name that stands before it. */
  const about = $derived(
    by === "target" && message.startsWith(`${name} `) ? message.slice(name.length + 1) : "",
  );
  const waived = (row: Row) =>
    row.waived
      ? `Waived until ${row.waived.until} by ${row.waived.person}: ${row.waived.reason}`
      : "";
</script>

<section class="mt-7">
  {#if by}
    <h2 class="flex flex-wrap items-baseline gap-x-2">
      <input
        type="checkbox"
        checked={every}
        aria-label="Choose all about {name}"
        onchange={() => onchoose(rows, !every)}
      />
      {#if by === "target"}<code class="text-[14px] break-all">{name}</code>{:else}{name}{/if}
      <span class="soft font-normal"
        >{about}
        {count(total, "place")}{by === "target" && rows.length > 1
          ? `, in ${count(distinct(rows.map((r) => r.project)).length, "project")}`
          : ""}.</span
      >
    </h2>
  {/if}
  <ul class="rows">
    {#each rows as row (row.project + row.branch + row.finding.fingerprint)}
      <FindingRow
        finding={row.finding}
        project={row.project}
        version={row.version}
        state="{row.state}{row.branch ? `, ${row.branch}` : ''}"
        waived={waived(row)}
        chosen={isChosen(row)}
        onchoose={(on) => onchoose([row], on)}
      />
    {/each}
  </ul>
</section>
