<script lang="ts" module>
  import type { SafeHtml } from "../types";

  interface Policies {
    createPolicy(
      name: string,
      rules: { createHTML: (html: string) => string },
    ): {
      createHTML(html: string): string;
    };
  }
  const policies = (globalThis as { trustedTypes?: Policies }).trustedTypes;
  /** The only door through which a text becomes a part of a page (Trusted Types). */
  const door = policies?.createPolicy("zarbek-sanitised", { createHTML: (html) => html });
</script>

<script lang="ts">
  // The service has sanitised this; nothing else may put HTML into a page.
  let { html, class: kind = "prose" }: { html: SafeHtml; class?: string } = $props();
  const trusted = $derived(door ? door.createHTML(html) : html);
</script>

<div class={kind}>
  {@html trusted}
</div>
