<script lang="ts">
  let {
    left,
    right,
    leftTitle,
    rightTitle,
    prose = false,
  }: {
    left: string;
    right: string;
    leftTitle: string;
    rightTitle: string;
    prose?: boolean;
  } = $props();
  const words = (text: string) => text.split(/(\s+|[(),:=]|->)/).filter(Boolean);
  /** The words of a text, marked where the other has not got them. */
  const marked = (text: string, other: string) => {
    const known = new Set(words(other));
    return words(text).map((word) => ({ word, own: Boolean(word.trim()) && !known.has(word) }));
  };
</script>

<div class="my-2 grid gap-3 sm:grid-cols-2">
  {#each [[leftTitle, left, right, "line-through decoration-1"], [rightTitle, right, left, "underline decoration-2 underline-offset-4 font-semibold"]] as const as [title, text, other, mark] (title)}
    <div class="min-w-0">
      <p class="small soft">{title}</p>
      <p
        class="bg-code rounded-sm px-3 py-2 break-words {prose
          ? 'font-serif text-[16px]'
          : 'font-mono text-[13.5px]'}"
      >
        {#each marked(text, other) as part, index (index)}{#if part.own}<span class={mark}
              >{part.word}</span
            >{:else}{part.word}{/if}{/each}{#if !text}<span class="soft">nothing</span>{/if}
      </p>
    </div>
  {/each}
</div>
