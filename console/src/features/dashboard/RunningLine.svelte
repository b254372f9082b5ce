<script lang="ts">
  import type { Dashboard } from "./api";
  let { run }: { run: Dashboard["running"][number] } = $props();
</script>

<a class="plain block" href="/runs/{run.id}"
  >{run.project}
  {run.version}
  <span class="small soft">{run.stage}{run.total ? `, ${run.done} of ${run.total}` : ""}</span></a
>
<progress
  class="h-1 w-full"
  max={run.total || 1}
  value={run.total ? run.done : 0}
  aria-label="Progress"
></progress>
