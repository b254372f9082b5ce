<script lang="ts">
  import { lastPart } from "../languages";
  import type { Finding } from "../types";
  let { findings, project }: { findings: Finding[]; project: string } = $props();

  const WIDE = "(min-width: 1100px)";
  const GAP = 10;

  /** Puts each note on the line of its mention; on narrow screens under its passage. */
  function place(column: HTMLElement) {
    const article = column.closest("[data-noted]") as HTMLElement;
    const wide = matchMedia(WIDE);
    function arrange() {
      article.querySelectorAll("[data-folded]").forEach((node) => node.remove());
      let free = 0;
      for (const note of column.querySelectorAll<HTMLElement>("[data-note]")) {
        const mark = article.querySelector(`[data-finding="${note.dataset.note}"]`);
        if (!wide.matches) {
          fold(note, mark);
          continue;
        }
        const wanted = mark
          ? mark.getBoundingClientRect().top - column.getBoundingClientRect().top
          : free;
        const top = Math.max(wanted, free);
        note.style.top = `${top}px`;
        note.hidden = false;
        free = top + note.offsetHeight + GAP;
      }
      column.style.minHeight = wide.matches ? `${free}px` : "";
    }
    function fold(note: HTMLElement, mark: Element | null) {
      const passage = mark?.closest("p, li, pre, dd, td, .signature");
      note.hidden = Boolean(passage);
      if (!passage) return;
      const copy = note.cloneNode(true) as HTMLElement;
      copy.removeAttribute("data-note");
      copy.dataset.folded = "";
      copy.hidden = false;
      copy.style.top = "";
      let last: Element = passage;
      while (last.nextElementSibling?.hasAttribute("data-folded")) last = last.nextElementSibling;
      last.after(copy);
    }
    const watcher = new ResizeObserver(arrange);
    watcher.observe(article);
    document.fonts.ready.then(arrange);
    return () => watcher.disconnect();
  }

  /** The last part, with its parameters where it has some. */
  const last = (name: string) => {
    const head = name.replace(/\(.*/s, "");
    return lastPart(head) + name.slice(head.length);
  };
  /** The message with short names: the margin is narrow, and the reader knows where they are. */
  function short(finding: Finding) {
    const name = finding.target?.split("/").slice(1).join("/") ?? "";
    return /^(dangling\/symbol|stale\/)/.test(finding.rule) && name.includes(".")
      ? finding.message.replaceAll(name, last(name))
      : finding.message;
  }
  const family = (finding: Finding) => (finding.rule.startsWith("dangling") ? "dangling" : "stale");
  const word = (finding: Finding) =>
    ({ dangling: "Dangling", stale: "Stale" })[finding.rule.split("/")[0] ?? ""] ?? "Note";
</script>

<div class="relative" {@attach place}>
  {#each findings as finding (finding.fingerprint)}
    <aside
      data-note={finding.fingerprint}
      aria-label="{word(finding)}: {finding.text ?? finding.rule}"
      class="small soft w-full border-t-2 pt-2 wrap-anywhere min-[1100px]:absolute {family(
        finding,
      ) === 'dangling'
        ? 'border-dangling!'
        : 'border-dashed border-stale!'}"
    >
      <strong class={family(finding)}>{word(finding)}</strong>
      <span title={finding.target}>{short(finding)}</span>
      {#if finding.suggestion}
        {finding.certain ? "Use " : "Likely "}<code title={finding.suggestion}
          >{last(finding.suggestion)}</code
        >{finding.why ? `, ${finding.why}` : ""}.
      {/if}
      <a href="/findings?project={project}&rule={encodeURIComponent(finding.rule)}"
        >All of this kind</a
      >
    </aside>
  {/each}
</div>
