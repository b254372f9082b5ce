<script lang="ts">
  import { baseWord, languageName } from "../../lib/languages";
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { SymbolPage } from "./api";
  import SignatureView from "./SignatureView.svelte";

  /** What an element is: its name, kind and declaration. */
  let { page }: { page: SymbolPage } = $props();
  /** What the signature says already, or what only the resolver needs. */
  const UNSAID = [
    "bare",
    "exception",
    "untold",
    "open",
    "scoped",
    "unscoped",
    "implementation",
    "component",
    "lent",
    "internal",
    "noexcept",
    "constexpr",
    "inline",
    "override",
    "request",
    "response",
    "inferred",
    "required",
    "primary",
    "foreign",
    "unique",
  ];
  const told = $derived(page.signatures.some((s) => s.text?.length));
</script>

<h1 class="break-words {page.kind === 'topic' || page.example ? '' : 'font-mono!'}">
  {page.example?.title ?? page.name}
</h1>
<p class="soft mt-1">
  {[
    ...page.flags.filter((f) => !UNSAID.includes(f) && f !== page.kind),
    page.flags.includes("dataclass") ? "" : page.kind === "api" ? "API" : page.kind,
  ]
    .filter(Boolean)
    .join(" ")}{#if page.parent}&#32;in <a href={page.parent.href}>{page.parent.path}</a>{/if}
  {#if page.example}<code class="text-[14px]">{page.path}</code>{/if}
  <span class="tag ml-2">{languageName(page.language)}</span>
  {#if page.is_new}<span class="tag ml-1">new in {page.navigation.version}</span>{/if}
</p>
<div class="mt-6 grid gap-2 empty:hidden">
  {#each page.decorators as decorator (decorator)}<code class="small soft">{decorator}</code>{/each}
  {#each page.signatures as signature, index (index)}
    <SignatureView name={page.name} {signature} flags={page.flags} />
  {/each}
  {#if (page.type.length || page.value) && !told}
    <pre
      class="signature bg-code border-accent overflow-x-auto border-l-[3px] px-4 py-3.5 text-[14.5px]"><strong
        >{page.name}</strong
      >{#if page.type.length}: <Pieces pieces={page.type} />{/if}{page.value
        ? ` = ${page.value}`
        : ""}</pre>
  {/if}
</div>
{#if page.bases.length && (!told || ["rust", "go"].includes(page.language))}
  <p class="mt-3 font-mono text-[13px]">
    <span class="soft font-sans">{baseWord(page.language, page.kind)}</span>
    {#each page.bases as base, i (i)}{i ? ", " : ""}<Pieces pieces={base} />{/each}
  </p>
{/if}
