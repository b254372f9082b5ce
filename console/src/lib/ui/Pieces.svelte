<script lang="ts">
  import type { Piece } from "../types";
  let { pieces }: { pieces: Piece[] } = $props();
</script>

{#each pieces as piece, index (index)}{#if piece.href}<a
      href={piece.href}
      title={piece.full}
      class={piece.state ? `mention ${piece.state}` : ""}
      data-finding={piece.finding || undefined}>{piece.text}</a
    >{:else if piece.state}<span
      class="mention {piece.state}"
      data-finding={piece.finding || undefined}>{piece.text}</span
    >{:else}{piece.text}{/if}{/each}
