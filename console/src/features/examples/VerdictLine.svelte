<script lang="ts">
  import { ago } from "../../lib/words";
  import { VERDICTS, type Verdict } from "./types";

  /** How an example went when it was run last. */
  let { verdict }: { verdict: Verdict } = $props();
  const [word, look] = $derived(VERDICTS[verdict.state ?? "not-run"] ?? ["", ""]);
  const took = $derived(
    verdict.seconds == null
      ? ""
      : verdict.seconds < 0.0005
        ? "in less than 1 ms"
        : verdict.seconds < 1
          ? `in ${Math.round(verdict.seconds * 1000)} ms`
          : `in ${verdict.seconds.toFixed(1)} s`,
  );
  const told = $derived([verdict.at ? ago(verdict.at) : "", took, verdict.told ?? ""]);
</script>

<span class="small soft"
  ><span class="tag {look}">{word}</span>
  {told.filter(Boolean).join(", ")}</span
>
