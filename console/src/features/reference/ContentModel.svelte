<script lang="ts">
  import { layOut } from "./contentmodel";
  import type { Particle } from "./interface";
  let { content, name }: { content: Particle; name: string } = $props();
  const drawing = $derived(layOut(content, name));
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<figure class="mt-3 overflow-x-auto" tabindex="0" aria-label="Drawing of {name}">
  <svg
    width={drawing.width}
    height={drawing.height}
    viewBox="0 0 {drawing.width} {drawing.height}"
    role="group"
    aria-label="Content model of {name}: {drawing.told}"
    class="content-model"
  >
    {#each drawing.lines as line, index (index)}
      <path d={line.d} class={line.optional ? "optional" : ""} />
    {/each}
    {#each drawing.nodes as node, index (index)}
      {#if node.group}
        <text x={node.x} y={node.y + 4} class="group">{node.text}</text>
      {:else}
        {#if node.many}<rect
            x={node.x + 4}
            y={node.y - 10}
            width={node.width}
            height="28"
            rx="3"
            class={node.optional ? "optional" : ""}
          />{/if}
        <rect
          x={node.x}
          y={node.y - 14}
          width={node.width}
          height="28"
          rx="3"
          class={node.optional ? "optional" : ""}
        />
        {#if node.href}
          <a href={node.href}><text x={node.x + 10} y={node.y + 5}>{node.text}</text></a>
        {:else}<text x={node.x + 10} y={node.y + 5}>{node.text}</text>{/if}
      {/if}
      {#if node.times}<text x={node.x + (node.group ? 0 : 2)} y={node.y + 28} class="times"
          >{node.times}</text
        >{/if}
    {/each}
  </svg>
  <figcaption class="small soft">
    A dashed frame may be left out; a doubled one may repeat.
  </figcaption>
</figure>
