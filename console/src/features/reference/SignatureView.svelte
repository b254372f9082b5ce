<script lang="ts">
  import Pieces from "../../lib/ui/Pieces.svelte";
  import type { Parameter, Signature } from "./api";
  let { name, signature, flags }: { name: string; signature: Signature; flags: string[] } =
    $props();

  const MARK: Record<string, string> = { variadic: "*", keywords: "**" };
  const width = (p: Parameter) =>
    p.name.length +
    (p.type ?? []).reduce((n, t) => n + t.text.length, 2) +
    (p.default?.length ?? 0) +
    2;
  const long = $derived(signature.parameters.reduce((n, p) => n + width(p), name.length) > 62);
  /** The bare star before keyword-only parameters, and the slash after positional-only ones. */
  const before = (index: number) => {
    const kinds = signature.parameters.map((p) => p.kind);
    return kinds[index] === "keyword-only" &&
      !kinds.includes("variadic") &&
      kinds.indexOf("keyword-only") === index
      ? "*, "
      : "";
  };
  const after = (index: number) => {
    const kinds = signature.parameters.map((p) => p.kind);
    return kinds[index] === "positional-only" && kinds.lastIndexOf("positional-only") === index
      ? ", /"
      : "";
  };
</script>

{#if signature.text?.length}
  <pre
    class="signature bg-code border-accent overflow-x-auto border-l-[3px] px-4 py-3.5 text-[14.5px] leading-[1.65]"><Pieces
      pieces={signature.text}
    /></pre>
{:else}
  <pre
    class="signature bg-code border-accent overflow-x-auto border-l-[3px] px-4 py-3.5 text-[14.5px] leading-[1.65]">{#if flags.includes("async")}<span
        class="soft"
        >async </span>{/if}<strong>{name}</strong
    >({#each signature.parameters as p, index (index)}{long ? "\n    " : ""}{before(index)}{MARK[
        p.kind
      ] ?? ""}{p.name}{#if p.type?.length}: <Pieces pieces={p.type} />{/if}{#if p.default}{p.type
          ?.length
          ? " = "
          : "="}{p.default}{/if}{after(index)}{long || index < signature.parameters.length - 1
        ? ","
        : ""}{!long && index < signature.parameters.length - 1 ? " " : ""}{/each}{long
      ? "\n"
      : ""}){#if signature.returns.length}&#32;-&gt;&#32;<Pieces
        pieces={signature.returns}
      />{/if}</pre>
{/if}
