<script lang="ts">
  let { rule }: { rule: string } = $props();
  const family = $derived(rule.split("/")[0] ?? "");
</script>

<span class="tag {family === 'dangling' ? 'dangling' : 'stale'}" title={rule}>{family}</span>
