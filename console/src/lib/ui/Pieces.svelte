<script lang="ts">
  import type { Piece } from "../types";
  let { pieces }: { pieces: Piece[] } = $props();

  /** A name that is copied alone is copied in full. */
  function copy(event: ClipboardEvent, piece: Piece) {
    if (piece.full && window.getSelection()?.toString().trim() === piece.text) {
      event.clipboardData?.setData("text/plain", piece.full);
      event.preventDefault();
    }
  }
</script>

{#each pieces as piece, index (index)}{#if piece.href}<a
      href={piece.href}
      title={piece.full}
      oncopy={(event) => copy(event, piece)}
      class={piece.state ? `mention ${piece.state}` : ""}
      data-finding={piece.finding || undefined}>{piece.text}</a
    >{:else if piece.state}<span
      class="mention {piece.state}"
      data-finding={piece.finding || undefined}>{piece.text}</span
    >{:else}{piece.text}{/if}{/each}
