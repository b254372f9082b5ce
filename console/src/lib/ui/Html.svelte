<script lang="ts">
  // The service has sanitised this; nothing else may put HTML into a page.
  let { html, class: kind = "prose" }: { html: string; class?: string } = $props();
</script>

<div class={kind}>
  <!-- eslint-disable-next-line svelte/no-at-html-tags -->
  {@html html}
</div>
