<script lang="ts">
  import { session } from "../session/session.svelte";
  import { count } from "../../lib/words";
  import type { SymbolPage } from "../reference/api";

  /** That some of a page's words stand elsewhere, and a way to see which. */
  let {
    page,
    isTold = $bindable(),
    language,
    speak,
  }: {
    page: SymbolPage;
    isTold: boolean;
    language: string;
    speak: (language: string) => void;
  } = $props();
  const called = (tag: string) => new Intl.DisplayNames([tag], { type: "language" }).of(tag) ?? tag;
  const others = $derived((page.supplements ?? []).filter((s) => !s.language).length);
</script>

{#if page.supplements?.length || session.user}
  <div class="small soft">
    {#if others}{count(others, "supplement")}
      {others === 1 ? "adds" : "add"} to what the source says.{/if}
    {#if page.supplements?.length}<button
        class="link"
        type="button"
        aria-pressed={isTold}
        onclick={() => (isTold = !isTold)}
        >{isTold ? "As readers see it" : "Whose words are these?"}</button
      >{/if}
    {#if session.user}
      <p>
        <a href="/supplements/{page.navigation.project}/new.md?for={encodeURIComponent(page.path)}"
          >Add to this page</a
        >
      </p>
    {/if}
    {#if page.languages?.length}
      <p class="mt-1">
        Also in {#each page.languages as other, i (other)}{i ? ", " : ""}<button
            class="link"
            type="button"
            lang={other}
            aria-pressed={other === language}
            onclick={() => speak(other === language ? "" : other)}>{called(other)}</button
          >{/each}{#if language}
          , or <button class="link" type="button" onclick={() => speak("")}
            >as it was written</button
          >{/if}
      </p>
    {/if}
  </div>
{/if}
