<script lang="ts">
  import type { Problem } from "../http/client";
  let { problem }: { problem: Problem } = $props();
</script>

<main class="mx-auto max-w-[1140px] px-6 py-10">
  <h1>{problem.status === 404 ? "Not here" : "That did not work"}</h1>
  <p class="sentence mt-3">{problem.message}</p>
  {#if problem.elsewhere}<p class="mt-4"><a href={problem.elsewhere}>Read it there</a></p>{/if}
</main>
